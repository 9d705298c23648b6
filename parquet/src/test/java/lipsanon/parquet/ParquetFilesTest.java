package lipsanon.parquet;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.List;
import java.util.ServiceLoader;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportQuestion;
import lipsanon.question.TableFiles;
import lipsanon.question.TableFiles.Column;
import lipsanon.question.TableFiles.Kind;
import lipsanon.snapshot.Snapshots;
import lipsanon.sql.ParquetTables;
import lipsanon.sql.SqlSession;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Files of the small library, read back by the engine, beside those that the engine writes. */
class ParquetFilesTest {
  private static final TypeFilter MINE = new TypeFilter(null, List.of(), false);

  @TempDir Path folder;

  private static TableFiles service() {
    return ServiceLoader.load(TableFiles.class).findFirst().orElseThrow();
  }

  private interface Fill {
    void to(ExportQuestion.Rows rows) throws IOException;
  }

  private static long count(Statement statement, String question) throws Exception {
    try (ResultSet result = statement.executeQuery(question)) {
      result.next();
      return result.getLong(1);
    }
  }

  private static String text(Statement statement, String question) throws Exception {
    try (ResultSet result = statement.executeQuery(question)) {
      result.next();
      return result.getString(1);
    }
  }

  /** Both ways, the same rows and the same columns. */
  private void same(Snapshot snapshot, ParquetTables table, List<Column> columns, Fill fill)
      throws Exception {
    Path large = folder.resolve(table + "-engine.parquet");
    long rows =
        table.write(
            snapshot, large, new SqlSession.Options(MINE, 256L << 20, folder.resolve("s"), null));
    Path small = folder.resolve(table + "-small.parquet");
    try (TableFiles.TableFile file = service().create(small, columns)) {
      fill.to(file::row);
    }
    try (Connection connection = DriverManager.getConnection("jdbc:duckdb:");
        Statement statement = connection.createStatement()) {
      String a = "(SELECT * FROM read_parquet('" + large + "'))";
      String b = "(SELECT * FROM read_parquet('" + small + "'))";
      assertThat(count(statement, "SELECT count(*) FROM " + a)).isEqualTo(rows).isPositive();
      assertThat(count(statement, "SELECT count(*) FROM " + b)).isEqualTo(rows);
      String differ = "SELECT count(*) FROM (SELECT * FROM %s EXCEPT ALL SELECT * FROM %s)";
      assertThat(count(statement, String.format(differ, a, b))).as(table + " less").isZero();
      assertThat(count(statement, String.format(differ, b, a))).as(table + " more").isZero();
      String shape =
          "SELECT string_agg(column_name || ' ' || column_type, ', ') FROM (DESCRIBE %s)";
      assertThat(text(statement, String.format(shape, b.replaceAll("^\\(|\\)$", ""))))
          .isEqualTo(text(statement, String.format(shape, a.replaceAll("^\\(|\\)$", ""))));
      assertThat(
              text(
                  statement,
                  "SELECT any_value(compression) FROM parquet_metadata('" + small + "')"))
          .isEqualTo("ZSTD");
    }
  }

  private static Column text(String name) {
    return new Column(name, Kind.TEXT);
  }

  private static Column number(String name) {
    return new Column(name, Kind.LONG);
  }

  @Test
  void allTablesOfARealDumpAreTheSameBothWays() throws Exception {
    Path dump = folder.resolve("own.hprof");
    ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
        .dumpHeap(dump.toString(), true);
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(dump, options, Progress.NONE)) {
      same(
          snapshot,
          ParquetTables.OBJECTS,
          List.of(
              text("id"),
              text("type"),
              number("shallowBytes"),
              number("retainedBytes"),
              text("dominator"),
              new Column("depth", Kind.INT),
              text("strength")),
          rows -> ExportQuestion.objects(snapshot, rows, Progress.NONE));
      same(
          snapshot,
          ParquetTables.REFERENCES,
          List.of(text("from"), text("to"), text("kind"), text("via")),
          rows -> ExportQuestion.references(snapshot, rows, Progress.NONE));
      same(
          snapshot,
          ParquetTables.TYPES,
          List.of(
              text("type"),
              text("loader"),
              new Column("own", Kind.BOOLEAN),
              number("count"),
              number("shallowBytes"),
              number("retainedBytes")),
          rows -> ExportQuestion.types(snapshot, MINE, rows));
      same(
          snapshot,
          ParquetTables.ROOTS,
          List.of(text("id"), text("kind"), text("detail")),
          rows -> ExportQuestion.roots(snapshot, rows));
    }
  }

  @Test
  void anythingAColumnMayHoldComesBack() throws Exception {
    Path file = folder.resolve("odd.parquet");
    List<Column> columns =
        List.of(text("t"), number("n"), new Column("i", Kind.INT), new Column("b", Kind.BOOLEAN));
    try (TableFiles.TableFile to = service().create(file, columns)) {
      to.row(null, null, null, null);
      to.row("Zoë\n\"\u0000\uD83D\uDEA2", Long.MIN_VALUE, -1, true);
      to.row("", Long.MAX_VALUE, Integer.MAX_VALUE, false);
    }
    try (Connection connection = DriverManager.getConnection("jdbc:duckdb:");
        Statement statement = connection.createStatement();
        ResultSet rows = statement.executeQuery("SELECT * FROM '" + file + "'")) {
      rows.next();
      assertThat(rows.getString(1)).isNull();
      assertThat(rows.getObject(2)).isNull();
      rows.next();
      assertThat(rows.getString(1)).isEqualTo("Zoë\n\"\u0000\uD83D\uDEA2");
      assertThat(rows.getLong(2)).isEqualTo(Long.MIN_VALUE);
      assertThat(rows.getInt(3)).isEqualTo(-1);
      assertThat(rows.getBoolean(4)).isTrue();
      rows.next();
      assertThat(rows.getString(1)).isEmpty();
      assertThat(rows.getLong(2)).isEqualTo(Long.MAX_VALUE);
      assertThat(rows.next()).isFalse();
    }
  }
}
