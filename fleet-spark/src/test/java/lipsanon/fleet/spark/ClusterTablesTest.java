package lipsanon.fleet.spark;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.Cluster;
import lipsanon.fleet.FleetSchema;
import lipsanon.fleet.FleetTables;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.LabelPattern;
import lipsanon.fleet.LocalFleet;
import lipsanon.fleet.Plan;
import lipsanon.fleet.TinyFleet;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;

/** The job on a real cluster: where tables are, and how they get there. */
class ClusterTablesTest extends ClusterRuns {
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
      String name = "office/b1/quay-" + (2 * run - 1) + "/2026-11-20.hprof";
      Path dump = TinyFleet.dump(folder.resolve("dumps").resolve(name), 30, 20 + run);
      some.add(dump.toString());
      all.add(dump.toString());
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
}
