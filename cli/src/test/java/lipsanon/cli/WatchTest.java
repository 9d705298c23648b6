package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** Watching, light snapshots and captures on conditions, on a live JVM. */
@Tag("alone")
class WatchTest {
  @TempDir Path folder;

  private final ObjectMapper json = new ObjectMapper();

  private JsonNode ask(String... args) throws Exception {
    String[] all = Stream.concat(Stream.of(args), Stream.of("--json")).toArray(String[]::new);
    Tool.Result result = Tool.run(folder, all);
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  @Test
  void lightSnapshotsAreComparedLikeWholeOnes() throws Exception {
    try (Harbour harbour = new Harbour()) {
      harbour.days(5);
      JsonNode first = ask("capture", harbour.pid(), "--light", "-o", "1.light.jsonl");
      assertThat(first.get("heapAfterBytes").asLong()).isPositive();
      harbour.days(5);
      ask("capture", harbour.pid(), "-o", "2.hprof");
      harbour.days(5);
      ask("capture", harbour.pid(), "--light", "-o", "3.light.jsonl");
      JsonNode again = ask("capture", harbour.pid(), "--light", "-o", "4.light.jsonl");
      assertThat(again.get("fileBytes").asLong()).isLessThan(200_000);
    }
    JsonNode diff = ask("diff", "1.light.jsonl", "3.light.jsonl", "--match", "VesselCall");
    assertThat(diff.get("types").get(0).get("countDifference").asLong()).isEqualTo(400);
    // counts and sizes are the same as those of a whole snapshot
    JsonNode mixed = ask("diff", "2.hprof", "3.light.jsonl", "--match", "portmerrow.VesselCall");
    JsonNode calls = mixed.get("types").get(0);
    assertThat(calls.get("countDifference").asLong()).isEqualTo(200);
    assertThat(calls.get("shallowBytesDifference").asLong()).isEqualTo(200 * 32);
    JsonNode growth = ask("growth", "3.light.jsonl", "1.light.jsonl", "2.hprof", "--actions", "5");
    assertThat(growth.get("verdict").asText()).isEqualTo("growth");
    assertThat(growth.get("findings"))
        .anySatisfy(
            finding -> {
              assertThat(finding.get("what").asText()).isEqualTo("portmerrow.VesselCall");
              assertThat(finding.get("countPerAction").asDouble()).isEqualTo(40);
            });
    JsonNode proof =
        ask(
            "prove",
            "1.light.jsonl",
            "3.light.jsonl",
            "--against",
            "3.light.jsonl",
            "4.light.jsonl");
    assertThat(proof.get("proved").asBoolean()).isTrue();
    assertThat(Tool.run(folder, "types", "1.light.jsonl").both())
        .contains("code 3")
        .contains("only counts of types");
    assertThat(Tool.run(folder, "diff", "1.light.jsonl", "3.light.jsonl", "--refs", "x").code())
        .isEqualTo(2);
  }

  @Test
  void withoutATerminalItPrintsALineALook() throws Exception {
    try (Harbour harbour = new Harbour()) {
      harbour.days(5);
      Tool.Result lines =
          Tool.run(folder, "watch", harbour.pid(), "--for", "3s", "--record", "office.series");
      assertThat(lines.code()).as(lines.both()).isZero();
      assertThat(lines.out().lines().filter(line -> line.contains("survives")))
          .hasSizeBetween(3, 5);
      assertThat(lines.out()).contains("lipsanon growth office.series");
      assertThat(Tool.run(folder, "growth", "office.series").out()).contains("too short");
      Tool.Result refused =
          Tool.run(folder, "watch", harbour.pid(), "--for", "1s", "--record", "office.series");
      assertThat(refused.code()).isEqualTo(2);
      Tool.Result stream =
          Tool.run(folder, "watch", harbour.pid(), "--for", "2s", "--every", "500ms", "--json");
      List<JsonNode> looks = new ArrayList<>();
      for (String line : stream.out().lines().toList()) {
        looks.add(json.readTree(line));
      }
      assertThat(looks).hasSizeBetween(3, 6);
      assertThat(looks.get(0).get("usedBytes").asLong()).isPositive();
      assertThat(looks.get(0).get("types")).isNotEmpty();
      assertThat(looks.get(0).get("trend").asText()).isEqualTo("cannot tell yet");
      for (JsonNode look : looks) {
        assertThat(look.get("costShare").asDouble()).isBetween(0.0, 0.0201);
      }
    }
  }

  @Test
  void aTargetThatEndsIsTold() throws Exception {
    Harbour harbour = new Harbour();
    Thread end =
        new Thread(
            () -> {
              try {
                Thread.sleep(6_000);
                harbour.kill();
              } catch (InterruptedException e) {
                Thread.currentThread().interrupt();
              }
            });
    end.start();
    Tool.Result result = Tool.run(folder, "watch", harbour.pid(), "--for", "60s");
    end.join();
    assertThat(result.code()).as(result.both()).isEqualTo(4);
    assertThat(result.err()).contains("has ended");
    assertThat(result.out()).contains("Watched for");
  }

  @Test
  void capturesOnAConditionAndKeepsTheNewest() throws Exception {
    try (Harbour harbour = new Harbour()) {
      harbour.days(5);
      Tool.Result result =
          Tool.run(
              folder,
              "capture",
              harbour.pid(),
              "--light",
              "--when",
              "heap > 1MB",
              "--every",
              "1s",
              "--keep",
              "2",
              "--times",
              "4");
      assertThat(result.code()).as(result.both()).isZero();
      assertThat(result.err()).contains("the heap is").contains("deleted PortMerrow-");
      try (Stream<Path> files = Files.list(folder)) {
        assertThat(files.filter(file -> file.toString().endsWith(".light.jsonl"))).hasSize(2);
      }
      Tool.Result never =
          Tool.run(folder, "capture", harbour.pid(), "--when", "heap >> 3", "--light");
      assertThat(never.code()).isEqualTo(2);
      // one whole snapshot, and the end
      Tool.Result once = Tool.run(folder, "capture", harbour.pid(), "--when", "survivors > 1MB");
      assertThat(once.code()).as(once.both()).isZero();
      try (Stream<Path> files = Files.list(folder)) {
        assertThat(files.filter(file -> file.toString().endsWith(".hprof"))).hasSize(1);
      }
    }
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void aRealTerminal() throws Exception {
    assumeTrue(Pty.available(), "no pseudo-terminals: the command `script` is missing");
    try (Harbour harbour = new Harbour();
        Pty pty = new Pty(folder, "stty cols 110 rows 34; " + Pty.shell("watch", harbour.pid()))) {
      pty.press("", "portmerrow.ChartLibrary");
      harbour.days(5);
      pty.press("b", "Baseline set");
      harbour.days(5);
      pty.press("c", "are live.");
      pty.press("/vessel\r", "with \"vessel\"");
      pty.press("", "portmerrow.VesselCall");
      pty.press("s", "by count since baseline");
      pty.press("l", "Light snapshot: PortMerrow-");
      pty.press("p", "PAUSED");
      pty.type("p");
      pty.press("f", "Snapshot: PortMerrow-");
      pty.type("q");
      assertThat(pty.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
      assertThat(pty.process.exitValue()).isZero();
      pty.drain();
      assertThat(pty.plain()).contains("Watched for").contains("lipsanon capture");
    }
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files.map(file -> file.getFileName().toString().replaceAll(".*\\.", "")))
          .contains("jsonl", "hprof");
    }
  }
}
