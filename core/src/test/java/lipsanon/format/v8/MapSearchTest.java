package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Base64;
import java.util.Map;
import lipsanon.io.UnsupportedInputException;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class MapSearchTest {
  private static final String MAP = new MapBuilder().add(0, 4, "../src/a.ts", 7, 2, "tide").json();

  @TempDir Path folder;
  private Path snapshot;
  private Path script;

  @BeforeEach
  void files() throws IOException {
    snapshot = Files.createFile(folder.resolve("a.heapsnapshot"));
    Files.setLastModifiedTime(snapshot, FileTime.fromMillis(System.currentTimeMillis() + 60_000));
    script = Files.createDirectory(folder.resolve("dist")).resolve("a.js");
  }

  private ScriptMap map(String name, Path built) throws IOException {
    byte[] found = MapSearch.of(snapshot.toString(), built).all(Map.of(7, name));
    if (found.length == 0) {
      return null;
    }
    String text = new String(found, StandardCharsets.UTF_8);
    assertThat(text).doesNotContain("sourcesContent");
    try (JsonParser json = V8Format.JSON.createParser(text)) {
      json.nextToken();
      Map<Integer, ScriptMap> all = ScriptMap.readAll(json);
      assertThat(all).containsOnlyKeys(7);
      assertThat(all.get(7).url()).isEqualTo(name);
      return all.get(7);
    }
  }

  private String source(String name, Path built) throws IOException {
    ScriptMap map = map(name, built);
    return map == null ? "" : map.map().original(0, 5).source();
  }

  private String source(String name) throws IOException {
    return source(name, null);
  }

  private Path write(String name, String text) throws IOException {
    Path file = folder.resolve(name);
    Files.createDirectories(file.getParent());
    return Files.writeString(file, text);
  }

  @Test
  void theMapThatTheScriptNames() throws IOException {
    write("dist/a.js", "let tides;\n//# sourceMappingURL=maps/a.json\n");
    write("dist/maps/a.json", MAP);
    assertThat(source(script.toString())).isEqualTo(folder + "/dist/src/a.ts");
    assertThat(source(script.toUri().toString())).isEqualTo(folder + "/dist/src/a.ts");
    assertThat(map(script.toString(), null).written("tides").name()).isEqualTo("tide");
  }

  @Test
  void theMapBesideTheScriptWithoutItsContents() throws IOException {
    write("dist/a.js", "let a;\n");
    String whole = MAP.replace("\"names\"", "\"sourcesContent\":[\"x\",{}],\"more\":[1],\"names\"");
    write("dist/a.js.map", whole);
    assertThat(source(script.toString())).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void theMapWithinTheScript() throws IOException {
    String data = Base64.getEncoder().encodeToString(MAP.getBytes(StandardCharsets.UTF_8));
    write(
        "dist/a.js",
        "let a = '//# sourceMappingURL=none';\n"
            + "//# sourceMappingURL=data:application/json;charset=utf-8;base64,"
            + data);
    assertThat(source(script.toString())).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void partsOfAMap() throws IOException {
    write("dist/a.js", "let a;\n");
    write(
        "dist/a.js.map",
        "{\"sections\":[{\"offset\":{\"line\":0,\"column\":0,\"x\":1},\"map\":" + MAP + "}]}");
    assertThat(source(script.toString())).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void aScriptThatWasWrittenAnewIsNotTheOneThatRan() throws IOException {
    write("dist/a.js", "let a;\n");
    write("dist/a.js.map", MAP);
    Files.setLastModifiedTime(script, FileTime.fromMillis(System.currentTimeMillis() + 120_000));
    assertThat(source(script.toString())).isEmpty();
    // but who names a folder knows
    assertThat(source(script.toString(), folder)).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void inAFolderThePathThatIsMostAlikeCounts() throws IOException {
    write("built/office/app.js", "let tides;\n");
    write("built/office/app.js.map", MAP);
    write("built/quay/app.js.map", MAP);
    write("built/quay/node_modules/x/only.js.map", MAP);
    Path built = folder.resolve("built");
    assertThat(source("http://port-merrow/assets/office/app.js?v=2", built))
        .isEqualTo(built + "/src/a.ts");
    assertThat(source("http://port-merrow/quay/app.js", built)).isEqualTo(built + "/src/a.ts");
    assertThat(map("/srv/office/app.js", built).written("tides").line()).isEqualTo(7);
    assertThat(map("/srv/quay/app.js", built).declared()).isEmpty();
    assertThat(source("http://port-merrow/app.js", built)).isEmpty();
    assertThat(source("http://port-merrow/only.js", built)).isEmpty();
    assertThat(source("", built)).isEmpty();
  }

  @Test
  void aFolderThatIsNone() {
    assertThatThrownBy(() -> MapSearch.of(snapshot.toString(), snapshot))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining("--source-maps");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "no map at all",
        "[1, 2]",
        "{\"mappings\":",
        "{\"version\":3,\"mappings\":\"\"}",
        "{\"version\":3,\"sources\":[\"a\"],\"mappings\":\"AAAA\"} and more"
      })
  void aMapThatIsNone(String text) throws IOException {
    write("dist/a.js", "let a;\n");
    write("dist/a.js.map", text);
    assertThat(map(script.toString(), null)).isNull();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "a.js",
        "//elsewhere/a.js",
        "\\\\elsewhere\\a.js",
        "file://elsewhere/a.js",
        "http://port-merrow/a.js",
        "/dev/zero",
        "/",
        "file:///%",
        "/a\0b"
      })
  void whatIsNoFileOfThisMachine(String name) throws IOException {
    assertThat(source(name)).isEmpty();
  }
}
