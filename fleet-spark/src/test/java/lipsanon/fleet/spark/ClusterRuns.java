package lipsanon.fleet.spark;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import lipsanon.fleet.Archives;
import lipsanon.fleet.Cluster;
import lipsanon.fleet.FleetSchema;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.Plan;
import lipsanon.fleet.TableViews;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;

/**
 * What tests of the job have in common: a master and two workers, each a process, on the loopback.
 */
abstract class ClusterRuns {
  static final long MEMORY = 96L << 20;

  /** What differs from run to run. */
  private static final List<String> VARYING = List.of("millis", "cpu_millis", "analysed");

  @TempDir static Path folder;
  private static TestCluster cluster;
  private static Path job;

  @BeforeAll
  static void startCluster() throws Exception {
    // of the classes as they are
    job = Archives.archive(Path.of("target", "classes"), folder.resolve("job.jar"));
    cluster = new TestCluster(folder.resolve("cluster"), 2);
  }

  @AfterAll
  static void stopCluster() {
    if (cluster != null) {
      cluster.close();
    }
  }

  static TestCluster cluster() {
    return cluster;
  }

  static Path job() {
    return job;
  }

  static Plan plan(String tables, Inputs inputs) throws IOException {
    return new Plan(tables, MEMORY, new byte[16], List.of("portmerrow"), 60_000, inputs.items());
  }

  static Cluster on(String... more) {
    List<String> settings = new ArrayList<>(List.of(more));
    settings.addAll(List.of("spark.executor.memory=600m", "spark.ui.enabled=false"));
    // short lives: what is compiled for speed is not earned back
    settings.add("spark.driver.extraJavaOptions=" + TestCluster.QUICK);
    settings.add("spark.executor.extraJavaOptions=" + TestCluster.QUICK);
    settings.add("spark.sql.codegen.wholeStage=false");
    settings.add("spark.sql.codegen.factoryMode=NO_CODEGEN");
    return new Cluster(cluster.home(), cluster.address(), job, settings);
  }

  /** All rows of a table, without what differs from run to run, in an order of their own. */
  static List<String> rows(Path tables, FleetSchema table) throws Exception {
    List<String> columns = new ArrayList<>(table.names());
    columns.removeAll(VARYING);
    List<String> rows = new ArrayList<>();
    try (Connection connection = DriverManager.getConnection("jdbc:duckdb:");
        Statement statement = connection.createStatement()) {
      TableViews.create(statement, tables);
      try (ResultSet result =
          statement.executeQuery(
              "SELECT "
                  + String.join(", ", columns)
                  + " FROM "
                  + table.table()
                  + " ORDER BY ALL")) {
        while (result.next()) {
          List<String> row = new ArrayList<>();
          for (int c = 1; c <= columns.size(); c++) {
            row.add(result.getString(c));
          }
          rows.add(String.join("|", row));
        }
      }
    }
    return rows;
  }
}
