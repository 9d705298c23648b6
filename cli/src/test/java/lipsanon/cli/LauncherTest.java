package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The script at the root, which {@code ./verify} has built by the time tests run. */
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
    Tool.Result little = launch("--memory", "64m", "types", "lipsanon-demo-jvm/leaky/2.hprof");
    assertThat(little.code()).as(little.both()).isZero();
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
}
