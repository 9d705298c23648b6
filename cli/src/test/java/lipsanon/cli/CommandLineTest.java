package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Forms of output, widths, errors and exit codes, on a dump of this very JVM. */
class CommandLineTest {
  private static final ObjectMapper JSON = new ObjectMapper();

  @TempDir static Path folder;
  private static String file;

  @BeforeAll
  static void dump() throws Exception {
    file = folder.resolve("own.hprof").toString();
    ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class).dumpHeap(file, true);
  }

  private record Run(int code, String out, String err) {}

  private static Run run(Map<String, String> environment, String... args) {
    StringWriter out = new StringWriter();
    StringWriter err = new StringWriter();
    int code = Main.run(new PrintWriter(out), new PrintWriter(err), environment, args);
    return new Run(code, out.toString(), err.toString());
  }

  private static Run run(String... args) {
    return run(Map.of("XDG_CACHE_HOME", folder.resolve("cache").toString()), args);
  }

  @ParameterizedTest
  @ValueSource(strings = {"survey", "types", "keepers"})
  void everyFormOfAnAnswer(String command) throws Exception {
    Run text = run(command, file);
    assertThat(text.code()).as(text.err()).isZero();
    assertThat(text.err()).isEmpty();
    assertThat(text.out()).doesNotContain("\u001b").contains("Next\n");
    Run json = run(command, file, "--json");
    JsonNode answer = JSON.readTree(json.out());
    assertThat(answer.get("answer").asText()).isEqualTo(command);
    assertThat(answer.get("version").asInt()).isEqualTo(1);
    assertThat(answer.get("snapshot").get("objects").asLong()).isPositive();
    Run csv = run(command, file, "--csv");
    String[] lines = csv.out().split("\r\n");
    assertThat(lines.length).isGreaterThan(3);
    assertThat(lines[0]).contains("retained");
    Run markdown = run(command, file, "--markdown");
    assertThat(markdown.out()).contains("| ---").startsWith("## ");
    assertThat(run(command, file, "--json", "--csv").code()).isEqualTo(2);
  }

  @ParameterizedTest
  @ValueSource(strings = {"60", "80", "120"})
  void linesFitTheTerminal(String width) {
    Run narrow =
        run(Map.of("COLUMNS", width, "LIPSANON_OUT_TERMINAL", "1", "NO_COLOR", "1"), "types", file);
    // what goes to a file or another program stays whole
    Run piped = run(Map.of("COLUMNS", width), "types", file);
    assertThat(piped.out()).contains("java.util.concurrent.ConcurrentHashMap$Node[]");
    assertThat(narrow.out().lines().filter(line -> !line.startsWith("  lipsanon")))
        .allMatch(line -> line.codePointCount(0, line.length()) <= Integer.parseInt(width));
  }

  @Test
  void coloursOnlyOnATerminalAndNotAgainstTheUsersWish() {
    Map<String, String> terminal = Map.of("LIPSANON_OUT_TERMINAL", "1");
    assertThat(run(terminal, "types", file).out()).contains("\u001b[");
    Map<String, String> plain = Map.of("LIPSANON_OUT_TERMINAL", "1", "NO_COLOR", "1");
    assertThat(run(plain, "types", file).out()).doesNotContain("\u001b[");
  }

  @Test
  void sizesAsBytesAndLimits() {
    Run exact = run("types", file, "--bytes", "--limit", "3");
    assertThat(exact.out()).doesNotContain(" kB").doesNotContain(" MB");
    long rows = exact.out().lines().filter(line -> line.matches("[ 0-9,]+.* %  .*")).count();
    assertThat(rows).isEqualTo(3);
    assertThat(run("types", file, "--limit", "0").code()).isEqualTo(2);
  }

  @Test
  void indexAndItsCheck() throws Exception {
    assertThat(run("index", file).out()).contains("Indexed").contains("% of the snapshot");
    assertThat(run("index", file, "--check").code()).isZero();
    Path copy = folder.resolve("copy.hprof");
    Files.copy(Path.of(file), copy);
    assertThat(run("index", copy.toString(), "--check").code()).isEqualTo(1);
  }

  @Test
  void exportsTables() throws Exception {
    Path objects = folder.resolve("o.csv");
    Path references = folder.resolve("r.jsonl");
    Run run =
        run("export", file, "--objects", objects.toString(), "--references", references.toString());
    assertThat(run.code()).as(run.err()).isZero();
    try (var lines = Files.lines(objects)) {
      assertThat(lines.findFirst().orElseThrow())
          .isEqualTo("id,type,shallowBytes,retainedBytes,dominator,depth,strength");
    }
    try (var lines = Files.lines(references)) {
      JsonNode row = JSON.readTree(lines.skip(5000).findFirst().orElseThrow());
      assertThat(row.get("from").asText()).startsWith("0x");
      assertThat(row.get("kind").asText()).isNotEmpty();
    }
    Run again = run("export", file, "--objects", objects.toString());
    assertThat(again.code()).isEqualTo(2);
    assertThat(again.err()).contains("is there already");
  }

  @Test
  void aCutDumpIsReadWithAWarning() throws Exception {
    byte[] whole = Files.readAllBytes(Path.of(file));
    Path cut = folder.resolve("cut.hprof");
    Files.write(cut, Arrays.copyOf(whole, whole.length * 3 / 4));
    Run run = run("survey", cut.toString());
    assertThat(run.code()).as(run.err()).isZero();
    assertThat(run.out()).contains("Note: The dump is cut off at byte");
    Run strict = run("survey", cut.toString(), "--strict");
    assertThat(strict.code()).isEqualTo(3);
  }

  @Test
  void badInputGetsOneLineAndACode() throws Exception {
    Path text = folder.resolve("text.hprof");
    Files.writeString(text, "this is a note, not a snapshot");
    Path empty = folder.resolve("empty.hprof");
    Files.createFile(empty);
    for (List<String> args :
        List.of(
            List.of("survey", text.toString()),
            List.of("types", empty.toString()),
            List.of("keepers", folder.resolve("missing.hprof").toString()),
            List.of("why", folder.toString(), "0x1"),
            List.of("show", file, "0x1"),
            List.of("why", file, "no.such.Type"))) {
      Run run = run(args.toArray(String[]::new));
      assertThat(run.code()).as(args + run.err()).isEqualTo(3);
      assertThat(run.err().trim().lines()).as(args.toString()).hasSize(1);
      assertThat(run.err()).startsWith("lipsanon: ");
      assertThat(run.out()).isEmpty();
    }
  }

  @Test
  void wrongUsageSaysWhatToDo() {
    assertThat(run("servey", file).code()).isEqualTo(2);
    assertThat(run("types").code()).isEqualTo(2);
    assertThat(run("show", file, "not-an-id").err()).contains("has no type \"not-an-id\"");
    assertThat(run("rehearse", "--times", "3").err()).contains("TARGET");
    assertThat(run("growth", file).code()).isEqualTo(2);
    Run sort = run("types", file, "--sort", "colour");
    assertThat(sort.code()).isEqualTo(2);
    assertThat(sort.err()).contains("--sort");
  }

  @Test
  void helpNamesEveryCommand() {
    Run help = run("--help");
    assertThat(help.code()).isZero();
    for (String command :
        List.of(
            "demo",
            "runtimes",
            "capture",
            "survey",
            "types",
            "keepers",
            "show",
            "why",
            "diff",
            "growth",
            "rehearse",
            "prove",
            "index",
            "export")) {
      assertThat(help.out()).contains(command);
      Run own = run(command, "--help");
      assertThat(own.code()).as(command).isZero();
      assertThat(own.out()).contains("Usage: lipsanon " + command);
    }
    assertThat(run("--version").out()).isEqualTo(Version.text() + "\n");
  }
}
