package lipsanon.fleet.spark;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import lipsanon.fleet.TinyFleet;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import lipsanon.sql.ParquetTables;
import lipsanon.sql.SqlSession;
import org.apache.spark.sql.Dataset;
import org.apache.spark.sql.Row;
import org.apache.spark.sql.SparkSession;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What {@code export} writes, read by the distributed engine. */
class ExportedTablesTest {
  @TempDir Path folder;

  @Test
  void allTablesAreReadAsTheyWereWritten() throws Exception {
    Path dump = TinyFleet.dump(folder.resolve("a.hprof"), 50, 20);
    Snapshots.Options opening = new Snapshots.Options(null, folder, true, 1L << 28);
    SqlSession.Options options =
        new SqlSession.Options(
            new TypeFilter(null, List.of("portmerrow"), false),
            256L << 20,
            folder.resolve("scratch"),
            null);
    SparkSession spark =
        SparkSession.builder()
            .master("local[1]")
            .config("spark.ui.enabled", "false")
            .config("spark.driver.host", "127.0.0.1")
            .config("spark.sql.warehouse.dir", folder.resolve("warehouse").toString())
            .getOrCreate();
    try (Snapshot snapshot = Snapshots.open(dump, opening, Progress.NONE)) {
      for (ParquetTables table : ParquetTables.values()) {
        Path file = folder.resolve(table + ".parquet");
        long rows = table.write(snapshot, file, options);
        assertThat(spark.read().parquet(file.toString()).count()).as("" + table).isEqualTo(rows);
      }
      Dataset<Row> objects = spark.read().parquet(folder.resolve("OBJECTS.parquet").toString());
      assertThat(objects.columns())
          .containsExactly(
              "id", "type", "shallowBytes", "retainedBytes", "dominator", "depth", "strength");
      for (Row row : objects.collectAsList()) {
        int node = snapshot.nodeOf(row.getString(0));
        assertThat(row.getString(1)).isEqualTo(snapshot.typeName(node));
        assertThat(row.getLong(2)).isEqualTo(snapshot.shallowBytes(node));
        boolean kept = snapshot.depth(node) > 0;
        assertThat(row.isNullAt(3)).isEqualTo(!kept);
        assertThat(kept ? row.getLong(3) : -1).isEqualTo(kept ? snapshot.retainedBytes(node) : -1);
        assertThat(row.isNullAt(5) ? 0 : row.getInt(5)).isEqualTo(snapshot.depth(node));
      }
      assertThat(objects.where("type = 'portmerrow.VesselCall'").count()).isEqualTo(50);
    } finally {
      spark.stop();
    }
  }
}
