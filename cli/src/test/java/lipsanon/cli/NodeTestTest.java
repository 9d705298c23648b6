package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The file for Node's own test runner, with the example of the documentation. */
class NodeTestTest {
  private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();

  @TempDir Path folder;

  private Tool.Result run(String... environment) throws Exception {
    Path script = folder.resolve("lipsanon");
    if (!Files.exists(script)) {
      Files.writeString(script, "#!/bin/bash\nexec " + Packed.shellCommand() + " \"$@\"\n");
      assertThat(script.toFile().setExecutable(true)).isTrue();
    }
    Path temporary = Files.createDirectories(folder.resolve("tmp"));
    Map<String, String> all =
        new java.util.HashMap<>(
            Map.of("LIPSANON", script.toString(), "TMPDIR", temporary.toString()));
    for (int i = 0; i < environment.length; i += 2) {
      all.put(environment[i], environment[i + 1]);
    }
    String test = ROOT.resolve("docs/examples/node/office.test.mjs").toString();
    return Tool.execute(folder, all, List.of("node", "--test", test));
  }

  private List<Path> left() throws Exception {
    try (Stream<Path> files = Files.list(folder.resolve("tmp"))) {
      return files.filter(path -> path.getFileName().toString().startsWith("lipsanon-")).toList();
    }
  }

  @Test
  void aForgetfulOfficeFailsAndAnotherPasses() throws Exception {
    Tool.Result clean = run();
    assertThat(clean.code()).as(clean.both()).isZero();
    assertThat(left()).isEmpty();
    Tool.Result forgetful = run("FORGETFUL", "yes");
    assertThat(forgetful.code()).as(forgetful.both()).isEqualTo(1);
    assertThat(forgetful.out())
        .contains("something stays behind")
        .contains("held by HarbourOffice.tideBoard._events.tide");
    Matcher kept =
        Pattern.compile("growth (\\S+)/\\*\\.heapsnapshot --actions 5,5,5,60")
            .matcher(forgetful.out());
    assertThat(kept.find()).isTrue();
    assertThat(left()).containsExactly(Path.of(kept.group(1)));
  }

  @Test
  void whereTheCommandIsMissingItSaysSo() throws Exception {
    Tool.Result result = run("LIPSANON", folder.resolve("nowhere").toString());
    assertThat(result.code()).isEqualTo(1);
    assertThat(result.out()).contains("cannot be run (ENOENT)").contains("variable LIPSANON");
    assertThat(left()).isEmpty();
  }
}
