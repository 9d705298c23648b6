package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Base64;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class MapsOnDiskTest {
  private static final String MAP = new MapBuilder().add(0, 4, "../src/a.ts", 7, 2, null).json();

  @TempDir Path folder;
  private Path snapshot;
  private Path script;

  @BeforeEach
  void files() throws IOException {
    snapshot = Files.createFile(folder.resolve("a.heapsnapshot"));
    Files.setLastModifiedTime(snapshot, FileTime.fromMillis(System.currentTimeMillis() + 60_000));
    script = Files.createDirectory(folder.resolve("dist")).resolve("a.js");
  }

  private String source(String name) {
    SourceMap map = MapsOnDisk.olderThan(snapshot.toString()).of(name);
    return map == null ? "" : map.original(0, 5).source();
  }

  private void write(Path file, String text) throws IOException {
    Files.createDirectories(file.getParent());
    Files.writeString(file, text);
  }

  @Test
  void theMapThatTheScriptNames() throws IOException {
    write(script, "let a;\n//# sourceMappingURL=maps/a.json\n");
    write(folder.resolve("dist/maps/a.json"), MAP);
    assertThat(source(script.toString())).isEqualTo(folder + "/dist/src/a.ts");
    assertThat(source(script.toUri().toString())).isEqualTo(folder + "/dist/src/a.ts");
  }

  @Test
  void theMapBesideTheScript() throws IOException {
    write(script, "let a;\n");
    write(folder.resolve("dist/a.js.map"), MAP);
    assertThat(source(script.toString())).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void theMapWithinTheScript() throws IOException {
    String data = Base64.getEncoder().encodeToString(MAP.getBytes(StandardCharsets.UTF_8));
    write(
        script,
        "let a = '//# sourceMappingURL=none';\n"
            + "//# sourceMappingURL=data:application/json;charset=utf-8;base64,"
            + data);
    assertThat(source(script.toString())).isEqualTo(folder + "/src/a.ts");
  }

  @Test
  void aScriptThatWasWrittenAnewIsNotTheOneThatRan() throws IOException {
    write(script, "let a;\n");
    write(folder.resolve("dist/a.js.map"), MAP);
    Files.setLastModifiedTime(script, FileTime.fromMillis(System.currentTimeMillis() + 120_000));
    assertThat(source(script.toString())).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "no map at all",
        "[1, 2]",
        "{\"mappings\":",
        "{\"version\":3,\"mappings\":\"AAAA\"}"
      })
  void aMapThatIsNone(String text) throws IOException {
    write(script, "let a;\n");
    write(folder.resolve("dist/a.js.map"), text);
    SourceMap map = MapsOnDisk.olderThan(snapshot.toString()).of(script.toString());
    assertThat(map == null ? null : map.original(0, 0)).isNull();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "", "a.js", "//elsewhere/a.js", "\\\\elsewhere\\a.js", "file://elsewhere/a.js",
        "http://port-merrow/a.js", "/dev/zero", "/", "file:///%", "/a\0b"
      })
  void whatIsNoFileOfThisMachine(String name) {
    assertThat(source(name)).isEmpty();
  }
}
