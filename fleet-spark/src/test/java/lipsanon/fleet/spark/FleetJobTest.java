package lipsanon.fleet.spark;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import lipsanon.fleet.Archives;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.Cluster;
import lipsanon.fleet.FleetQuestion;
import lipsanon.fleet.FleetSchema;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.InProcess;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.LabelPattern;
import lipsanon.fleet.LocalFleet;
import lipsanon.fleet.Plan;
import lipsanon.fleet.TableViews;
import lipsanon.fleet.TinyFleet;
import lipsanon.io.Progress;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The job on a real cluster: a master and two workers, each a process, on the loopback. */
class FleetJobTest {
  private static final long MEMORY = 96L << 20;
  private static final int HOSTS = 50;
  private static final int TIMES = 4;

  /** What differs from run to run. */
  private static final List<String> VARYING = List.of("millis", "cpu_millis", "analysed");

  @TempDir static Path folder;
  private static TestCluster cluster;
  private static Path dumps;
  private static Path job;

  @BeforeAll
  static void start() throws Exception {
    dumps = folder.resolve("dumps");
    for (int host = 0; host < HOSTS; host++) {
      for (int time = 0; time < TIMES; time++) {
        int calls = host % 5 == 0 ? 30 + 12 * time : 30;
        String name = "office/b" + host % 2 + "/quay-" + host + "/2026-11-2" + time + ".hprof";
        TinyFleet.dump(dumps.resolve(name), calls, 20 + host % 3);
      }
    }
    // damaged ones among them
    Files.writeString(dumps.resolve("office/b0/quay-0/2026-11-28.hprof"), "no snapshot at all");
    byte[] whole = Files.readAllBytes(dumps.resolve("office/b0/quay-0/2026-11-20.hprof"));
    Path cut = dumps.resolve("office/b0/quay-0/2026-11-29.hprof");
    Files.write(cut, java.util.Arrays.copyOf(whole, 60));
    // of the classes as they are
    job = Archives.archive(Path.of("target", "classes"), folder.resolve("job.jar"));
    cluster = new TestCluster(folder.resolve("cluster"), 2);
  }

  @AfterAll
  static void stop() {
    if (cluster != null) {
      cluster.close();
    }
  }

  private static Inputs inputs() throws IOException {
    Inputs inputs = new Inputs(new LabelPattern("{service}/{build}/{host}/{time}.hprof"), true);
    inputs.add(dumps.toString());
    return inputs;
  }

  private static Plan plan(Path tables) throws IOException {
    return plan(tables.toString(), inputs());
  }

  private static Plan plan(String tables, Inputs inputs) throws IOException {
    return new Plan(tables, MEMORY, new byte[16], List.of("portmerrow"), 60_000, inputs.items());
  }

  private LocalFleet.Result submit(Path tables, java.util.function.Consumer<String> hears)
      throws Exception {
    Files.createDirectories(tables);
    return on().run(plan(tables), Files.createTempDirectory(folder, "plan"), hears);
  }

