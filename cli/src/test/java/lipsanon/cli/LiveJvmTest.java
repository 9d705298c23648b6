package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The whole way on live JVMs: found, captured, asked about, rehearsed. */
@Tag("alone")
class LiveJvmTest {
  private final ObjectMapper json = new ObjectMapper();

  @TempDir Path folder;

  private JsonNode ask(String... args) throws Exception {
    String[] all = Stream.concat(Stream.of(args), Stream.of("--json")).toArray(String[]::new);
    Tool.Result result = Tool.run(folder, all);
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  @Test
  void captureAndEveryQuestion() throws Exception {
    try (Harbour harbour = new Harbour()) {
      JsonNode runtimes = ask("runtimes");
      assertThat(runtimes.get("runtimes"))
          .anySatisfy(
              info -> {
                assertThat(info.get("pid").asText()).isEqualTo(harbour.pid());
                assertThat(info.get("program").asText()).isEqualTo("portmerrow.PortMerrow");
                assertThat(info.get("version").asText()).isNotEmpty();
                assertThat(info.get("heapUsedBytes").asLong()).isPositive();
                assertThat(info.get("heapMaxBytes").asLong()).isBetween(190L << 20, 210L << 20);
              });
      harbour.days(5);
      JsonNode captured = ask("capture", harbour.pid(), "-o", "a.hprof");
      assertThat(captured.get("heapBeforeBytes").asLong())
          .isGreaterThan(captured.get("heapAfterBytes").asLong());
      harbour.days(5);
      ask("capture", harbour.pid(), "-o", "b.hprof");
    }
    Path a = folder.resolve("a.hprof");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(a)))
        .isEqualTo("rw-------");
    JsonNode types = ask("types", "b.hprof", "--match", "VesselCall", "--sort", "count");
    assertThat(types.get("types").get(0).get("count").asLong()).isEqualTo(400);
    JsonNode exact = ask("types", "b.hprof", "--match", "portmerrow.VesselCall", "--as-one");
    assertThat(exact.get("types").get(0).get("retainedExact").asBoolean()).isTrue();
    assertThat(exact.get("types").get(0).get("retainedBytes").asLong())
        .isGreaterThanOrEqualTo(types.get("types").get(0).get("retainedBytes").asLong());
    JsonNode why = ask("why", "b.hprof", "portmerrow.VesselCall");
    assertThat(why.get("paths").get(0).get("count").asLong()).isEqualTo(400);
    assertThat(why.get("paths").get(0).get("steps"))
        .anyMatch(step -> step.get("via").asText().equals("portmerrow.TideBoard.subscribers"));
    String call = lastStep(why);
    JsonNode show = ask("show", "b.hprof", call);
    assertThat(show.get("object").get("type").asText()).isEqualTo("portmerrow.VesselCall");
    assertThat(show.get("fields"))
        .anyMatch(
            field ->
                field.get("name").asText().equals("portmerrow.VesselCall.vessel")
                    && field.get("target").asText().contains("MV Example"));
    assertThat(ask("why", "b.hprof", call).get("dominators")).isNotEmpty();
    assertThat(ask("keepers", "b.hprof").get("keepers")).isNotEmpty();
    JsonNode diff = ask("diff", "a.hprof", "b.hprof", "--match", "portmerrow.");
    assertThat(diff.get("types"))
        .anyMatch(
            row ->
                row.get("type").asText().equals("portmerrow.VesselCall")
                    && row.get("countDifference").asLong() == 200);
    JsonNode growth = ask("growth", "b.hprof", "a.hprof", "--actions", "5");
    assertThat(growth.get("verdict").asText()).isEqualTo("growth");
    assertThat(growth.get("findings").get(0).get("heldBy").asText())
        .isEqualTo("portmerrow.TideBoard.subscribers");
    assertThat(growth.get("findings").get(0).get("countPerAction").asDouble()).isEqualTo(40);
    assertThat(ask("survey", "b.hprof").get("layout").get("alignmentBytes").asInt()).isEqualTo(8);
  }

  private static String lastStep(JsonNode why) {
    JsonNode steps = why.get("paths").get(0).get("steps");
    return steps.get(steps.size() - 1).get("id").asText();
  }

  @Test
  void contentsOfCollectionsAreShown() throws Exception {
    try (Harbour harbour = new Harbour()) {
      harbour.days(12);
      ask("capture", harbour.pid(), "-o", "c.hprof");
    }
    JsonNode why = ask("why", "c.hprof", "portmerrow.PilotCache");
    JsonNode cache = ask("show", "c.hprof", lastStep(why));
    String map = cache.get("fields").get(0).get("value").asText();
    JsonNode entries = ask("show", "c.hprof", map, "--limit", "4");
    assertThat(entries.get("entries")).hasSize(4);
    assertThat(entries.get("size").asLong()).isBetween(100L, 400L);
    assertThat(entries.get("entries").get(0).get("key").asText()).contains("java.lang.Integer");
    assertThat(entries.get("entries").get(0).get("value").asText())
        .contains("portmerrow.PilotCache$Certificate");
  }

  @Test
  void rehearsalFindsTheLeakAndItsAbsence() throws Exception {
    JsonNode leaky;
    try (Harbour harbour = new Harbour()) {
      leaky =
          ask(
              "rehearse",
              harbour.pid(),
              "--get",
              harbour.url + "day",
              "--rounds",
              "3",
              "--times",
              "7",
              "--warm-up",
              "4",
              "--keep",
              "leaky");
    }
    assertThat(leaky.get("verdict").asText()).isEqualTo("growth");
    assertThat(leaky.get("findings")).hasSize(1);
    assertThat(leaky.get("findings").get(0).get("confidence").asDouble()).isGreaterThan(0.9);
    try (Harbour harbour = new Harbour("--fixed")) {
      Tool.Result fixed =
          Tool.run(
              folder,
              "rehearse",
              harbour.pid(),
              "--action",
              "curl -sf " + harbour.url + "day",
              "--times",
              "7",
              "--warm-up",
              "4",
              "--keep",
              "fixed",
              "--fail-on-growth");
      assertThat(fixed.code()).as(fixed.both()).isZero();
      assertThat(fixed.out()).startsWith("No steady growth");
    }
    String[] leakyFiles = {"leaky/0-baseline.hprof", "leaky/1.hprof", "leaky/2.hprof"};
    String[] fixedFiles = {"fixed/0-baseline.hprof", "fixed/1.hprof", "fixed/2.hprof"};
    Tool.Result proof = Tool.run(folder, prove(leakyFiles, fixedFiles));
    assertThat(proof.code()).as(proof.both()).isZero();
    assertThat(proof.out()).startsWith("Proved").contains("gone");
    // a folder stands for its snapshots
    JsonNode whole = ask("growth", "leaky", "--actions", "7,7,7,147");
    assertThat(whole.get("snapshots")).hasSize(5);
    assertThat(whole.get("findings")).isEqualTo(leaky.get("findings"));
    Tool.Result folders =
        Tool.run(
            folder,
            "prove",
            "leaky",
            "--against",
            "fixed",
            "--actions-before",
            "7,7,7,147",
            "--actions-after",
            "7");
    assertThat(folders.code()).as(folders.both()).isZero();
    Files.createDirectories(folder.resolve("empty"));
    Tool.Result empty = Tool.run(folder, "growth", "empty");
    assertThat(empty.code()).isEqualTo(2);
    assertThat(empty.err()).contains("empty holds no snapshots");
    Tool.Result notProved = Tool.run(folder, prove(leakyFiles, leakyFiles));
    assertThat(notProved.code()).isEqualTo(1);
    assertThat(notProved.out()).contains("still grows");
    Tool.Result failing =
        Tool.run(
            folder,
            "growth",
            "leaky/0-baseline.hprof",
            "leaky/1.hprof",
            "leaky/2.hprof",
            "--actions",
            "7",
            "--fail-on-growth=1000");
    assertThat(failing.code()).isEqualTo(1);
  }

  private static String[] prove(String[] before, String[] after) {
    return Stream.of(
            Stream.of("prove"),
            Stream.of(before),
            Stream.of("--against"),
            Stream.of(after),
            Stream.of("--actions", "7"))
        .flatMap(part -> part)
        .toArray(String[]::new);
  }

  @Test
  void rehearsalStartsTheProgramAndStopsAtAFailingAction() throws Exception {
    String java = Path.of(System.getProperty("java.home"), "bin/java").toString();
    String start =
        java
            + " -Xmx200m -cp '"
            + System.getProperty("java.class.path")
            + "' portmerrow.PortMerrow --port 18713";
    Tool.Result result =
        Tool.run(
            folder,
            "rehearse",
            "--start",
            start,
            "--get",
            "http://127.0.0.1:18713/day",
            "--times",
            "3",
            "--rounds",
            "2",
            "--keep",
            "started");
    assertThat(result.code()).as(result.both()).isZero();
    assertThat(result.out()).contains("portmerrow.TideBoard.subscribers");
    try (Harbour harbour = new Harbour()) {
      Tool.Result failing =
          Tool.run(
              folder,
              "rehearse",
              harbour.pid(),
              "--action",
              "test $LIPSANON_ROUND -lt 2 || { echo the crane is stuck; false; }",
              "--times",
              "2",
              "--warm-up",
              "0",
              "--keep",
              "failing");
      assertThat(failing.code()).isEqualTo(4);
      assertThat(failing.err())
          .contains("action 1 of round 2 failed")
          .contains("the crane is stuck");
      assertThat(folder.resolve("failing/0-baseline.hprof")).exists();
      assertThat(folder.resolve("failing/1.hprof")).exists();
      Tool.Result warmUp =
          Tool.run(folder, "rehearse", harbour.pid(), "--action", "false", "--keep", "cold");
      assertThat(warmUp.code()).isEqualTo(4);
      assertThat(warmUp.err()).contains("action 1 of the warm-up failed");
      Tool.Result inPage =
          Tool.run(folder, "rehearse", harbour.pid(), "--click", "#open", "--keep", "clicked");
      assertThat(inPage.code()).isEqualTo(2);
      assertThat(inPage.err()).contains("is no page: --run, --click and --visit are done in pages");
      assertThat(folder.resolve("clicked")).doesNotExist();
    }
  }

  @Test
  void captureRefusesAndCleansUp() throws Exception {
    try (Harbour harbour = new Harbour()) {
      Files.writeString(folder.resolve("there.hprof"), "mine");
      Tool.Result there = Tool.run(folder, "capture", harbour.pid(), "-o", "there.hprof");
      assertThat(there.code()).isEqualTo(2);
      assertThat(there.err()).contains("is there already").contains("--force");
      assertThat(folder.resolve("there.hprof")).hasContent("mine");
      Tool.Result forced =
          Tool.run(folder, "capture", "portmerrow.PortMerrow", "-o", "there.hprof", "--force");
      assertThat(forced.code()).as(forced.both()).isIn(0, 4);
      Tool.Result nowhere = Tool.run(folder, "capture", harbour.pid(), "-o", "no/such/a.hprof");
      assertThat(nowhere.code()).isEqualTo(2);
      harbour.kill();
      Tool.Result gone = Tool.run(folder, "capture", harbour.pid(), "-o", "gone.hprof");
      assertThat(gone.code()).isEqualTo(4);
      assertThat(gone.err()).contains("has process id or command").doesNotContain("\tat ");
    }
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files.map(file -> file.getFileName().toString()))
          .noneMatch(name -> name.contains(".part"));
    }
  }

  @Test
  void capturesAJdk25Target() throws Exception {
    Path home = newerJdk();
    assumeTrue(home != null, "no JDK 25 here");
    try (Harbour harbour = new Harbour(home)) {
      harbour.days(3);
      ask("capture", harbour.pid(), "-o", "n.hprof");
    }
    JsonNode types = ask("types", "n.hprof", "--match", "VesselCall");
    assertThat(types.get("types").get(0).get("count").asLong()).isEqualTo(120);
  }

  private static Path newerJdk() throws Exception {
    Path all = Path.of("/usr/lib/jvm");
    if (!Files.isDirectory(all)) {
      return null;
    }
    try (Stream<Path> homes = Files.list(all)) {
      return homes
          .filter(home -> home.getFileName().toString().matches(".*\\b25\\b.*"))
          .filter(home -> Files.isExecutable(home.resolve("bin/java")))
          .findFirst()
          .orElse(null);
    }
  }

  @Test
  void aTargetInAnotherMountNamespace() throws Exception {
    // a private /tmp: what the target writes there is seen only through /proc/PID/root
    Process probe = new ProcessBuilder("unshare", "-m", "true").redirectErrorStream(true).start();
    probe.getInputStream().readAllBytes();
    assumeTrue(probe.waitFor() == 0, "no mount namespaces here");
    String java = Path.of(System.getProperty("java.home"), "bin/java").toString();
    Process target =
        new ProcessBuilder(
                List.of(
                    "unshare",
                    "-m",
                    "sh",
                    "-c",
                    "mount -t tmpfs none /tmp && exec "
                        + java
                        + " -Xmx100m -cp '"
                        + System.getProperty("java.class.path")
                        + "' portmerrow.PortMerrow"))
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    try {
      byte[] first = new byte[40];
      assertThat(target.getInputStream().read(first)).isPositive();
      JsonNode captured = ask("capture", Long.toString(target.pid()), "-o", "m.hprof");
      assertThat(captured.get("fileBytes").asLong()).isPositive();
      assertThat(ask("types", "m.hprof", "--match", "TideBoard").get("types")).hasSize(1);
    } finally {
      target.destroyForcibly();
    }
  }
}
