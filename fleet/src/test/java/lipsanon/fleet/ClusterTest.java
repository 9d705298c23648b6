package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What is handed to an engine's own program, and what is made of what it says. */
class ClusterTest {
  @TempDir Path folder;

  /** An engine whose program says something and ends. */
  private Cluster engine(String script, String... settings) throws IOException {
    Path bin = Files.createDirectories(folder.resolve("engine/bin"));
    Path submit = bin.resolve("spark-submit");
    Files.writeString(submit, "#!/bin/bash\n" + script + "\n");
    assertThat(submit.toFile().setExecutable(true)).isTrue();
    return new Cluster(
        folder.resolve("engine"),
        "spark://127.0.0.1:7077",
        Path.of("/jobs/job.jar"),
        List.of(settings));
  }

  private Plan plan() {
    Labels labels = new Labels("office", "b1", "quay-1", Instant.EPOCH);
    return new Plan(
        "/tables",
        1L << 30,
        new byte[16],
        List.of(),
        1000,
        List.of(new Item("/dumps/a.hprof", labels, 10)));
  }

  @Test
  void theEngineIsToldAllThatItNeeds() throws Exception {
    List<String> said = new ArrayList<>();
    LocalFleet.Result result =
        engine(
                "printf '%s\\n' \"$@\" \"home $SPARK_HOME\"; echo 'lipsanon-fleet: done 5 failed 2"
                    + " before 3'; echo 'INFO stopped'",
                "spark.executor.memory=600m", "spark.x=a b")
            .run(plan(), folder, said::add);
    assertThat(result).isEqualTo(new LocalFleet.Result(5, 2, 3));
    assertThat(said)
        .containsSequence("--master", "spark://127.0.0.1:7077")
        .containsSequence("--class", "lipsanon.fleet.spark.FleetJob")
        .containsSequence("--conf", "spark.executor.memory=600m")
        .containsSequence("--conf", "spark.x=a b")
        // the executors of a cluster on this machine find the driver
        .containsSequence("--conf", "spark.driver.host=127.0.0.1")
        .containsSequence("/jobs/job.jar", folder.resolve("plan.jsonl").toString())
        .contains("home " + folder.resolve("engine"));
    // the archives that tasks need: as jars for the executors, as files for the processes
    String jars = said.get(said.indexOf("--jars") + 1);
    assertThat(said.get(said.indexOf("--files") + 1)).isEqualTo(jars);
    assertThat(jars.split(",")).hasSize(3).allMatch(jar -> Files.isRegularFile(Path.of(jar)));
    assertThat(said.subList(said.indexOf("/jobs/job.jar") + 2, said.indexOf("/jobs/job.jar") + 5))
        .containsExactlyElementsOf(
            List.of(jars.split(",")).stream()
                .map(jar -> Path.of(jar).getFileName().toString())
                .toList());
    assertThat(Plan.read(folder.resolve("plan.jsonl")).items()).isEqualTo(plan().items());
  }

  @Test
  void whatGoesWrongIsToldInASentence() throws Exception {
    assertThatThrownBy(
            () ->
                engine("echo 'WARN All masters are unresponsive! Giving up.'; exit 1")
                    .run(plan(), folder, line -> {}))
        .isInstanceOf(IOException.class)
        .hasMessageContaining("spark://127.0.0.1:7077 ended with code 1: no master answers there");
    assertThatThrownBy(
            () ->
                engine(
                        "echo 'java.io.IOException: the berth is taken'; echo '\tat x.Exception.y';"
                            + " exit 3",
                        "spark.x=1")
                    .run(plan(), folder, line -> {}))
        .hasMessageEndingWith("ended with code 3: the berth is taken");
    assertThatThrownBy(
            () ->
                engine(
                        "echo 'Caused by: org.x.ipc.RemoteException(java.io.IOException): the quay"
                            + " is full'; exit 3",
                        "spark.x=1")
                    .run(plan(), folder, line -> {}))
        .hasMessageEndingWith("ended with code 3: the quay is full");
    // it ended well, and never said what it did
    assertThatThrownBy(() -> engine("exit 0").run(plan(), folder, line -> {}))
        .hasMessageContaining("ended with code 0")
        .hasMessageContaining("--spark-conf");
    // much is said: the end of it counts
    assertThat(
            engine("seq 1 5000; echo 'lipsanon-fleet: done 1 failed 0 before 0'")
                .run(plan(), folder, line -> {}))
        .isEqualTo(new LocalFleet.Result(1, 0, 0));
  }

  @Test
  void whatARunSaysOfSnapshotsThatFailed() {
    assertThat(Cluster.failure("lipsanon-fleet: failed hdfs://quay/a.hprof: is gone"))
        .contains("hdfs://quay/a.hprof: is gone");
    assertThat(Cluster.failure("lipsanon-fleet: done 0 failed 1 before 0")).isEmpty();
    assertThat(Cluster.failure("INFO Task 1 failed")).isEmpty();
  }

  /** Services send their own stack traces along with a message. */
  @Test
  void ofAProblemItsSentenceIsKept() throws Exception {
    Item item = plan().items().get(0);
    String rows =
        new String(
            ChildTask.failed(item, "\ncannot be fetched: it is gone\n\tat org.x.Quay.moor(Quay:7)"),
            StandardCharsets.UTF_8);
    assertThat(rows).contains("\"problem\":\"cannot be fetched: it is gone\"");
    String cut = new String(ChildTask.failed(item, "x".repeat(5000)), StandardCharsets.UTF_8);
    assertThat(cut).contains("x".repeat(399) + "\u2026\"").doesNotContain("x".repeat(400));
  }

  /** Copying needs the engine's programs, and no cluster. */
  @Test
  void tablesAreCopiedByTheEngineAlone() throws Exception {
    List<String> said = new ArrayList<>();
    int copied =
        engine("printf '%s\\n' \"$@\"; echo 'lipsanon-fleet: copied 3 of 7 files'", "spark.x=1")
            .copy("hdfs://quay/fleet", folder.resolve("here"), folder, said::add);
    assertThat(copied).isEqualTo(3);
    assertThat(said)
        .containsSequence("--master", "local[1]")
        .containsSequence("--class", "lipsanon.fleet.spark.CopyJob")
        .containsSequence("--conf", "spark.x=1")
        .containsSequence("/jobs/job.jar", "hdfs://quay/fleet", folder.resolve("here").toString());
    String failing =
        "echo 'Exception in thread \"main\" java.io.FileNotFoundException: there are no tables';"
            + " exit 1";
    assertThatThrownBy(
            () -> engine(failing).copy("hdfs://quay/none", folder.resolve("c"), folder, x -> {}))
        .isInstanceOf(IOException.class)
        .hasMessageStartingWith("copying the tables ended with code 1: there are no tables");
  }

  @Test
  void classesInFoldersArePacked() throws Exception {
    Path classes = Files.createDirectories(folder.resolve("module/target/classes/a/b"));
    Files.writeString(classes.resolve("C.class"), "class");
    Path archive = Cluster.packed(folder.resolve("module/target/classes"), folder);
    assertThat(archive.getFileName().toString()).isEqualTo("lipsanon-module.jar");
    try (java.util.zip.ZipFile zip = new java.util.zip.ZipFile(archive.toFile())) {
      assertThat(zip.getEntry("a/b/C.class").getSize()).isEqualTo(5);
    }
  }
}
