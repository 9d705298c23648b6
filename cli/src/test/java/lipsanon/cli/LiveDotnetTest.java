package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.junit.jupiter.api.Tag;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** The whole way on a live .NET process: found, captured, asked about, watched, rehearsed. */
@Tag("alone")
class LiveDotnetTest {
  @TempDir Path folder;

  private final ObjectMapper json = new ObjectMapper();

  private JsonNode ask(String... args) throws Exception {
    String[] all = Stream.concat(Stream.of(args), Stream.of("--json")).toArray(String[]::new);
    Tool.Result result = Tool.run(folder, all);
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  @Test
  void captureAndEveryQuestion() throws Exception {
    try (DotnetYard office = new DotnetYard(DotnetYard.portMerrow())) {
      JsonNode runtimes = ask("runtimes");
      assertThat(runtimes.get("runtimes"))
          .anySatisfy(
              info -> {
                assertThat(info.get("id").asText()).isEqualTo(office.pid());
                assertThat(info.get("kind").asText()).isEqualTo(".NET");
                assertThat(info.get("program").asText()).isEqualTo("PortMerrow");
                assertThat(info.get("version").asText()).startsWith("9.0.1");
              });
      office.say("days 5");
      ask("capture", office.pid(), "-o", "a.nettrace");
      office.say("days 5");
      ask("capture", office.pid(), "-o", "b.nettrace");
      ask("capture", office.pid(), "--light", "-o", "b.light.jsonl");
    }
    JsonNode survey = ask("survey", "b.nettrace");
    assertThat(survey.get("warnings")).isEmpty();
    assertThat(survey.get("areas")).isNotEmpty();
    assertThat(survey.get("findings").get(0).get("sentence").asText())
        .contains("PortMerrow.VesselCall")
        .contains("still subscribed to PortMerrow.TideBoard.Turned");
    JsonNode types = ask("types", "b.nettrace", "--match", "PortMerrow.VesselCall");
    assertThat(types.get("types").get(0).get("count").asLong()).isEqualTo(400);
    JsonNode why = ask("why", "b.nettrace", "PortMerrow.VesselCall");
    assertThat(why.get("paths").get(0).get("count").asLong()).isEqualTo(400);
    assertThat(ask("types", "b.nettrace", "--by", "generation").get("groups")).isNotEmpty();
    JsonNode diff = ask("diff", "a.nettrace", "b.nettrace", "--match", "PortMerrow.VesselCall");
    assertThat(diff.get("types").get(0).get("countDifference").asLong()).isEqualTo(200);
    JsonNode mixed = ask("diff", "a.nettrace", "b.light.jsonl", "--match", "PortMerrow.VesselCall");
    assertThat(mixed.get("types").get(0).get("countDifference").asLong()).isEqualTo(200);
    JsonNode growth = ask("growth", "a.nettrace", "b.nettrace", "--actions", "5");
    JsonNode first = growth.get("findings").get(0);
    assertThat(first.get("what").asText()).isEqualTo("PortMerrow.VesselCall");
    assertThat(first.get("countPerAction").asDouble()).isEqualTo(40);
    assertThat(first.get("freedShare").asDouble()).isEqualTo(1);
    assertThat(Tool.run(folder, "types", "b.hprof", "--by", "generation").code()).isEqualTo(3);
  }

  @Test
  void rehearsalFindsTheLeakAndItsAbsence() throws Exception {
    JsonNode leaky = rehearse(DotnetYard.portMerrow() + "", "leaky");
    assertThat(leaky.get("verdict").asText()).isEqualTo("growth");
    assertThat(leaky.get("findings").get(0).get("heldBy").asText())
        .contains("PortMerrow.TideBoard.Turned");
    assertThat(rehearse(DotnetYard.portMerrow() + " --fixed", "fixed").get("verdict").asText())
        .isEqualTo("none");
    List<String> prove = new ArrayList<>(List.of("prove"));
    for (int i = 1; i <= 3; i++) {
      prove.add("leaky/" + i + ".nettrace");
    }
    prove.add("--against");
    for (int i = 1; i <= 3; i++) {
      prove.add("fixed/" + i + ".nettrace");
    }
    assertThat(ask(prove.toArray(String[]::new)).get("proved").asBoolean()).isTrue();
  }

  private JsonNode rehearse(String command, String keep) throws Exception {
    int port;
    try (java.net.ServerSocket socket = new java.net.ServerSocket(0)) {
      port = socket.getLocalPort();
    }
    return ask(
        "rehearse",
        "--start",
        "env DOTNET_ROOT=" + DotnetYard.runtime() + " " + command + " --port " + port,
        "--get",
        "http://127.0.0.1:" + port + "/day",
        "--keep",
        keep);
  }

  @Test
  void itIsWatchedWithoutForcedCollections() throws Exception {
    try (DotnetYard office = new DotnetYard(DotnetYard.portMerrow())) {
      office.say("days 20");
      Tool.Result result = Tool.run(folder, "watch", office.pid(), "--for", "4s", "--json");
      assertThat(result.code()).as(result.both()).isZero();
      List<JsonNode> looks = new ArrayList<>();
      for (String line : result.out().lines().toList()) {
        looks.add(json.readTree(line));
      }
      assertThat(looks).hasSizeBetween(3, 6);
      JsonNode last = looks.get(looks.size() - 1);
      assertThat(last.get("usedBytes").asLong()).isBetween(1_000_000L, 500_000_000L);
      assertThat(last.get("committedBytes").asLong()).isNotZero();
      assertThat(last.get("collections").asLong())
          .isEqualTo(looks.get(0).get("collections").asLong());
      assertThat(last.get("costShare").asDouble()).isZero();
    }
  }

  @Test
  void allocationsAreToldByFunctionAndLine() throws Exception {
    Path program = DotnetYard.portMerrow();
    Path symbols = program.resolveSibling("PortMerrow.pdb");
    try (DotnetYard office = new DotnetYard(program)) {
      Thread days =
          new Thread(
              () -> {
                try {
                  for (int i = 0; i < 60; i++) {
                    office.say("days 10");
                    Thread.sleep(50);
                  }
                } catch (java.io.IOException | InterruptedException e) {
                  return;
                }
              });
      days.start();
      ask("record", office.pid(), "--for", "4s", "-o", "o.nettrace");
      days.interrupt();
      days.join();
    }
    JsonNode functions =
        ask("origins", "o.nettrace").get("recording").get("origins").get("functions");
    assertThat(functions.get(0).get("function").asText())
        .isEqualTo("PortMerrow.HarbourOffice.Arrive");
    assertThat(functions.get(0).get("line").asInt()).isZero();
    try {
      DotnetPrograms.writeSymbols(symbols, 60);
      JsonNode lines =
          ask("origins", "o.nettrace").get("recording").get("origins").get("functions");
      assertThat(lines)
          .anySatisfy(
              row -> {
                assertThat(row.get("function").asText()).endsWith("HarbourOffice.Arrive");
                assertThat(row.get("script").asText()).matches("/quay/src/(Office|More).cs");
                // the thousands are the method's number, the rest is the place in it
                assertThat(row.get("line").asInt() % 1000).isBetween(0, 200);
              });
    } finally {
      Files.deleteIfExists(symbols);
    }
    assertThat(Tool.run(folder, "survey", "o.nettrace").code()).isEqualTo(3);
  }

  @Test
  void whatIsSilentStaleOrNoRuntimeIsTold() throws Exception {
    // a socket that an earlier process has left, with a number that runs
    Path stale = Path.of("/tmp/dotnet-diagnostic-" + ProcessHandle.current().pid() + "-1-socket");
    try (ServerSocketChannel server = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
      server.bind(UnixDomainSocketAddress.of(stale));
      assertThat(ask("runtimes").get("runtimes"))
          .noneMatch(
              info ->
                  info.get("kind").asText().equals(".NET")
                      && info.get("pid").asLong() == ProcessHandle.current().pid());
    } finally {
      Files.deleteIfExists(stale);
    }
    try (DotnetYard office = new DotnetYard(DotnetYard.portMerrow())) {
      office.say("days 1");
      new ProcessBuilder("kill", "-STOP", office.pid()).start().waitFor();
      Tool.Result silent = Tool.run(folder, "capture", office.pid(), "-o", "s.nettrace");
      assertThat(silent.code()).as(silent.both()).isEqualTo(4);
      assertThat(silent.err()).contains("not answering");
      assertThat(folder.resolve("s.nettrace")).doesNotExist();
      new ProcessBuilder("kill", "-CONT", office.pid()).start().waitFor();
      assertThat(ask("capture", office.pid(), "-o", "s.nettrace").get("fileBytes").asLong())
          .isPositive();
      assertThat(Tool.run(folder, "capture", office.pid(), "--all").code()).isEqualTo(4);
      // a capture that is killed leaves the service as it was
      Process killed =
          new ProcessBuilder(Pty.command("capture", office.pid(), "-o", "k.nettrace"))
              .directory(folder.toFile())
              .start();
      Thread.sleep(700);
      killed.destroyForcibly().waitFor();
      assertThat(office.say("day")).startsWith("day ");
      assertThat(ask("capture", office.pid(), "-o", "l.nettrace").get("fileBytes").asLong())
          .isPositive();
    }
  }
}
