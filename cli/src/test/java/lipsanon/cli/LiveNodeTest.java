package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A Node.js service whose every count is known, from the live process to the answers. */
class LiveNodeTest {
  private static final Path PROGRAMS = Path.of("src/test/resources/programs").toAbsolutePath();

  private final ObjectMapper json = new ObjectMapper();

  @TempDir Path folder;

  /** The service in a process of its own. */
  private static final class Quay implements AutoCloseable {
    final Process process;
    final String url;

    Quay(String... options) throws IOException {
      List<String> command = new ArrayList<>(List.of("node"));
      command.addAll(List.of(options));
      command.add(PROGRAMS.resolve("quay.js").toString());
      process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
      url =
          new BufferedReader(
                  new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8))
              .readLine();
    }

    String pid() {
      return Long.toString(process.pid());
    }

    void load(int count) throws IOException {
      try (var in = URI.create(url + "/load/" + count).toURL().openStream()) {
        in.readAllBytes();
      }
    }

    @Override
    public void close() {
      process.destroyForcibly().onExit().join();
    }
  }

  private static String inspect() throws IOException {
    return "--inspect=127.0.0.1:" + Browser.freePort();
  }

  private JsonNode ask(String... args) throws Exception {
    String[] all = Stream.concat(Stream.of(args), Stream.of("--json")).toArray(String[]::new);
    Tool.Result result = Tool.run(folder, all);
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  private String refused(int code, String... args) throws Exception {
    Tool.Result result = Tool.run(folder, args);
    assertThat(result.code()).as(result.both()).isEqualTo(code);
    assertThat(result.err().lines()).hasSize(1);
    return result.err();
  }

  private interface Work {
    void run() throws IOException;
  }

  /** Runs a command that records, does something while it does, and then presses Enter. */
  private void recordUntilEnter(Work work, String... args) throws Exception {
    List<String> command = Packed.command();
    command.addAll(List.of(args));
    Process recorder =
        new ProcessBuilder(command)
            .directory(folder.toFile())
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    BufferedReader err =
        new BufferedReader(
            new InputStreamReader(recorder.getErrorStream(), StandardCharsets.UTF_8));
    assertThat(err.readLine()).contains("press Enter");
    work.run();
    recorder.getOutputStream().write('\n');
    recorder.getOutputStream().flush();
    assertThat(recorder.waitFor()).isZero();
  }

  @Test
  void itIsWatchedAndCounted() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      quay.load(200);
      Tool.Result result = Tool.run(folder, "watch", quay.pid(), "--for", "7s", "--json");
      assertThat(result.code()).as(result.both()).isZero();
      List<JsonNode> looks = new ArrayList<>();
      for (String line : result.out().lines().toList()) {
        looks.add(json.readTree(line));
      }
      assertThat(looks).hasSizeBetween(4, 9);
      assertThat(looks.get(0).get("types")).isNotEmpty();
      JsonNode last = looks.get(looks.size() - 1);
      assertThat(last.get("usedBytes").asLong()).isPositive();
      assertThat(last.get("maxBytes").asLong()).isPositive();
      assertThat(last.get("survivesBytes").asLong()).isPositive();
      assertThat(last.get("areas")).anyMatch(area -> area.get("name").asText().equals("old space"));
      ask("capture", quay.pid(), "--light", "-o", "1.light.jsonl");
      quay.load(200);
      ask("capture", quay.pid(), "--light", "-o", "2.light.jsonl");
    }
    JsonNode diff = ask("diff", "1.light.jsonl", "2.light.jsonl", "--sort", "count");
    assertThat(diff.get("types")).anyMatch(row -> row.get("countDifference").asLong() == 200);
  }

  @Test
  void captureAndEveryQuestion() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      assertThat(ask("runtimes").get("runtimes"))
          .anySatisfy(
              info -> {
                assertThat(info.get("id").asText()).isEqualTo(quay.pid());
                assertThat(info.get("kind").asText()).isEqualTo("Node.js");
                assertThat(info.get("access").asText()).isEqualTo("yes");
              });
      quay.load(50);
      JsonNode captured = ask("capture", quay.pid(), "-o", "a.heapsnapshot");
      assertThat(captured.get("heapAfterBytes").asLong()).isPositive();
      assertThat(refused(2, "capture", quay.pid(), "-o", "a.heapsnapshot")).contains("--force");
      assertThat(refused(4, "capture", quay.pid(), "--all", "-o", "x")).contains("leave out --all");
    }
    Path a = folder.resolve("a.heapsnapshot");
    assertThat(PosixFilePermissions.toString(Files.getPosixFilePermissions(a)))
        .isEqualTo("rw-------");
    JsonNode types = ask("types", "a.heapsnapshot", "--mine=", "--sort", "count");
    assertThat(types.get("types").get(0).get("type").asText()).isEqualTo("Crate");
    // its prototype is one more
    assertThat(types.get("types").get(0).get("count").asLong()).isBetween(50L, 51L);
    JsonNode why = ask("why", "a.heapsnapshot", "Crate");
    JsonNode path = why.get("paths").get(0);
    assertThat(path.get("count").asLong()).isEqualTo(50);
    assertThat(path.get("steps"))
        .anyMatch(
            step ->
                step.get("via").asText().equals("variable `stock` at the top level of quay.js"));
    JsonNode steps = path.get("steps");
    String crate = steps.get(steps.size() - 1).get("id").asText();
    JsonNode show = ask("show", "a.heapsnapshot", crate);
    assertThat(show.get("fields"))
        .anyMatch(
            field ->
                field.get("name").asText().equals("Crate.mark")
                    && field.get("target").asText().contains("crate "));
    // the value in the weak map hangs on its key alone
    assertThat(show.get("object").get("retainedBytes").asLong())
        .isGreaterThan(show.get("object").get("shallowBytes").asLong() + 40);
    JsonNode exact = ask("types", "a.heapsnapshot", "--match", "Crate", "--as-one");
    assertThat(exact.get("types").get(0).get("retainedExact").asBoolean()).isTrue();
    ask("index", "a.heapsnapshot", "--check");
    assertThat(refused(3, "show", "a.heapsnapshot", "@999999999")).contains("@999999999");
    Tool.Result export =
        Tool.run(folder, "export", "a.heapsnapshot", "--objects", "o.csv", "--references", "r.csv");
    assertThat(export.code()).as(export.both()).isZero();
    assertThat(Files.readAllLines(folder.resolve("o.csv")))
        .hasSize(1 + ask("survey", "a.heapsnapshot").get("totals").get("objects").asInt());
  }

  @Test
  void closedInspectorsAreOpenedOnlyIfAskedTo() throws Exception {
    try (Quay quay = new Quay()) {
      assertThat(refused(4, "capture", quay.pid(), "-o", "closed.heapsnapshot"))
          .contains("is closed")
          .contains("--open")
          .contains("SIGUSR1");
      ask("capture", quay.pid(), "--open", "-o", "opened.heapsnapshot");
      assertThat(quay.process.isAlive()).isTrue();
      assertThat(folder.resolve("opened.heapsnapshot")).exists();
    }
  }

  @Test
  void otherThingsAtAPort() throws Exception {
    HttpServer server =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          byte[] body = "[\"a tide board\"]".getBytes(StandardCharsets.UTF_8);
          exchange.sendResponseHeaders(200, body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    server.start();
    String at = "127.0.0.1:" + server.getAddress().getPort();
    assertThat(refused(4, "capture", "--at", at, "-o", "x")).contains("no page or process");
    server.stop(0);
    assertThat(refused(4, "runtimes", "--at", at)).contains("no debugging port answers");
    assertThat(refused(4, "runtimes", "--at", "nowhere")).contains("no HOST:PORT");
    assertThat(folder.resolve("x")).doesNotExist();
  }

  @Test
  void aTargetThatDiesHalfWay() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      // large enough that the snapshot takes seconds
      quay.load(300_000);
      Thread killer =
          new Thread(
              () -> {
                File[] begun = null;
                while ((begun == null || begun.length == 0 || begun[0].length() == 0)
                    && quay.process.isAlive()) {
                  begun = folder.toFile().listFiles((f, name) -> name.contains("half"));
                  Thread.onSpinWait();
                }
                quay.process.destroyForcibly();
              });
      killer.start();
      assertThat(refused(4, "capture", quay.pid(), "-o", "half.heapsnapshot"))
          .contains("vanished or closed the connection");
      killer.join();
    }
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files.map(Path::toString)).noneMatch(name -> name.contains("half"));
    }
  }

  @Test
  void originsOfRecordedObjects() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      quay.load(10);
      recordUntilEnter(
          () -> {
            quay.load(120);
            // the recording's intervals last 50 ms: a few more must pass
            long end = System.nanoTime() + TimeUnit.MILLISECONDS.toNanos(500);
            while (System.nanoTime() < end) {
              quay.load(0);
            }
          },
          "capture",
          quay.pid(),
          "--record-allocations",
          "enter",
          "-o",
          "r.heapsnapshot");
      JsonNode crates = ask("origins", "r.heapsnapshot", "--of", "Crate");
      assertThat(crates.get("liveCount").asLong()).isEqualTo(120);
      assertThat(crates.get("functions").get(0).get("function").asText()).matches("Crate|unload");
      assertThat(crates.get("functions").get(0).get("script").asText()).endsWith("/quay.js");
      JsonNode all = ask("origins", "r.heapsnapshot", "--callers");
      assertThat(all.get("allCount").asLong()).isGreaterThan(all.get("liveCount").asLong() / 2);
      assertThat(all.get("intervals")).isNotEmpty();
      double begin = -1;
      for (JsonNode interval : crates.get("intervals")) {
        if (interval.get("liveCount").asLong() > 0 && begin < 0) {
          begin = interval.get("fromMillis").asLong() / 1000.0;
        }
      }
      String from = Double.toString(begin);
      JsonNode later = ask("origins", "r.heapsnapshot", "--of", "Crate", "--from", from);
      assertThat(later.get("liveCount").asLong()).isEqualTo(120);
      if (begin > 0) {
        JsonNode before = ask("origins", "r.heapsnapshot", "--of", "Crate", "--to", from);
        assertThat(before.get("liveCount").asLong()).isZero();
      }
      Tool.Result lines =
          Tool.run(folder, "origins", "r.heapsnapshot", "--source", PROGRAMS.toString());
      assertThat(lines.out()).contains("When (each bar").contains("quay.js");
      JsonNode last = ask("sift", "r.heapsnapshot", "Crate", "--skip", "129").get("objects").get(0);
      JsonNode why = ask("why", "r.heapsnapshot", last.get("id").asText());
      assertThat(why.get("paths").get(0).get("origin").toString()).contains("quay.js");
      recordUntilEnter(
          () -> quay.load(20_000), "record", quay.pid(), "--every", "4096", "-o", "s.heapprofile");
      JsonNode sampled = ask("origins", "s.heapprofile");
      assertThat(sampled.get("sampled").asBoolean()).isTrue();
      assertThat(sampled.get("functions").get(0).get("script").asText()).endsWith("/quay.js");
      assertThat(refused(2, "origins", "s.heapprofile", "--of", "Crate")).contains("samples");
    }
  }

  @Test
  void newKeptAndGoneAreExactWithinOneRehearsal() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      JsonNode growth =
          ask("rehearse", quay.pid(), "--get", quay.url + "/load/3", "--times", "5", "--keep", "k");
      JsonNode first = growth.get("findings").get(0);
      assertThat(first.get("what").asText()).isEqualTo("Crate");
      assertThat(first.get("heldBy").asText())
          .isEqualTo("variable `stock` at the top level of quay.js");
      assertThat(first.get("countPerAction").asDouble()).isEqualTo(3.0);
      assertThat(growth.get("collections"))
          .anyMatch(row -> row.get("counts").toString().equals("[15,30,45,60,240]"));
      JsonNode diff = ask("diff", "k/0-baseline.heapsnapshot", "k/3.heapsnapshot");
      assertThat(diff.get("types"))
          .anyMatch(
              row ->
                  row.get("type").asText().equals("Crate")
                      && row.get("newCount").asLong() == 45
                      && row.get("goneCount").asLong() == 0);
      JsonNode sift =
          ask(
              "sift",
              "k/3.heapsnapshot",
              "Crate",
              "--new-since",
              "k/2.heapsnapshot",
              "--limit",
              "4");
      assertThat(sift.get("count").asLong()).isEqualTo(15);
      assertThat(sift.get("objects")).hasSize(4);
      ask("capture", quay.pid(), "-o", "other.heapsnapshot");
      assertThat(
              refused(2, "sift", "other.heapsnapshot", "Crate", "--new-since", "k/3.heapsnapshot"))
          .contains("cannot be told to be the same");
      assertThat(ask("sift", "other.heapsnapshot", "Crate", "--skip", "999").get("objects"))
          .isEmpty();
    }
  }

  /** The owner of port 9229 in this machine's table, or nobody. */
  private static boolean taken() {
    try {
      new java.net.Socket(InetAddress.getLoopbackAddress(), 9229).close();
      return true;
    } catch (IOException e) {
      return false;
    }
  }

  @Test
  void anInspectorThatWasOpenedIsClosedAgainForTheNext() throws Exception {
    try (Quay one = new Quay();
        Quay two = new Quay()) {
      for (Quay quay : List.of(one, two, one)) {
        ask("capture", quay.pid(), "--open", "-o", "o.heapsnapshot", "--force");
        long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(10);
        while (taken() && System.nanoTime() < deadline) {
          Thread.onSpinWait();
        }
        assertThat(taken()).isFalse();
      }
      try (Quay owner = new Quay("--inspect=127.0.0.1:9229")) {
        String told = refused(4, "capture", two.pid(), "--open", "-o", "p.heapsnapshot");
        assertThat(told).contains("port 9229").contains("process " + owner.pid() + " (node");
      }
    }
  }

  @Test
  void whoAddsIsShownAndTheCollectionIsLeftAsItWas() throws Exception {
    try (Quay quay = new Quay(inspect())) {
      JsonNode answer =
          ask(
              "rehearse",
              quay.pid(),
              "--get",
              quay.url + "/load/3",
              "--rounds",
              "2",
              "--no-confirm",
              "--who-adds",
              "--keep",
              "k");
      JsonNode adders = answer.get("adders");
      assertThat(adders).hasSize(1);
      assertThat(adders.get(0).get("count").asInt()).isEqualTo(3);
      assertThat(adders.get(0).get("place").asText()).startsWith("unload (").contains("quay.js:16");
      // a later action adds as ever: nothing that was wrapped is left
      quay.load(4);
      JsonNode again =
          ask(
              "rehearse",
              quay.pid(),
              "--get",
              quay.url + "/load/3",
              "--rounds",
              "2",
              "--no-confirm",
              "--keep",
              "l");
      assertThat(again.get("findings").get(0).get("what").asText()).isEqualTo("Crate");
      assertThat(again.get("findings").get(0).get("countPerAction").asDouble()).isEqualTo(3);
    }
  }
}