  private static Cluster on(String... more) {
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
  private static List<String> rows(Path tables, FleetSchema table) throws Exception {
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

  /**
   * 202 snapshots, a worker with its executor killed in the middle: the same as without cluster.
   */
  @Test
  void aWorkerIsKilledAndNothingIsLostOrCountedTwice() throws Exception {
    Path tables = folder.resolve("on-cluster");
    AtomicInteger ended = new AtomicInteger();
    boolean[] killed = {false};
    LocalFleet.Result result =
        submit(
            tables,
            line -> {
              // said by the driver as each task ends
              if (line.contains("Finished task") && ended.incrementAndGet() == 40 && !killed[0]) {
                killed[0] = true;
                cluster.kill(1);
              }
            });
    assertThat(killed[0]).as("the worker was killed in the middle").isTrue();
    assertThat(result).isEqualTo(new LocalFleet.Result(HOSTS * TIMES, 2, 0));
    assertThat(rows(tables, FleetSchema.SNAPSHOTS)).hasSize(HOSTS * TIMES + 2);

    Path here = folder.resolve("here");
    try (FleetTables open = FleetTables.open(here, 256L << 20)) {
      ChildTask task =
          new ChildTask(
              ChildTask.ownClassPath(), MEMORY, new byte[16], List.of("portmerrow"), 60_000);
      Path work = Files.createDirectories(folder.resolve("work"));
      InProcess.run(open, inputs().items(), List.of("portmerrow"), task, work);
    }
    for (FleetSchema table : FleetSchema.values()) {
      assertThat(rows(tables, table)).as(table.table()).isEqualTo(rows(here, table));
    }
    assertThat(rows(tables, FleetSchema.HOLDERS)).hasSizeGreaterThan(HOSTS * TIMES);

    // the damaged ones are named, and are all that another run tries again
    try (FleetTables open = FleetTables.open(tables, 256L << 20)) {
      var answer = FleetQuestion.ask(open, 10);
      assertThat(answer.failures()).hasSize(2);
      assertThat(answer.growing().get(0).hostsGrowing()).isEqualTo(HOSTS / 5);
      assertThat(answer.growing().get(0).hostsWatched()).isEqualTo(HOSTS);
    }
    // tables that were written here are known there: its engine reads what ours wrote
    assertThat(submit(here, line -> {})).isEqualTo(new LocalFleet.Result(0, 2, HOSTS * TIMES));
    assertThat(rows(here, FleetSchema.SNAPSHOTS)).hasSize(HOSTS * TIMES + 2);
    try (Stream<Path> left = Files.list(tables)) {
      assertThat(left.map(path -> path.getFileName().toString()))
          .noneMatch(name -> name.startsWith(".cluster-"));
    }
  }

  /** Addresses that only the cluster's file systems open: fetched, looked at, and gone again. */
  @Test
  void snapshotsAtAnAddressAreFetched() throws Exception {
    Path dump = TinyFleet.dump(folder.resolve("remote/a.hprof"), 33, 20);
    long bytes = Files.size(dump);
    HttpServer server = HttpServer.create(new InetSocketAddress("127.0.0.1", 0), 0);
    server.createContext(
        "/",
        exchange -> {
          boolean there = exchange.getRequestURI().getPath().endsWith("a.hprof");
          byte[] body = there ? Files.readAllBytes(dump) : new byte[0];
          exchange.sendResponseHeaders(there ? 200 : 404, there ? body.length : -1);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    server.start();
    try {
      String store = "http://127.0.0.1:" + server.getAddress().getPort();
      Inputs inputs = new Inputs(new LabelPattern("{service}/{host}/{any}.hprof"), true);
      inputs.add(store + "/office/quay-1/a.hprof");
      inputs.add(store + "/office/quay-2/gone.hprof");
      Path tables = Files.createDirectories(folder.resolve("fetched"));
      Plan plan = plan("file://" + tables, inputs);
      List<String> failures = new ArrayList<>();
      assertThat(
              on().run(
                      plan,
                      Files.createTempDirectory(folder, "plan"),
                      line -> Cluster.failure(line).ifPresent(failures::add)))
          .isEqualTo(new LocalFleet.Result(1, 1, 0));
      assertThat(failures).hasSize(1);
      assertThat(failures.get(0)).contains("gone.hprof: cannot be fetched: ");
      assertThat(rows(tables, FleetSchema.HOLDERS))
          .anyMatch(row -> row.contains("portmerrow.VesselCall") && row.contains("|33|"));
      assertThat(rows(tables, FleetSchema.SNAPSHOTS))
          .hasSize(2)
          // what was fetched is counted
          .anyMatch(row -> row.contains("/a.hprof") && row.contains("|" + bytes + "|"))
          .anyMatch(row -> row.contains("gone.hprof") && row.contains("cannot be fetched"));
    } finally {
      server.stop(0);
    }
  }

  /** Executors know what the job was told of file systems: here, which folder an address means. */
  @Test
  void settingsOfFileSystemsReachTheTasks() throws Exception {
    Path dump = TinyFleet.dump(folder.resolve("mounted/b.hprof"), 21, 20);
    Inputs inputs = new Inputs(new LabelPattern("{service}/{any}.hprof"), true);
    inputs.add("viewfs://harbour/office/b.hprof");
    Path tables = Files.createDirectories(folder.resolve("of-mounted"));
    Plan plan = plan("file://" + tables, inputs);
    String mount = "spark.hadoop.fs.viewfs.mounttable.harbour.link./office=file://";
    Cluster mounted = on(mount + dump.getParent().toAbsolutePath());
    List<String> told = new ArrayList<>();
    assertThat(mounted.run(plan, Files.createTempDirectory(folder, "plan"), told::add))
        .as("%s", told)
        .isEqualTo(new LocalFleet.Result(1, 0, 0));
    assertThat(rows(tables, FleetSchema.HOLDERS))
        .anyMatch(row -> row.contains("portmerrow.VesselCall") && row.contains("|21|"));
  }

  /** The files of a run were written, and half of them moved in, when everything ended. */
  @Test
  void aRunThatEndedWhileItsFilesMovedIsFinished() throws Exception {
    Path tables = folder.resolve("half");
    Path source = folder.resolve("one");
    try (FleetTables open = FleetTables.open(source, 256L << 20)) {
      Path file = TinyFleet.dump(folder.resolve("single/a.hprof"), 30, 20);
      Inputs inputs = new Inputs(null, false);
      inputs.add(file.toString());
      ChildTask task =
          new ChildTask(
              ChildTask.ownClassPath(), MEMORY, new byte[16], List.of("portmerrow"), 60_000);
      LocalFleet.run(open, inputs.items(), task, 1, folder, Progress.NONE);
    }
    Path run = tables.resolve(".cluster-r1");
    for (FleetSchema table : FleetSchema.values()) {
      try (Stream<Path> files = Files.walk(source.resolve(table.table()))) {
        for (Path file : files.filter(Files::isRegularFile).toList()) {
          boolean moved = table == FleetSchema.TYPES;
          Path home = moved ? tables : run;
          Path to = home.resolve(source.relativize(file.getParent()));
          Files.createDirectories(to);
          Files.copy(file, to.resolve((moved ? "r1-" : "") + file.getFileName()));
        }
      } catch (java.nio.file.NoSuchFileException e) {
        // a table without rows
        continue;
      }
    }
    Files.writeString(run.resolve("complete"), "");
    Files.createDirectories(tables.resolve(".cluster-r2/types"));
    org.apache.hadoop.fs.Path root = new org.apache.hadoop.fs.Path(tables.toString());
    new ClusterTables(root.getFileSystem(new org.apache.hadoop.conf.Configuration()), root)
        .finishEarlierRuns();
    assertThat(run).doesNotExist();
    assertThat(tables.resolve(".cluster-r2")).doesNotExist();
    for (FleetSchema table : FleetSchema.values()) {
      assertThat(rows(tables, table)).as(table.table()).isEqualTo(rows(source, table));
    }
  }

  /** Two runs of one day: what they wrote is one file a partition, with all rows once. */
  @Test
  void filesOfSeveralRunsOfADayAreJoined() throws Exception {
    Path tables = Files.createDirectories(folder.resolve("joined"));
    Path here = folder.resolve("joined-here");
    Inputs all = new Inputs(new LabelPattern("{service}/{build}/{host}/{time}.hprof"), true);
    for (int run = 1; run <= 2; run++) {
      Inputs some = new Inputs(new LabelPattern("{service}/{build}/{host}/{time}.hprof"), true);
      String dump = "office/b1/quay-" + (2 * run - 1) + "/2026-11-20.hprof";
      some.add(dumps.resolve(dump).toString());
      all.add(dumps.resolve(dump).toString());
      Plan plan = plan(tables.toString(), some);
      assertThat(on().run(plan, Files.createTempDirectory(folder, "plan"), line -> {}))
          .isEqualTo(new LocalFleet.Result(1, 0, 0));
    }
    try (FleetTables open = FleetTables.open(here, 256L << 20)) {
      ChildTask task =
          new ChildTask(
              ChildTask.ownClassPath(), MEMORY, new byte[16], List.of("portmerrow"), 60_000);
      LocalFleet.run(open, all.items(), task, 1, folder, Progress.NONE);
    }
    for (FleetSchema table : FleetSchema.values()) {
      assertThat(rows(tables, table)).as(table.table()).isEqualTo(rows(here, table));
    }
    try (Stream<Path> files = Files.walk(tables)) {
      List<Path> written = files.filter(f -> f.toString().endsWith(".parquet")).toList();
      assertThat(written).isNotEmpty();
      assertThat(written.stream().map(Path::getParent)).doesNotHaveDuplicates();
    }
    assertThat(rows(tables, FleetSchema.SNAPSHOTS)).hasSize(2);
    // and they are brought here from what the engine opens by an address
    Path copy = folder.resolve("joined-copy");
    Path work = Files.createTempDirectory(folder, "copy");
    int copied = on().copy(tables.toUri().toString(), copy, work, line -> {});
    assertThat(copied).isPositive();
    for (FleetSchema table : FleetSchema.values()) {
      assertThat(rows(copy, table)).as(table.table()).isEqualTo(rows(here, table));
    }
    assertThatThrownBy(() -> on().copy("file:/no/tables/here", copy, work, line -> {}))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("code 1: there are no tables at file:/no/tables/here");
    assertThat(rows(copy, FleetSchema.SNAPSHOTS)).hasSize(2);
  }

  /** Everything ended when one of two files was gone, and the joined one not yet in. */
  @Test
  void aRunThatEndedWhileItJoinedFilesIsFinished() throws Exception {
    for (boolean byJob : new boolean[] {true, false}) {
      Path tables = folder.resolve("joining-" + byJob);
      Path partition = tables.resolve("types/day=2026-11-20/service=office");
      Path run = tables.resolve(".cluster-r7");
      Path staged = run.resolve("types/day=2026-11-20/service=office");
      Files.createDirectories(partition);
      Files.createDirectories(staged);
      Path outside = Files.writeString(folder.resolve("outside.parquet"), "stays");
      Files.writeString(partition.resolve("second.parquet"), "old");
      Files.writeString(partition.resolve("third.parquet"), "of another run");
      Files.writeString(staged.resolve("part-0.parquet"), "both");
      Files.writeString(
          run.resolve("replaces"),
          "types/day=2026-11-20/service=office/first.parquet\n"
              + "types/day=2026-11-20/service=office/second.parquet\n"
              + "../outside.parquet\n");
      Files.writeString(run.resolve("complete"), "");
      if (byJob) {
        org.apache.hadoop.fs.Path root = new org.apache.hadoop.fs.Path(tables.toString());
        new ClusterTables(root.getFileSystem(new org.apache.hadoop.conf.Configuration()), root)
            .finishEarlierRuns();
      } else {
        FleetTables.open(tables, 256L << 20).close();
      }
      assertThat(run).doesNotExist();
      assertThat(outside).exists();
      try (Stream<Path> files = Files.list(partition)) {
        assertThat(files.map(f -> f.getFileName().toString()))
            .containsExactlyInAnyOrder("third.parquet", "r7-part-0.parquet");
      }
    }
  }

  @Test
  void whatCannotBeSubmittedIsToldInASentence() throws Exception {
    Path work = Files.createTempDirectory(folder, "plan");
    Plan plan = plan(folder.resolve("none"));
    assertThatThrownBy(
            () ->
                new Cluster(folder.resolve("nowhere"), "spark://127.0.0.1:1", job, List.of())
                    .run(plan, work, line -> {}))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("is no home of Spark");
  }
}
