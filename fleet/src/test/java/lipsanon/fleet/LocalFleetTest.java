package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Small fleets of Port Merrow, looked at in processes of their own. */
class LocalFleetTest {
  private static final long MEMORY = 128L << 20;
  private static final LabelPattern PATTERN =
      new LabelPattern("{service}/{build}/{host}/{time}.hprof");

  @TempDir Path folder;

  private static ChildTask task() {
    return new ChildTask(
        ChildTask.ownClassPath(), MEMORY, new byte[16], List.of("portmerrow"), 60_000);
  }

  private LocalFleet.Result run(Path tables, Path... inputs) throws Exception {
    Inputs found = new Inputs(PATTERN, false);
    for (Path input : inputs) {
      found.add(input.toString());
    }
    Path work = Files.createDirectories(folder.resolve("work"));
    try (FleetTables open = FleetTables.open(tables, MEMORY)) {
      LocalFleet.Result result =
          LocalFleet.run(open, found.items(), task(), 2, work, Progress.NONE);
      try (Stream<Path> left = Files.list(work)) {
        assertThat(left).as("nothing is left of the tasks").isEmpty();
      }
      return result;
    }
  }

  private FleetAnswer ask(Path tables) throws Exception {
    try (FleetTables open = FleetTables.open(tables, MEMORY)) {
      return FleetQuestion.ask(open, 10);
    }
  }

  private List<String> rows(Path tables, String question) throws Exception {
    List<String> rows = new ArrayList<>();
    try (FleetTables open = FleetTables.open(tables, MEMORY);
        Statement statement = open.connection().createStatement();
        ResultSet result = statement.executeQuery(question)) {
      while (result.next()) {
        List<String> row = new ArrayList<>();
        for (int c = 1; c <= result.getMetaData().getColumnCount(); c++) {
          row.add(result.getString(c));
        }
        rows.add(String.join(" ", row));
      }
    }
    return rows;
  }

  /** Two builds on some hosts, of each three dumps; the second one leaks on the first two hosts. */
  private Path harbour(int hosts) throws Exception {
    Path all = folder.resolve("dumps");
    for (int host = 0; host < hosts; host++) {
      for (int time = 0; time < 3; time++) {
        String day = "2026-11-2" + time + "T10:00:00Z.hprof";
        TinyFleet.dump(all.resolve("office/b1/quay-" + host + "/" + day), 40, 30);
        String later = "2026-11-2" + (time + 4) + "T10:00:00Z.hprof";
        int calls = host < 2 ? 40 + 25 * time : 40;
        TinyFleet.dump(all.resolve("office/b2/quay-" + host + "/" + later), calls, 30);
      }
    }
    return all;
  }

  @Test
  void whatGrowsOnHowManyHostsSinceWhichBuild() throws Exception {
    Path tables = folder.resolve("tables");
    assertThat(run(tables, harbour(3))).isEqualTo(new LocalFleet.Result(18, 0, 0));
    FleetAnswer answer = ask(tables);
    assertThat(answer.snapshots()).isEqualTo(18);
    assertThat(answer.hosts()).isEqualTo(3);
    assertThat(answer.builds()).isEqualTo(2);
    assertThat(answer.growing()).hasSize(1);
    FleetAnswer.Growing top = answer.growing().get(0);
    assertThat(top.what()).isEqualTo("portmerrow.VesselCall");
    assertThat(top.heldBy()).contains("portmerrow.TideBoard.SUBSCRIBERS");
    assertThat(top.own()).isTrue();
    assertThat(top.hostsGrowing()).isEqualTo(2);
    assertThat(top.hostsWatched()).isEqualTo(3);
    assertThat(top.hostsWith()).isEqualTo(3);
    assertThat(top.since()).isEqualTo("b2");
    assertThat(top.newInSince()).isTrue();
    assertThat(top.countPerSnapshot()).isEqualTo(25);
    assertThat(top.largestCount()).isEqualTo(90);
    assertThat(answer.openFirst().file()).contains("b2").endsWith("2026-11-26T10:00:00Z.hprof");
    assertThat(answer.sentence()).contains("on 2 of 3 hosts of office since build b2");
    // the figures of the rows are those of the index
    assertThat(rows(tables, "select max(count) from types where type = 'portmerrow.VesselCall'"))
        .containsExactly("90");
    assertThat(
            rows(
                tables,
                "select distinct count from holders where host = 'quay-2' and what like '%Call'"))
        .containsExactly("40");
  }

