package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.RuntimeInfo;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real Node.js process whose scripts were made from others. */
class ScriptMapsTest {
  private static final String MAP =
      "{\"version\":3,\"sources\":[\"../src/NAME.ts\"],\"sourcesContent\":[\"private\"],"
          + "\"names\":[\"calls\"],\"mappings\":\"AAAAA\"}";

  @TempDir Path folder;
  private NodeProgram running;
  private Process node;
  private String at;

  private Path write(String name, String text) throws IOException {
    Path file = folder.resolve(name);
    Files.createDirectories(file.getParent());
    return Files.writeString(file, text);
  }

  @BeforeEach
  void start() throws IOException {
    String inline = Base64.getEncoder().encodeToString(MAP.replace("NAME", "inline").getBytes());
    write(
        "dist/inline.js",
        "let inline=[]\n//# sourceMappingURL=data:application/json;base64," + inline);
    write("dist/plain.js", "let plain=[];\n//# sourceMappingURL=none.map\n");
    write("dist/damaged.js", "let plain=[];\n//# sourceMappingURL=damaged.js.map\n");
    write("dist/damaged.js.map", "{\"mappings\":");
    write("dist/office.js.map", MAP.replace("NAME", "office"));
    Path program =
        write(
            "dist/office.js",
            "let t=[],n={};class k{}require('./inline');require('./plain');require('./damaged');"
                + "(0,eval)('let seen=[]\\n//# sourceURL=harbour-eval.js');"
                + "setInterval(()=>t.push(n),5000);console.log('ready');\n"
                + "//# sourceMappingURL=office.js.map\n");
    running = NodeProgram.start(program);
    node = running.process();
    at = running.at();
  }

  @AfterEach
  void stop() throws Exception {
    running.stop();
  }

  private static RuntimeInfo with(RuntimeInfo info, long pid) {
    return new RuntimeInfo(
        info.id(),
        pid,
        info.kind(),
        info.version(),
        info.program(),
        info.uptimeMillis(),
        info.heapUsedBytes(),
        info.heapMaxBytes(),
        info.access(),
        info.address());
  }

  /** What a snapshot says of the scripts of the program, in the order of their addresses. */
  private List<JsonNode> captured(long pid) throws Exception {
    Path file = folder.resolve("of" + pid + ".heapsnapshot");
    RuntimeInfo target = with(Inspectors.list(at).get(0), pid);
    try (V8Capture capture = V8Capture.connect(target)) {
      capture.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
    }
    JsonNode all = new ObjectMapper().readTree(file.toFile());
    assertThat(all.path("snapshot").path("node_count").asLong()).isGreaterThan(1000);
    List<JsonNode> scripts = new ArrayList<>();
    all.path(ScriptMaps.MEMBER).forEach(scripts::add);
    scripts.sort((a, b) -> a.path("url").asText().compareTo(b.path("url").asText()));
    return scripts;
  }

  @Test
  void mapsOfFilesAndWithinScriptsComeWithTheSnapshot() throws Exception {
    List<JsonNode> scripts = captured(node.pid());
    assertThat(scripts).hasSize(3);
    assertThat(scripts.get(0).path("url").asText()).endsWith("/dist/inline.js");
    assertThat(scripts.get(0).at("/map/sources/0").asText()).isEqualTo("../src/inline.ts");
    JsonNode office = scripts.get(1);
    assertThat(office.path("base").asText()).endsWith("/dist/office.js.map");
    assertThat(office.at("/map/sources/0").asText()).isEqualTo("../src/office.ts");
    assertThat(office.at("/map/names/0").asText()).isEqualTo("calls");
    assertThat(office.at("/declared/t").toString()).isEqualTo("[0,4]");
    assertThat(office.at("/declared/n").toString()).isEqualTo("[0,9]");
    assertThat(office.at("/scopes/0").toString())
        .startsWith("[0,0,")
        .endsWith(",\"t\",0,4,\"n\",0,9,\"class k\",0,20]");
    assertThat(scripts.toString()).doesNotContain("private").doesNotContain("sourcesContent");
    // evaluated code is told by the name that it bears
    assertThat(scripts.get(2).path("url").asText()).isEqualTo("harbour-eval.js");
    assertThat(scripts.get(2).has("map")).isFalse();
  }

  /** What lies behind a port may run elsewhere: its files are not those of this machine. */
  @Test
  void filesOfAnotherMachineAreNotRead() throws Exception {
    List<JsonNode> scripts = captured(-1);
    assertThat(scripts)
        .extracting(script -> script.path("url").asText().replaceFirst(".*/", ""))
        .containsExactly("inline.js", "harbour-eval.js");
  }
}
