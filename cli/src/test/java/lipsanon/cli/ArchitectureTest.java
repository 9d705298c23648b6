package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;

/** Modules depend on each other one way only; class files tell. */
class ArchitectureTest {
  private static final Path ROOT = Path.of(System.getProperty("lipsanon.root", ".."));

  /** Class files of a module that mention one of some packages, which they must not use. */
  private static List<String> uses(String module, String inside, Set<String> forbidden)
      throws IOException {
    List<String> found = new ArrayList<>();
    Path classes = ROOT.resolve(module + "/target/classes");
    assertThat(classes).isDirectory();
    try (Stream<Path> files = Files.walk(classes)) {
      for (Path file : (Iterable<Path>) files::iterator) {
        String path = classes.relativize(file).toString();
        if (path.endsWith(".class") && path.startsWith(inside)) {
          String text = new String(Files.readAllBytes(file), StandardCharsets.ISO_8859_1);
          for (String name : forbidden) {
            if (text.contains(name)) {
              found.add(path + " uses " + name);
            }
          }
        }
      }
    }
    return found;
  }

  @Test
  void coreKnowsNeitherInterfaceNorCaptureNorProcesses() throws IOException {
    assertThat(
            uses(
                "core",
                "",
                Set.of(
                    "lipsanon/cli",
                    "lipsanon/capture",
                    "portmerrow",
                    "picocli",
                    "java/io/Console",
                    "java/lang/ProcessBuilder",
                    "com/sun/tools/attach")))
        .isEmpty();
  }

  @Test
  void captureKnowsNothingOfAnalysis() throws IOException {
    assertThat(
            uses(
                "capture",
                "",
                Set.of(
                    "lipsanon/cli",
                    "lipsanon/analysis",
                    "lipsanon/index",
                    "lipsanon/graph",
                    "lipsanon/format",
                    "lipsanon/snapshot",
                    "portmerrow")))
        .isEmpty();
  }

  @Test
  void theDemoStandsAlone() throws IOException {
    assertThat(uses("demo", "", Set.of("lipsanon/"))).isEmpty();
  }

  @Test
  void runtimesEndAtTheirReaders() throws IOException {
    assertThat(uses("core", "lipsanon/analysis", Set.of("lipsanon/format"))).isEmpty();
    assertThat(uses("core", "lipsanon/graph", Set.of("lipsanon/format", "lipsanon/index")))
        .isEmpty();
    assertThat(uses("core", "lipsanon/index", Set.of("lipsanon/format", "lipsanon/analysis")))
        .isEmpty();
  }

  @Test
  void onlyTheCommandLineKnowsItsLibrary() throws IOException {
    assertThat(uses("cli", "lipsanon/cli/command", Set.of("System.exit"))).isEmpty();
  }
}