  @Test
  void whatIsDoneIsNotDoneAgain() throws Exception {
    Path tables = folder.resolve("tables");
    Path dumps = harbour(2);
    run(tables, dumps);
    assertThat(run(tables, dumps)).isEqualTo(new LocalFleet.Result(0, 0, 12));
    TinyFleet.dump(dumps.resolve("office/b2/quay-0/2026-11-27T10:00:00Z.hprof"), 115, 30);
    assertThat(run(tables, dumps)).isEqualTo(new LocalFleet.Result(1, 0, 12));
    assertThat(rows(tables, "select count(*), count(distinct task) from snapshots"))
        .containsExactly("13 13");
    // a partition that gets more rows has each of them once
    TinyFleet.dump(dumps.resolve("office/b2/quay-1/2026-11-27T11:00:00Z.hprof"), 115, 30);
    run(tables, dumps);
    assertThat(
            rows(
                tables,
                "select count(*), count(distinct task) from holders"
                    + " where day = '2026-11-27' and what like '%VesselCall'"))
        .containsExactly("2 2");
  }

  @Test
  void damagedAndMissingFilesAreRowsAndHarmNoOthers() throws Exception {
    Path dumps = folder.resolve("dumps/office/b1/quay-0");
    TinyFleet.dump(dumps.resolve("2026-11-20.hprof"), 20, 10);
    Files.writeString(dumps.resolve("2026-11-21.hprof"), "no snapshot");
    Path manifest = folder.resolve("gone.csv");
    Files.writeString(manifest, "file,service,host\nno/such.hprof,office,quay-9\n");
    Path tables = folder.resolve("tables");
    assertThat(run(tables, folder.resolve("dumps"), manifest))
        .isEqualTo(new LocalFleet.Result(1, 2, 0));
    FleetAnswer answer = ask(tables);
    assertThat(answer.failed()).isEqualTo(2);
    assertThat(answer.failures().stream().map(FleetAnswer.Failure::problem))
        .anyMatch(problem -> problem.contains("is no heap snapshot"))
        .anyMatch(problem -> problem.equals("there is no such file"));
    // mended, they are tried again, and counted once
    TinyFleet.dump(dumps.resolve("2026-11-21.hprof"), 30, 10);
    assertThat(run(tables, folder.resolve("dumps")).done()).isEqualTo(1);
    assertThat(ask(tables).snapshots()).isEqualTo(2);
  }

  @Test
  void aProcessThatIsKilledIsARow() throws Exception {
    Path file = TinyFleet.dump(folder.resolve("a.hprof"), 20, 10);
    Item item = new Item(file.toString(), LabelPattern.plain(file, java.time.Instant.EPOCH), 1);
    // no such class path: the process ends at once
    ChildTask task =
        new ChildTask(List.of(folder.resolve("no.jar")), MEMORY, new byte[16], List.of(), 60_000);
    String rows = new String(task.run(item, file, folder), StandardCharsets.UTF_8);
    assertThat(rows).contains("\"status\":\"failed\"").contains("its process ended with code 1");
    ChildTask hasty = new ChildTask(ChildTask.ownClassPath(), MEMORY, new byte[16], List.of(), 1);
    assertThat(new String(hasty.run(item, file, folder), StandardCharsets.UTF_8))
        .contains("took longer than");
  }

