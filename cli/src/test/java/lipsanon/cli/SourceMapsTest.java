package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A snapshot that Node.js wrote itself of a bundled script whose map lies elsewhere. */
class SourceMapsTest {
  private static final Path PAGES = Path.of("src/test/resources/pages");

  @TempDir Path folder;

  private void copy(String name, Path to) throws IOException {
    Files.createDirectories(to);
    Files.copy(PAGES.resolve(name), to.resolve(name));
  }

  @BeforeEach
  void snapshot() throws Exception {
    copy("bundled.js", folder);
    copy("bundled.js", folder.resolve("built/web"));
    copy("bundled.js.map", folder.resolve("built/web"));
    String program =
        "global.window = { addEventListener() {} }; require('./bundled.js');"
            + "for (let i = 0; i < 30000; i++) window.act();"
            + "require('v8').writeHeapSnapshot('office.heapsnapshot');";
    Process node =
        new ProcessBuilder("node", "-e", program).directory(folder.toFile()).inheritIO().start();
    assertThat(node.waitFor()).isZero();
  }

  private String survey(String... more) throws Exception {
    String[] words = new String[more.length + 2];
    words[0] = "survey";
    words[1] = "office.heapsnapshot";
    System.arraycopy(more, 0, words, 2, more.length);
    Tool.Result result = Tool.run(folder, words);
    assertThat(result.code()).as(result.both()).isZero();
    return result.out();
  }

  @Test
  void theFolderOfTheBuiltScriptsIsNamedOnce() throws Exception {
    assertThat(survey()).contains("office.heapsnapshot").doesNotContain("VesselCall");
    String told = "variable `calls` at the top level of berths.js:8";
    assertThat(survey("--source-maps", "built").replaceAll("\\s+", " "))
        .contains("VesselCall", told)
        .doesNotContain("bundled.js");
    // the index keeps them
    assertThat(survey().replaceAll("\\s+", " ")).contains("VesselCall", told);
  }

  @Test
  void aFolderThatIsNotThere() throws Exception {
    Tool.Result result =
        Tool.run(folder, "survey", "office.heapsnapshot", "--source-maps", "nowhere");
    assertThat(result.code()).isEqualTo(3);
    assertThat(result.err().lines()).hasSize(1);
    assertThat(result.err()).contains("nowhere", "is no folder");
  }
}
