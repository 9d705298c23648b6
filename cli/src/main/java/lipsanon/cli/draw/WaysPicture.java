package lipsanon.cli.draw;

import com.mxgraph.layout.hierarchical.mxHierarchicalLayout;
import com.mxgraph.model.mxCell;
import com.mxgraph.model.mxGeometry;
import com.mxgraph.util.mxPoint;
import com.mxgraph.view.mxGraph;
import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Path2D;
import java.awt.geom.RoundRectangle2D;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import javax.imageio.ImageIO;
import javax.swing.SwingConstants;

/**
 * Draws merged paths from the roots down. Where boxes go is JGraphX's hierarchical layout; what is
 * drawn is ours, the same in SVG and PNG.
 */
public final class WaysPicture {
  private static final double LETTER = 7.0;
  private static final double LINE = 17;
  private static final double PAD = 12;
  private static final double MARGIN = 24;

  /** Space for arrows and their texts. */
  private static final double RANKS_APART = 64;

  /** Pixels of a picture at most, so that a wide heap does not exhaust memory. */
  private static final double MOST_PIXELS = 6e7;

  private final Ways ways;
  private final List<mxGeometry> places = new ArrayList<>();
  private final double width;
  private final double height;

  private WaysPicture(Ways ways) {
    this.ways = ways;
    mxGraph graph = new mxGraph();
    List<Object> cells = new ArrayList<>();
    graph.getModel().beginUpdate();
    for (Ways.Box box : ways.boxes()) {
      double wide = box.lines().stream().mapToInt(String::length).max().orElse(1);
      // the arrow's text stands above the box, and must not run into its neighbour's
      wide = Math.max(wide, box.arrow().length());
      cells.add(
          graph.insertVertex(
              null, null, "", 0, 0, wide * LETTER + 2 * PAD, box.lines().size() * LINE + PAD));
    }
    for (int i = 0; i < cells.size(); i++) {
      int parent = ways.boxes().get(i).parent();
      if (parent >= 0) {
        graph.insertEdge(null, null, "", cells.get(parent), cells.get(i));
      }
    }
    graph.getModel().endUpdate();
    mxHierarchicalLayout layout = new mxHierarchicalLayout(graph, SwingConstants.NORTH);
    layout.setInterRankCellSpacing(RANKS_APART);
    layout.setIntraCellSpacing(18);
    layout.execute(graph.getDefaultParent());
    double right = 0;
    double bottom = 0;
    for (Object cell : cells) {
      mxGeometry place = ((mxCell) cell).getGeometry();
      places.add(place);
      right = Math.max(right, place.getX() + place.getWidth());
      bottom = Math.max(bottom, place.getY() + place.getHeight());
    }
    this.width = right + 2 * MARGIN;
    this.height = bottom + 2 * MARGIN;
  }

  /** The colour of a box: told apart by light as well as by hue. */
  static String fill(Ways.Kind kind) {
    return switch (kind) {
      case ROOT -> "#d9d9d9";
      case OWN -> "#9ecae1";
      case OTHER -> "#ffffff";
      case MEMBER -> "#fdd49e";
    };
  }

  private static mxPoint from(mxGeometry place) {
    return new mxPoint(
        MARGIN + place.getX() + place.getWidth() / 2, MARGIN + place.getY() + place.getHeight());
  }

  private static mxPoint to(mxGeometry place) {
    return new mxPoint(MARGIN + place.getX() + place.getWidth() / 2, MARGIN + place.getY());
  }

  /** Where the text of the arrow to a box begins: above the box, at its left edge. */
  private double arrowTextStart(int box) {
    return MARGIN + places.get(box).getX() + 2;
  }

