package lipsanon.format.v8;

import java.io.IOException;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.index.SnapshotContent;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/**
 * Places in scripts: of a function where it is written, of an object where its constructor is.
 * Three columns over the objects that have one, in ascending order.
 */
final class V8Locations {
  private static final String FIELDS = "location_fields";

  private long[] rows = new long[1024];
  private int[] scripts = new int[1024];
  private long[] places = new long[1024];
  private int count;
  private final Map<Integer, Integer> closureOfScript = new HashMap<>();

  private V8Locations() {}

  static V8Locations read(
      V8File file,
      ByteSource source,
      IntArray objectOf,
      IntArray type,
      int closureType,
      int nodeCount)
      throws IOException {
    V8Locations locations = new V8Locations();
    V8Meta meta = file.meta;
    int objectAt = meta.column(FIELDS, "object_index");
    int scriptAt = meta.column(FIELDS, "script_id");
    int lineAt = meta.column(FIELDS, "line");
    int columnAt = meta.column(FIELDS, "column");
    if (!file.begins.containsKey("locations")
        || objectAt < 0
        || scriptAt < 0
        || lineAt < 0
        || columnAt < 0) {
      return locations;
    }
    NumberScanner in = new NumberScanner(source, file.begins.get("locations"));
    int nodeWidth = meta.width("node_fields");
    long[] row = new long[meta.width(FIELDS)];
    for (long first = in.next(); first != NumberScanner.END; first = in.next()) {
      row[0] = first;
      for (int i = 1; i < row.length; i++) {
        row[i] = in.need();
      }
      long node = row[objectAt] / nodeWidth;
      if (row[objectAt] < 0 || node >= nodeCount) {
        throw new CorruptInputException(
            source.name(), in.position(), "a location of node " + node, "one of a node");
      }
      int object = objectOf.get((int) node);
      if (object >= 0) {
        locations.add(object, (int) row[scriptAt], row[lineAt], row[columnAt]);
        if (type.get(object) == closureType) {
          locations.closureOfScript.putIfAbsent((int) row[scriptAt], object);
        }
      }
    }
    Arrays.sort(locations.rows, 0, locations.count);
    return locations;
  }

  private void add(int object, int script, long line, long column) {
    if (count == rows.length) {
      rows = Arrays.copyOf(rows, count * 2);
      scripts = Arrays.copyOf(scripts, count * 2);
      places = Arrays.copyOf(places, count * 2);
    }
    rows[count] = (long) object << 32 | count;
    scripts[count] = script;
    long most = (1L << V8Format.COLUMN_BITS) - 1;
    places[count++] =
        Math.max(0, line) << V8Format.COLUMN_BITS | Math.min(most, Math.max(0, column));
  }

  /** Number of objects that have a place. */
  int count() {
    return count;
  }

  /** The object of a row, rows being in ascending order. */
  int object(int row) {
    return (int) (rows[row] >>> 32);
  }

  /** The script of a row. */
  int script(int row) {
    return scripts[(int) rows[row]];
  }

  /** The place of a row, as in the column of places. */
  long place(int row) {
    return places[(int) rows[row]];
  }

  /** By script: an object that is a function of it. */
  Map<Integer, Integer> closureOfScript() {
    return closureOfScript;
  }

  List<SnapshotContent.Extra> columns() {
    return List.of(
        new SnapshotContent.Extra(
            V8Format.LOCATED,
            count,
            sink -> {
              for (int i = 0; i < count; i++) {
                sink.value(object(i));
              }
            }),
        new SnapshotContent.Extra(
            V8Format.SCRIPT,
            count,
            sink -> {
              for (int i = 0; i < count; i++) {
                sink.value(script(i));
              }
            }),
        new SnapshotContent.Extra(
            V8Format.PLACE,
            count,
            sink -> {
              for (int i = 0; i < count; i++) {
                sink.value(place(i));
              }
            }));
  }
}
