package lipsanon.fleet.spark;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetSocketAddress;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
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
import lipsanon.fleet.TinyFleet;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;

/** The job on a real cluster: hundreds of snapshots, and a worker that is killed. */
class FleetJobTest extends ClusterRuns {
  /** With -Dlipsanon.fleet.hosts=50, as it was written with, 202 snapshots. */
  private static final int HOSTS = Integer.getInteger("lipsanon.fleet.hosts", 20);

  private static final int TIMES = 4;

  private static Path dumps;

  @BeforeAll
  static void writeDumps() throws Exception {
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
  }

  private static Inputs inputs() throws IOException {
    Inputs inputs = new Inputs(new LabelPattern("{service}/{build}/{host}/{time}.hprof"), true);
    inputs.add(dumps.toString());
    return inputs;
  }

  private static Plan plan(Path tables) throws IOException {
    return plan(tables.toString(), inputs());
  }

  private LocalFleet.Result submit(Path tables, java.util.function.Consumer<String> hears)
      throws Exception {
    Files.createDirectories(tables);
    return on().run(plan(tables), Files.createTempDirectory(folder, "plan"), hears);
  }

  /**
   * Many snapshots, a worker with its executor killed in the middle: the same as without cluster.
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
              if (line.contains("Finished task")
                  && ended.incrementAndGet() == HOSTS
                  && !killed[0]) {
                killed[0] = true;
                cluster().kill(1);
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

  @Test
  void whatCannotBeSubmittedIsToldInASentence() throws Exception {
    Path work = Files.createTempDirectory(folder, "plan");
    Plan plan = plan(folder.resolve("none"));
    assertThatThrownBy(
            () ->
                new Cluster(folder.resolve("nowhere"), "spark://127.0.0.1:1", job(), List.of())
                    .run(plan, work, line -> {}))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("is no home of Spark");
  }
}