  /** Writes the picture as SVG. */
  public static void svg(Ways ways, OutputStream out) throws IOException {
    WaysPicture picture = new WaysPicture(ways);
    StringBuilder svg = new StringBuilder();
    svg.append(
        String.format(
            Locale.ROOT,
            "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.0f\" height=\"%.0f\""
                + " font-family=\"monospace\" font-size=\"11.5\">%n"
                + "<rect width=\"100%%\" height=\"100%%\" fill=\"white\"/>%n",
            picture.width,
            picture.height));
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.svgArrow(i, svg);
    }
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.svgArrowText(i, svg);
    }
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.svgBox(i, svg);
    }
    out.write(svg.append("</svg>\n").toString().getBytes(StandardCharsets.UTF_8));
  }

  private void svgArrow(int i, StringBuilder svg) {
    Ways.Box box = ways.boxes().get(i);
    if (box.parent() < 0) {
      return;
    }
    mxPoint a = from(places.get(box.parent()));
    mxPoint b = to(places.get(i));
    double bend = (a.getY() + b.getY()) / 2;
    svg.append(
        String.format(
            Locale.ROOT,
            "<path d=\"M%.1f %.1f C%.1f %.1f %.1f %.1f %.1f %.1f\" fill=\"none\""
                + " stroke=\"#555\"/><path d=\"M%.1f %.1f l-4 -8 h8 z\" fill=\"#555\"/>%n",
            a.getX(),
            a.getY(),
            a.getX(),
            bend,
            b.getX(),
            bend,
            b.getX(),
            b.getY() - 6,
            b.getX(),
            b.getY()));
  }

  private void svgArrowText(int i, StringBuilder svg) {
    Ways.Box box = ways.boxes().get(i);
    if (box.parent() < 0) {
      return;
    }
    mxPoint b = to(places.get(i));
    svg.append(
        String.format(
            Locale.ROOT,
            "<text x=\"%.1f\" y=\"%.1f\" fill=\"#333\" stroke=\"white\""
                + " stroke-width=\"3\" paint-order=\"stroke\">%s</text>%n",
            arrowTextStart(i),
            b.getY() - 11,
            escaped(box.arrow())));
  }

  private void svgBox(int i, StringBuilder svg) {
    Ways.Box box = ways.boxes().get(i);
    mxGeometry place = places.get(i);
    double x = MARGIN + place.getX();
    double y = MARGIN + place.getY();
    svg.append(
        String.format(
            Locale.ROOT,
            "<rect x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\" rx=\"4\""
                + " fill=\"%s\" stroke=\"#333\"/>%n",
            x,
            y,
            place.getWidth(),
            place.getHeight(),
            fill(box.kind())));
    for (int k = 0; k < box.lines().size(); k++) {
      svg.append(
          String.format(
              Locale.ROOT,
              "<text x=\"%.1f\" y=\"%.1f\">%s</text>%n",
              x + PAD,
              y + PAD / 2 + LINE * (k + 0.75),
              escaped(box.lines().get(k))));
    }
  }

  /** Texts come from snapshots: nothing in them may act as markup. */
  /** A text as it may stand in SVG. */
  static String escaped(String text) {
    return text.replace("&", "&amp;")
        .replace("<", "&lt;")
        .replace(">", "&gt;")
        .replace("\"", "&quot;");
  }

  /** Writes the picture as PNG. */
  public static void png(Ways ways, OutputStream out) throws IOException {
    // no display is needed, and none must be looked for
    System.setProperty("java.awt.headless", "true");
    WaysPicture picture = new WaysPicture(ways);
    double scale = Math.min(1.5, Math.sqrt(MOST_PIXELS / (picture.width * picture.height)));
    BufferedImage image =
        new BufferedImage(
            (int) Math.ceil(picture.width * scale),
            (int) Math.ceil(picture.height * scale),
            BufferedImage.TYPE_INT_RGB);
    Graphics2D pen = image.createGraphics();
    pen.setColor(Color.WHITE);
    pen.fillRect(0, 0, image.getWidth(), image.getHeight());
    pen.scale(scale, scale);
    pen.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    pen.setRenderingHint(
        RenderingHints.KEY_TEXT_ANTIALIASING, RenderingHints.VALUE_TEXT_ANTIALIAS_ON);
    pen.setFont(new Font(Font.MONOSPACED, Font.PLAIN, 12).deriveFont(11.5f));
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.arrow(i, pen);
    }
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.arrowText(i, pen);
    }
    for (int i = 0; i < ways.boxes().size(); i++) {
      picture.box(i, pen);
    }
    pen.dispose();
    ImageIO.write(image, "png", out);
  }

  private void arrow(int i, Graphics2D pen) {
    Ways.Box box = ways.boxes().get(i);
    if (box.parent() < 0) {
      return;
    }
    mxPoint a = from(places.get(box.parent()));
    mxPoint b = to(places.get(i));
    double bend = (a.getY() + b.getY()) / 2;
    Path2D.Double line = new Path2D.Double();
    line.moveTo(a.getX(), a.getY());
    line.curveTo(a.getX(), bend, b.getX(), bend, b.getX(), b.getY() - 6);
    pen.setColor(new Color(0x555555));
    pen.setStroke(new BasicStroke(1));
    pen.draw(line);
    Path2D.Double head = new Path2D.Double();
    head.moveTo(b.getX(), b.getY());
    head.lineTo(b.getX() - 4, b.getY() - 8);
    head.lineTo(b.getX() + 4, b.getY() - 8);
    head.closePath();
    pen.fill(head);
  }

  private void arrowText(int i, Graphics2D pen) {
    String text = ways.boxes().get(i).arrow();
    if (text.isEmpty()) {
      return;
    }
    float x = (float) arrowTextStart(i);
    float y = (float) to(places.get(i)).getY() - 11;
    pen.setColor(Color.WHITE);
    pen.fillRect((int) x - 2, (int) y - 11, pen.getFontMetrics().stringWidth(text) + 4, 14);
    pen.setColor(new Color(0x333333));
    pen.drawString(text, x, y);
  }

  private void box(int i, Graphics2D pen) {
    Ways.Box box = ways.boxes().get(i);
    mxGeometry place = places.get(i);
    double x = MARGIN + place.getX();
    double y = MARGIN + place.getY();
    RoundRectangle2D.Double shape =
        new RoundRectangle2D.Double(x, y, place.getWidth(), place.getHeight(), 8, 8);
    pen.setColor(Color.decode(fill(box.kind())));
    pen.fill(shape);
    pen.setColor(new Color(0x333333));
    pen.draw(shape);
    pen.setColor(Color.BLACK);
    for (int k = 0; k < box.lines().size(); k++) {
      pen.drawString(
          box.lines().get(k), (float) (x + PAD), (float) (y + PAD / 2 + LINE * (k + 0.75)));
    }
  }
}
