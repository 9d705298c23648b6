package lipsanon.cli.command;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Lines of source, found by whatever name the runtime has for the script. */
class SourceLinesTest {
  @TempDir Path folder;
  private SourceLines lines;

  @BeforeEach
  void write() throws IOException {
    write("harbour/berths.js", "harbour");
    write("office/berths.js", "office");
    write("node_modules/berths.js", "library");
    write("office/tide.js", "tide");
    lines = new SourceLines(folder);
  }

  private void write(String name, String word) throws IOException {
    Path file = folder.resolve(name);
    Files.createDirectories(file.getParent());
    Files.writeString(
        file,
        IntStream.rangeClosed(1, 9)
            .mapToObj(i -> word + " line " + i)
            .collect(Collectors.joining("\n")));
  }

  @Test
  void theLineWithItsNeighbours() throws Exception {
    assertThat(lines.around("/srv/app/office/tide.js", 5))
        .containsExactly(
            "|     3  tide line 3",
            "|     4  tide line 4",
            ">     5  tide line 5",
            "|     6  tide line 6",
            "|     7  tide line 7");
    assertThat(lines.around("tide.js", 1)).hasSize(3).first().isEqualTo(">     1  tide line 1");
    assertThat(lines.around("tide.js", 9)).hasSize(3).last().isEqualTo(">     9  tide line 9");
  }

  @Test
  void theFileThatSharesMostOfThePath() throws Exception {
    assertThat(lines.around("file:///build/office/berths.js", 1).get(0)).contains("office");
    assertThat(lines.around("http://127.0.0.1:80/harbour/berths.js?v=3#x", 1).get(0))
        .contains("harbour");
    assertThat(lines.around("berths.js", 1).get(0)).doesNotContain("library");
  }

  @Test
  void whatIsNotThereIsNotGuessed() throws Exception {
    assertThat(lines.around("pilots.js", 1)).isEmpty();
    assertThat(lines.around("tide.js", 0)).isEmpty();
    assertThat(lines.around("tide.js", -1)).isEmpty();
    assertThat(lines.around("", 1)).isEmpty();
  }

  @Test
  void longLinesAndOtherEncodings() throws Exception {
    Files.write(
        folder.resolve("wide.js"),
        ("über\t" + "x".repeat(5000)).getBytes(java.nio.charset.StandardCharsets.UTF_8));
    String shown = new SourceLines(folder).around("wide.js", 1).get(0);
    assertThat(shown).startsWith(">     1  über x").endsWith("…").hasSizeLessThan(180);
  }
}