  @Test
  void rowsThatWereKeptBeforeACrashAreInTheTablesAfterIt() throws Exception {
    Path tables = folder.resolve("tables");
    Path dumps = harbour(1);
    Inputs inputs = new Inputs(PATTERN, false);
    inputs.add(dumps.toString());
    // two tasks ended, then everything stopped
    try (FleetTables open = FleetTables.open(tables, MEMORY)) {
      for (Item item : inputs.items().subList(0, 2)) {
        open.keep(item, task().run(item, Path.of(item.address()), folder));
      }
    }
    assertThat(run(tables, dumps)).isEqualTo(new LocalFleet.Result(4, 0, 2));
    assertThat(rows(tables, "select count(*), count(distinct task) from snapshots"))
        .containsExactly("6 6");
    try (Stream<Path> left = Files.list(tables.resolve("tasks"))) {
      assertThat(left).isEmpty();
    }
  }

  /** The old partition was moved away, and the new one never came. */
  @Test
  void aPartitionThatWasMovedAwayComesBack() throws Exception {
    Path tables = folder.resolve("tables");
    run(tables, harbour(1));
    Path partition = Path.of("holders", "day=2026-11-20", "service=office");
    Path away = tables.resolve(".replaced").resolve(partition);
    Files.createDirectories(away.getParent());
    Files.move(tables.resolve(partition), away);
    Path work = Files.createDirectories(tables.resolve(".lipsanon-fleet-17/task-3"));
    Files.writeString(work.resolve("rows"), "half a row");
    assertThat(rows(tables, "select count(distinct task) from holders where day = '2026-11-20'"))
        .containsExactly("1");
    assertThat(tables.resolve(".replaced")).doesNotExist();
    assertThat(work).doesNotExist();
  }

  @Test
  void whoOnlyAsksWritesNothing() throws Exception {
    Path tables = folder.resolve("tables");
    run(tables, harbour(1));
    List<String> before = listing(tables);
    try (FleetTables writing = FleetTables.open(tables, MEMORY);
        FleetTables read = FleetTables.read(tables, MEMORY)) {
      // also while another run is writing
      assertThat(FleetQuestion.ask(read, 10).snapshots()).isEqualTo(6);
      assertThat(writing.folder()).isEqualTo(read.folder());
    }
    assertThat(listing(tables)).isEqualTo(before);
    try (FleetTables none = FleetTables.read(folder.resolve("none"), MEMORY)) {
      assertThat(FleetQuestion.ask(none, 10).snapshots()).isZero();
    }
    assertThat(folder.resolve("none")).doesNotExist();
  }

  private static List<String> listing(Path folder) throws Exception {
    try (Stream<Path> files = Files.walk(folder)) {
      return files.map(Path::toString).sorted().toList();
    }
  }

  @Test
  void twoRunsDoNotWriteTheSameTables() throws Exception {
    try (FleetTables open = FleetTables.open(folder.resolve("tables"), MEMORY)) {
      assertThatThrownBy(() -> FleetTables.open(open.folder(), MEMORY))
          .hasMessageContaining("another run is writing");
    }
  }

  @Test
  void noTextOfASnapshotIsInItsRows() throws Exception {
    Path file = folder.resolve("own.hprof");
    StringBuilder secret = new StringBuilder("cargo-");
    for (int i = 0; i < 30; i++) {
      secret.append((char) ('a' + i % 26));
    }
    // a large object that is called by its text wherever texts are told
    java.util.Map<String, byte[]> held = new java.util.HashMap<>();
    held.put(secret.toString(), new byte[20 << 20]);
    java.lang.management.ManagementFactory.getPlatformMXBean(
            com.sun.management.HotSpotDiagnosticMXBean.class)
        .dumpHeap(file.toString(), true);
    assertThat(held).hasSize(1);
    Item item = new Item(file.toString(), LabelPattern.plain(file, java.time.Instant.EPOCH), 1);
    ChildTask task =
        new ChildTask(
            ChildTask.ownClassPath(), 400L << 20, new byte[16], List.of("lipsanon"), 120_000);
    String rows = new String(task.run(item, file, folder), StandardCharsets.UTF_8);
    assertThat(rows).contains("\"status\":\"ok\"").doesNotContain(secret);
    assertThat(new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1)).contains(secret);
  }
}
