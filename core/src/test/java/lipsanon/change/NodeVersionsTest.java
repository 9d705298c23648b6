package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import lipsanon.holder.Finding;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Versions of Node.js that are older and newer than this machine's: V8 tells itself otherwise. */
class NodeVersionsTest {
  private static final int TIMES = 7;
  private static final int ROUNDS = 3;

  private static final String[][] PROGRAMS = {
    {"listeners", "variable `tideBoard._events.tide` at the top level of listeners.js"},
    {"mapByObject", "variable `occupied` at the top level of mapByObject.js"},
    {"staticRegistry", "static Vessel.all"},
    {"timers", "the timers of Node.js"},
    {"nested", "variable `office.desk.inbox.letters` at the top level of nested.js"},
    {"exported", "variable `calls` at the top level of exportedCalls.mjs"},
  };

  @TempDir Path folder;

  @ParameterizedTest
  @ValueSource(strings = {"18.20.8", "24.22.3", "26.12.1"})
  void namesTheHolder(String version) throws Exception {
    Path node = node(version);
    for (String[] program : PROGRAMS) {
      GrowthAnswer answer = grow(node, program[0]);
      assertThat(answer.findings()).as(program[0] + " " + answer).isNotEmpty();
      Finding first = answer.findings().get(0);
      assertThat(first.heldBy()).as(answer.toString()).isEqualTo(program[1]);
      assertThat(first.countPerAction()).as(answer.toString()).isEqualTo(1);
    }
  }

  private static Path node(String version) throws Exception {
    Process tool =
        new ProcessBuilder(Path.of("../tools/node-version").toAbsolutePath().toString(), version)
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    String line = tool.inputReader().readLine();
    assumeTrue(tool.waitFor() == 0, "NO NODE.JS " + version + ": its tests are skipped");
    return Path.of(line);
  }

  private GrowthAnswer grow(Path node, String program) throws Exception {
    try (NodeYard yard = new NodeYard(node, program)) {
      return yard.grow(Files.createDirectory(folder.resolve(program)), TIMES, ROUNDS);
    }
  }
}
