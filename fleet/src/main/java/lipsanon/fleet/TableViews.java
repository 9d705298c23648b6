package lipsanon.fleet;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.List;
import java.util.stream.Stream;

/** The tables of a fleet as views of the embedded engine, whoever wrote them. */
public final class TableViews {
  private TableViews() {}

  /** Makes a view for each table; one without rows if there is no file of it. */
  public static void create(Statement statement, Path folder) throws SQLException, IOException {
    for (FleetSchema table : FleetSchema.values()) {
      statement.execute(
          "CREATE OR REPLACE VIEW " + table.table() + " AS " + question(table, folder));
    }
  }

  private static String question(FleetSchema table, Path folder) throws IOException {
    List<String> columns = List.of(table.columns().split(", "));
    Path files = folder.toAbsolutePath().resolve(table.table());
    if (!hasFiles(files)) {
      List<String> none =
          columns.stream()
              .map(column -> "NULL::" + column.split(" ")[1] + " AS " + column.split(" ")[0])
              .toList();
      return "SELECT " + String.join(", ", none) + " WHERE false";
    }
    List<String> typed =
        columns.stream()
            .map(
                column ->
                    column.split(" ")[0]
                        + "::"
                        + column.split(" ")[1]
                        + " AS "
                        + column.split(" ")[0])
            .toList();
    String rows =
        "SELECT "
            + String.join(", ", typed)
            + " FROM read_parquet("
            + FleetTables.literal(files.resolve("day=*/service=*/*.parquet"))
            + ", hive_partitioning=true, hive_types={'day': VARCHAR, 'service': VARCHAR},"
            + " union_by_name=true)";
    // a snapshot that failed may have been tried again
    return table == FleetSchema.SNAPSHOTS
        ? "SELECT * FROM ("
            + rows
            + ") QUALIFY row_number() OVER (PARTITION BY task ORDER BY analysed DESC) = 1"
        : rows;
  }

  private static boolean hasFiles(Path folder) throws IOException {
    if (!Files.isDirectory(folder)) {
      return false;
    }
    try (Stream<Path> files = Files.walk(folder, 3)) {
      return files.anyMatch(file -> file.toString().endsWith(".parquet"));
    }
  }
}
