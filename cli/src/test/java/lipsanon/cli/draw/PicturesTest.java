package lipsanon.cli.draw;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.within;

import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import javax.imageio.ImageIO;
import javax.xml.parsers.DocumentBuilderFactory;
import lipsanon.origin.OriginsAnswer;
import lipsanon.question.KeeperTree;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.w3c.dom.Document;
import org.w3c.dom.Element;
import org.w3c.dom.NodeList;

/** Pictures are well-formed whatever names say, and their areas are what they stand for. */
class PicturesTest {
  private static final String EVIL = "<script>alert(\"&'\")</script>\u0007]]>";

  @TempDir Path folder;

  private Document svg(Picture picture) throws Exception {
    Path file = folder.resolve("p.svg");
    Path png = folder.resolve("p.png");
    picture.write(file, png);
    BufferedImage image = ImageIO.read(png.toFile());
    assertThat(image.getWidth()).isEqualTo((int) Picture.WIDTH);
    assertThat(image.getHeight()).isEqualTo((int) Math.ceil(picture.height()));
    Document document =
        DocumentBuilderFactory.newInstance().newDocumentBuilder().parse(file.toFile());
    assertThat(document.getElementsByTagName("script").getLength()).isZero();
    return document;
  }

  private static List<Element> all(Document document, String tag) {
    NodeList found = document.getElementsByTagName(tag);
    List<Element> list = new ArrayList<>();
    for (int i = 0; i < found.getLength(); i++) {
      list.add((Element) found.item(i));
    }
    return list;
  }

  private static double number(Element element, String name) {
    return Double.parseDouble(element.getAttribute(name));
  }

  private static KeeperTree.Node node(int parent, String id, String kind, long bytes) {
    return new KeeperTree.Node(parent, id, EVIL, EVIL, kind, EVIL, 0, bytes);
  }

  @Test
  void areasAreWhatObjectsRetain() throws Exception {
    Random random = new Random(5);
    List<KeeperTree.Node> nodes = new ArrayList<>();
    long sum = 0;
    for (int i = 0; i < 12; i++) {
      long bytes = 1_000_000L / (i + 1) + random.nextInt(1000);
      nodes.add(node(-1, "0x" + i, i % 2 == 0 ? "own classes" : "text", bytes));
      sum += bytes;
    }
    Document document = svg(new KeepersPicture(new KeeperTree(sum, 1, nodes), ""));
    List<Element> rects = all(document, "rect");
    double whole = (Picture.WIDTH - 20) * (760 - 40 - 10);
    for (int i = 0; i < nodes.size(); i++) {
      Element rect = rects.get(i + 1);
      double area = (number(rect, "width") + 1) * (number(rect, "height") + 1);
      assertThat(area / whole)
          .isCloseTo((double) nodes.get(i).retainedBytes() / sum, within(0.002));
      assertThat(number(rect, "x") + number(rect, "width")).isLessThan(Picture.WIDTH);
    }
  }

  @Test
  void oneObjectWithWhatItKeeps() throws Exception {
    List<KeeperTree.Node> nodes =
        List.of(
            node(-1, "0xa", "own classes", 800),
            node(-1, "0xb", "text", 200),
            node(0, "0xc", "arrays", 500));
    KeeperTree tree = new KeeperTree(1000, 1, nodes);
    Document document = svg(new KeepersPicture(tree, "0xa"));
    assertThat(all(document, "text").get(0).getTextContent()).contains("0xa, 800 B");
    assertThat(all(document, "rect").get(1).getAttribute("fill")).isEqualTo("#f0e442");
    assertThatThrownBy(() -> new KeepersPicture(tree, "0xdead"))
        .hasMessageContaining("too little to be drawn");
  }

  @Test
  void framesAreAsWideAsTheirBytes() throws Exception {
    List<OriginsAnswer.StackRow> rows =
        List.of(
            new OriginsAnswer.StackRow(0, EVIL, 4, 400, 1),
            new OriginsAnswer.StackRow(1, EVIL, 3, 300, 0.75),
            new OriginsAnswer.StackRow(2, EVIL, 1, 100, 0.25),
            new OriginsAnswer.StackRow(1, EVIL, 1, 100, 0.25));
    List<Element> rects = all(svg(new StacksPicture(EVIL, rows)), "rect");
    double whole = number(rects.get(1), "width") + 1;
    assertThat(whole).isCloseTo(Picture.WIDTH - 20, within(0.1));
    for (int i = 0; i < rows.size(); i++) {
      double part = (number(rects.get(i + 1), "width") + 1) / whole;
      assertThat(part).isCloseTo(rows.get(i).bytes() / 400.0, within(0.001));
    }
    // the second frame above begins where the first one ends
    assertThat(number(rects.get(4), "x"))
        .isCloseTo(number(rects.get(2), "x") + number(rects.get(2), "width") + 1, within(0.2));
    assertThat(number(rects.get(3), "y")).isLessThan(number(rects.get(2), "y"));
  }

  @Test
  void linesRiseWhereBytesDo() throws Exception {
    List<SeriesPicture.Line> lines =
        List.of(
            SeriesPicture.counted(EVIL, List.of(10_000L, 20_000L, 40_000L)),
            SeriesPicture.counted("flat", List.of(5L, 5L, 5L)));
    Document document = svg(new SeriesPicture(EVIL, "snapshot", lines));
    Element line =
        all(document, "polyline").stream()
            .filter(one -> one.getAttribute("points").trim().split(" ").length == 3)
            .findFirst()
            .orElseThrow();
    String[] points = line.getAttribute("points").trim().split(" ");
    double[] ys = new double[3];
    for (int i = 0; i < 3; i++) {
      ys[i] = Double.parseDouble(points[i].split(",")[1]);
    }
    assertThat((ys[0] - ys[1]) * 2).isCloseTo(ys[1] - ys[2], within(0.5));
    // nothing at all is a picture too
    svg(new SeriesPicture("", "", List.of()));
    svg(new StacksPicture("", List.of()));
    svg(new KeepersPicture(new KeeperTree(0, 1, List.of()), ""));
    assertThat(Files.list(folder)).hasSize(2);
  }
}
