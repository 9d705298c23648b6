package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The script at the root, which {@code ./verify} has built by the time tests run. */
@Tag("alone")
class LauncherTest {
  private static final Path ROOT = Path.of(System.getProperty("lipsanon.root", ".."));

  @TempDir Path folder;

  private Tool.Result launch(String... args) throws Exception {
    String script = ROOT.toAbsolutePath().normalize().resolve("lipsanon").toString();
    List<String> command = new java.util.ArrayList<>(List.of("bash", script));
    command.addAll(List.of(args));
    return Tool.execute(folder, Map.of(), command);
  }

  @Test
  void demoEndsWithTheProof() throws Exception {
    Tool.Result demo = launch("demo");
    assertThat(demo.code()).as(demo.both()).isZero();
    assertThat(demo.out())
        .contains("portmerrow.TideBoard.subscribers")
        .contains("exactly 40 with every action")
        .contains("Proved: what grew before does not grow any more.");
    Tool.Result survey = launch("survey", "lipsanon-demo-jvm/leaky/3.hprof");
    assertThat(survey.code()).as(survey.both()).isZero();
    assertThat(survey.out()).contains("portmerrow");
    Files.copy(folder.resolve("lipsanon-demo-jvm/leaky/2.hprof"), folder.resolve("2.hprof"));
    Tool.Result little = launch("--memory", "64m", "types", "2.hprof");
    assertThat(little.code()).as(little.both()).isZero();
    assertThat(little.err())
        .contains("working on disk, which is slower: scratch files take about as much in")
        .contains("2.hprof.lipsanon, where ");
    Tool.Result again = launch("demo", "--dir", "lipsanon-demo-jvm/leaky");
    assertThat(again.code()).isEqualTo(2);
  }

  @Test
  void demoOfTheNodeServiceEndsWithTheProof() throws Exception {
    Tool.Result demo = launch("demo", "--runtime", "node");
    assertThat(demo.code()).as(demo.both()).isZero();
    assertThat(demo.out())
        .contains("variable `tideBoard._events.tide` at the top level of office.js")
        .contains("exactly 40 with every action")
        .contains("Proved: what grew before does not grow any more.");
    Tool.Result why =
        launch("why", "lipsanon-demo-node/leaky/3.heapsnapshot", "v8:closure", "--json");
    assertThat(why.code()).as(why.both()).isZero();
    Tool.Result diff =
        launch(
            "diff",
            "lipsanon-demo-node/leaky/0-baseline.heapsnapshot",
            "lipsanon-demo-node/leaky/3.heapsnapshot");
    assertThat(diff.code()).as(diff.both()).isZero();
    assertThat(diff.out()).contains("600");
  }

  @Test
  void demoOfThePageEndsWithTheProof() throws Exception {
    Tool.Result demo = launch("demo", "--runtime", "page");
    assertThat(demo.code()).as(demo.both()).isZero();
    assertThat(demo.out())
        .contains(" more VesselPanel pile up")
        .contains("variable `departed` at the top level of board.js")
        .contains("<div class=\"cargo\">")
        .contains("Event listeners that became more")
        .contains("Proved: what grew before does not grow any more.");
    Tool.Result panels = launch("sift", "lipsanon-demo-page/leaky/3.heapsnapshot", "VesselPanel");
    assertThat(panels.code()).as(panels.both()).isZero();
    assertThat(launch("demo", "--runtime", "punt").code()).isEqualTo(2);
  }

  @Test
  void optionsOfItsOwn() throws Exception {
    // the launcher's build names its commit, that of the tests does not
    assertThat(launch("--version").out())
        .matches("lipsanon \\d+\\.\\d+\\.\\d+( \\(build [0-9a-f]+\\))?\n");
    Tool.Result wrong = launch("--memory", "lots", "--version");
    assertThat(wrong.code()).isEqualTo(2);
    assertThat(wrong.err()).contains("--memory takes a size");
  }

