package lipsanon.cli.draw;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import lipsanon.label.TypeFilter;
import lipsanon.question.WaysAnswer;
import lipsanon.question.WhyAnswer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;

/** Pictures of merged paths. */
class WaysTest {
  private static final String HOSTILE = "\"]; <script>alert('tide')</script> & \\\u001b[31m";

  @TempDir Path folder;

  private static WaysAnswer.Node node(
      int number, int parent, String via, String type, String label, long leadsTo, long members) {
    return new WaysAnswer.Node(
        number, parent, via, type, label, "0x" + number, 1, leadsTo, members, false);
  }

  private static Ways ways(List<WaysAnswer.Node> nodes) {
    WhyAnswer answer =
        new WhyAnswer(
            null, "x", 3, 3, 0, List.of(), 0, List.of(), new WaysAnswer(nodes, 0), List.of(), "");
    return Ways.of(answer, TypeFilter.ALL, null);
  }

  private static List<WaysAnswer.Node> quay() {
    return List.of(
        node(0, -1, "root: thread", "harbour.Office", "", 3, 0),
        node(1, 0, "harbour.Office.board", "harbour.Board", HOSTILE, 3, 0),
        node(2, 1, "harbour.Board.north", "harbour.List", "", 2, 0),
        node(3, 2, "[]", "harbour.Berth", HOSTILE, 2, 2),
        node(4, 1, HOSTILE, "harbour.Berth", "", 1, 1));
  }

  private static Document parse(byte[] svg) throws Exception {
    return DocumentBuilderFactory.newInstance()
        .newDocumentBuilder()
        .parse(new ByteArrayInputStream(svg));
  }

  @Test
  void aWayThatDoesNotBranchIsOneBox() {
    // root; office and board in one; list; berths of the list; the berth apart
    assertThat(ways(quay()).boxes()).hasSize(5);
    assertThat(ways(quay()).boxes().get(1).lines()).hasSize(2);
  }

  @Test
  void hostileTextsStayTexts() throws Exception {
    ByteArrayOutputStream svg = new ByteArrayOutputStream();
    WaysPicture.svg(ways(quay()), svg);
    Document document = parse(svg.toByteArray());
    assertThat(document.getElementsByTagName("script").getLength()).isZero();
    assertThat(document.getElementsByTagName("rect").getLength()).isEqualTo(6);
    assertThat(svg.toString(StandardCharsets.UTF_8)).doesNotContain("\u001b");
    String dot = ways(quay()).dot();
    // every quote inside a text has its backslash: the number of others is even on each line
    for (String line : dot.split("\n")) {
      String without = line.replace("\\\\", "").replace("\\\"", "");
      assertThat(without.chars().filter(c -> c == '"').count() % 2).as(line).isZero();
    }
  }

  @Test
  void veryManyBoxesDoNotExhaustMemory() throws Exception {
    List<WaysAnswer.Node> wide = new ArrayList<>();
    wide.add(node(0, -1, "root: thread", "harbour.Office", "", 400, 0));
    for (int i = 1; i <= 400; i++) {
      wide.add(node(i, 0, "harbour.Office.berth" + i, "harbour.Berth".repeat(9), "", 1, 1));
    }
    ByteArrayOutputStream png = new ByteArrayOutputStream();
    WaysPicture.png(ways(wide), png);
    var image = ImageIO.read(new ByteArrayInputStream(png.toByteArray()));
    assertThat((long) image.getWidth() * image.getHeight()).isLessThan(61_000_000);
  }

  @Test
  void aFileIsWrittenWholeOrNotAtAll() throws Exception {
    Path file = folder.resolve("ways.svg");
    Files.writeString(file, "old");
    try {
      PictureFile.write(
          file,
          out -> {
            out.write(1);
            throw new java.io.IOException("the disk is full");
          });
    } catch (java.io.IOException e) {
      assertThat(e).hasMessage("the disk is full");
    }
    assertThat(file).hasContent("old");
    try (var files = Files.list(folder)) {
      assertThat(files).containsExactly(file);
    }
  }
}
