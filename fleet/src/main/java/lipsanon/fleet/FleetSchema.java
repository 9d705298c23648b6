package lipsanon.fleet;

import java.util.List;

/**
 * The tables of a fleet, version 1. Each row has {@code task} (the key of the snapshot), {@code
 * file}, {@code service}, {@code build}, {@code host}, {@code taken} and {@code day}, then:
 *
 * <pre>
 * snapshots  status ('ok', 'failed'), problem, runtime, format, file_bytes, objects, retained_bytes,
 *            unretained_bytes, partial, millis, cpu_millis, row_bytes, analysed, version
 * types      type, own, count, shallow_bytes, retained_bytes
 * keepers    id, type, held_by, retained_bytes
 * holders    what, held_by, inside, own, count, bytes, frees_bytes, example
 * findings   what, held_by, count, bytes, confidence, sentence
 * </pre>
 *
 * Bytes are bytes, times UTC. The folder is {@code TABLE/day=DAY/service=SERVICE/*.parquet}.
 * Columns may be added in later versions; none is renamed or taken away.
 */
public enum FleetSchema {
  /** One row a snapshot, failed ones included. */
  SNAPSHOTS(
      "status VARCHAR, problem VARCHAR, runtime VARCHAR, format VARCHAR, file_bytes BIGINT,"
          + " objects BIGINT, retained_bytes BIGINT, unretained_bytes BIGINT, partial BOOLEAN,"
          + " millis BIGINT, cpu_millis BIGINT, row_bytes BIGINT, analysed TIMESTAMP,"
          + " version INTEGER"),
  /** The user's own types, and those that fill the heap. */
  TYPES("type VARCHAR, own BOOLEAN, count BIGINT, shallow_bytes BIGINT, retained_bytes BIGINT"),
  /** The objects that retain most. */
  KEEPERS("id VARCHAR, type VARCHAR, held_by VARCHAR, retained_bytes BIGINT"),
  /** Places where objects pile up. */
  HOLDERS(
      "what VARCHAR, held_by VARCHAR, inside VARCHAR, own BOOLEAN, count BIGINT, bytes BIGINT,"
          + " frees_bytes BIGINT, example VARCHAR"),
  /** What looks wrong in one snapshot. */
  FINDINGS(
      "what VARCHAR, held_by VARCHAR, count BIGINT, bytes BIGINT, confidence DOUBLE,"
          + " sentence VARCHAR");

  /** The version that is written. */
  public static final int VERSION = 1;

  /** Columns that all tables have. */
  static final String LABELS =
      "task VARCHAR, file VARCHAR, service VARCHAR, build VARCHAR, host VARCHAR, taken TIMESTAMP,"
          + " day VARCHAR";

  private final String columns;

  FleetSchema(String columns) {
    this.columns = columns;
  }

  /** The table's name. */
  public String table() {
    return name().toLowerCase(java.util.Locale.ROOT);
  }

  /** Names and types of all columns, as SQL has them. */
  public String columns() {
    return LABELS + ", " + columns;
  }

  /** All tables; what says that a task is done is written when all else of it is there. */
  public static List<FleetSchema> inOrderOfWriting() {
    return List.of(TYPES, KEEPERS, HOLDERS, FINDINGS, SNAPSHOTS);
  }

  /** Whether a path below the folder of tables is that of a table's file. */
  public static boolean isFile(String path) {
    String[] steps = path.split("/", -1);
    return steps.length == 4
        && inOrderOfWriting().stream().anyMatch(table -> table.table().equals(steps[0]))
        && steps[1].startsWith("day=")
        && steps[2].startsWith("service=")
        && steps[3].endsWith(".parquet");
  }

  /** The names of all columns, in order. */
  public List<String> names() {
    return List.of(columns().split(", ")).stream().map(c -> c.split(" ")[0]).toList();
  }
}
