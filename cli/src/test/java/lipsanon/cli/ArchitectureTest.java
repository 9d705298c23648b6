package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
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
                    "lipsanon/index",
                    "lipsanon/label",
                    "lipsanon/question",
                    "lipsanon/change",
                    "lipsanon/graph",
                    "lipsanon/format",
                    "lipsanon/snapshot",
                    "portmerrow")))
        .isEmpty();
  }

  @Test
  void scriptsKnowNothingElse() throws IOException {
    assertThat(uses("scripts", "", Set.of("lipsanon/core", "lipsanon/index", "lipsanon/capture")))
        .isEmpty();
  }

  @Test
  void sqlKnowsNeitherInterfaceNorCapture() throws IOException {
    assertThat(uses("sql", "", Set.of("lipsanon/cli", "lipsanon/capture", "portmerrow", "picocli")))
        .isEmpty();
  }

  @Test
  void fleetAndParquetKnowNeitherInterfaceNorCaptureNorEachOther() throws IOException {
    Set<String> above = Set.of("lipsanon/cli", "lipsanon/capture", "portmerrow", "picocli");
    assertThat(uses("fleet", "", above)).isEmpty();
    assertThat(uses("fleet", "", Set.of("lipsanon/sql", "lipsanon/parquet", "org/apache/spark")))
        .isEmpty();
    assertThat(uses("parquet", "", above)).isEmpty();
    assertThat(uses("parquet", "", Set.of("lipsanon/sql", "lipsanon/fleet"))).isEmpty();
    assertThat(uses("cli", "", Set.of("lipsanon/parquet", "org/apache/spark"))).isEmpty();
  }

  @Test
  void theDemoStandsAlone() throws IOException {
    assertThat(uses("demo", "", Set.of("lipsanon/"))).isEmpty();
  }

  /** The rooms of the core; each uses only those before it. */
  private static final List<String> ROOMS =
      List.of(
          "io",
          "array",
          "graph",
          "index",
          "live",
          "redact",
          "format/hprof",
          "format/v8",
          "format/light",
          "format/jfr",
          "format/dotnet",
          "format/metadata",
          "format/nettrace",
          "format/elfcore",
          "snapshot",
          "label",
          "select",
          "origin",
          "holder",
          "question",
          "change");

  @Test
  void roomsOfTheCoreUseOnlyTheRoomsBelow() throws IOException {
    for (int i = 0; i < ROOMS.size(); i++) {
      Set<String> above = new HashSet<>();
      for (String room : ROOMS.subList(i + 1, ROOMS.size())) {
        above.add("lipsanon/" + room + "/");
      }
      assertThat(uses("core", "lipsanon/" + ROOMS.get(i), above)).isEmpty();
    }
  }

  @Test
  void everyRoomOfTheCoreHasItsPlace() throws IOException {
    Path classes = ROOT.resolve("core/target/classes/lipsanon");
    try (Stream<Path> files = Files.walk(classes)) {
      Set<String> rooms = new TreeSet<>();
      for (Path file : (Iterable<Path>) files::iterator) {
        if (file.toString().endsWith(".class")) {
          rooms.add(classes.relativize(file.getParent()).toString());
        }
      }
      assertThat(rooms).containsExactlyInAnyOrderElementsOf(ROOMS);
    }
  }

  @Test
  void runtimesEndAtTheirReaders() throws IOException {
    for (String room : ROOMS.subList(ROOMS.indexOf("label"), ROOMS.size())) {
      assertThat(uses("core", "lipsanon/" + room, Set.of("lipsanon/format"))).isEmpty();
    }
  }

  @Test
  void commandsAreKnownOnlyWhereTheyAreListed() throws IOException {
    Set<String> lists =
        Set.of("lipsanon/cli/Main", "lipsanon/cli/Commands", "lipsanon/cli/Training");
    assertThat(uses("cli", "lipsanon/cli/command", lists)).isEmpty();
    assertThat(uses("cli", "lipsanon/cli/Commands", Set.of("lipsanon/cli/Main"))).isEmpty();
    assertThat(uses("cli", "lipsanon/cli/term", Set.of("lipsanon/cli/command"))).isEmpty();
  }

  @Test
  void onlyTheCommandLineKnowsItsLibrary() throws IOException {
    assertThat(uses("cli", "lipsanon/cli/command", Set.of("System.exit"))).isEmpty();
  }
}