  /** How the launcher would start Java: with another one, which only says what it was given. */
  private String started(Map<String, String> environment, String... args) throws Exception {
    Path bin = Files.createDirectories(folder.resolve("java-home/bin"));
    Path java = bin.resolve("java");
    Files.writeString(java, "#!/bin/sh\necho \"$@\"\n");
    assertThat(java.toFile().setExecutable(true)).isTrue();
    Map<String, String> all = new HashMap<>(environment);
    all.put("JAVA_HOME", folder.resolve("java-home").toString());
    String script = ROOT.toAbsolutePath().normalize().resolve("lipsanon").toString();
    List<String> command = new java.util.ArrayList<>(List.of("bash", script));
    command.addAll(List.of(args));
    Tool.Result result = Tool.execute(folder, all, command);
    assertThat(result.code()).as(result.both()).isZero();
    return result.out();
  }

  private void index(String place) throws Exception {
    Path meta = folder.resolve(place).resolve("meta");
    Files.createDirectories(meta.getParent());
    Files.writeString(meta, "");
  }

  /** Compiling while the program runs costs more than all else where little is to be done. */
  @Test
  void theWayOfCompilingIsChosenByWhatIsToBeRead() throws Exception {
    String quick = "-XX:TieredStopAtLevel=1";
    String early = "-XX:Tier3BackEdgeThreshold=5000";
    Files.writeString(folder.resolve("a.hprof"), "new");
    assertThat(started(Map.of(), "types", "a.hprof")).contains(quick, early);
    assertThat(started(Map.of(), "growth", "a.hprof", "a.hprof")).contains(quick, early);
    index("elsewhere/a.hprof.lipsanon");
    assertThat(started(Map.of(), "types", "a.hprof")).contains(early);
    assertThat(started(Map.of(), "types", "a.hprof", "--index-dir", "elsewhere"))
        .contains(quick)
        .doesNotContain(early);
    assertThat(started(Map.of(), "types", "--index-dir=elsewhere", "a.hprof"))
        .doesNotContain(early);
    index("cache/lipsanon/0123456789abcdef-a.hprof.lipsanon");
    assertThat(started(Map.of(), "index", "a.hprof")).doesNotContain(early);
    // what lies elsewhere does not count where a folder is named
    assertThat(started(Map.of(), "index", "a.hprof", "--index-dir", "nowhere")).contains(early);
    // a series as a folder
    Files.createDirectories(folder.resolve("series"));
    Files.writeString(folder.resolve("series/b.hprof"), "new");
    assertThat(started(Map.of(), "report", "series")).contains(early);
    index("series/b.hprof.lipsanon");
    assertThat(started(Map.of(), "report", "series")).doesNotContain(early);
    try (var large =
        java.nio.channels.FileChannel.open(
            folder.resolve("large.hprof"),
            java.nio.file.StandardOpenOption.CREATE,
            java.nio.file.StandardOpenOption.WRITE)) {
      // sparse: nothing of it is on disk
      large.write(java.nio.ByteBuffer.wrap(new byte[1]), 1_200_000_000L);
    }
    assertThat(started(Map.of(), "types", "large.hprof")).doesNotContain(quick);
    index("large.hprof.lipsanon");
    assertThat(started(Map.of(), "types", "large.hprof")).contains(quick, early);
    assertThat(started(Map.of(), "why", "large.hprof", "a.B")).doesNotContain(quick);
  }

  /** What is large and seldom needed is on the path of those commands alone that need it. */
  @Test
  void enginesAreOnThePathOfTheirCommands() throws Exception {
    String sql = "/app/sql/*";
    String parquet = "/app/parquet/*";
    for (String command : List.of("sql", "fleet", "report", "--help")) {
      assertThat(started(Map.of(), command)).as(command).contains(sql).doesNotContain(parquet);
    }
    assertThat(started(Map.of(), "export")).contains(sql, parquet);
    for (String command : List.of("types", "growth", "capture", "--version")) {
      assertThat(started(Map.of(), command)).as(command).doesNotContain(sql, parquet);
    }
    assertThat(started(Map.of(), "types", "--memory", "3g", "x"))
        .contains("-Xmx3g")
        .doesNotContain("--memory");
  }
}
