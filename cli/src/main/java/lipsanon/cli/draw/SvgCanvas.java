package lipsanon.cli.draw;

import java.nio.charset.StandardCharsets;
import java.util.Locale;
import lipsanon.cli.term.SafeText;

/** Draws as SVG. Texts are escaped: a heap's names are never markup. */
final class SvgCanvas implements Canvas {
  private final StringBuilder svg = new StringBuilder();

  SvgCanvas(double width, double height, double letters) {
    add(
        "<svg xmlns=\"http://www.w3.org/2000/svg\" width=\"%.0f\" height=\"%.0f\""
            + " viewBox=\"0 0 %.0f %.0f\" font-family=\"sans-serif\" font-size=\"%.1f\">%n",
        width, height, width, height, letters);
    rect(0, 0, width, height, "#ffffff");
  }

  private void add(String format, Object... values) {
    svg.append(String.format(Locale.ROOT, format, values));
  }

  @Override
  public void rect(double x, double y, double width, double height, String fill) {
    add(
        "<rect x=\"%.1f\" y=\"%.1f\" width=\"%.1f\" height=\"%.1f\" fill=\"%s\"/>%n",
        x, y, width, height, fill);
  }

  @Override
  public void line(double[] xs, double[] ys, String colour, double width, boolean dashed) {
    svg.append("<polyline points=\"");
    for (int i = 0; i < xs.length; i++) {
      add("%.1f,%.1f ", xs[i], ys[i]);
    }
    add(
        "\" fill=\"none\" stroke=\"%s\" stroke-width=\"%.1f\"%s/>%n",
        colour, width, dashed ? " stroke-dasharray=\"6 4\"" : "");
  }

  @Override
  public void text(double x, double y, String text, String colour, Anchor anchor) {
    String where =
        switch (anchor) {
          case START -> "start";
          case MIDDLE -> "middle";
          case END -> "end";
        };
    add(
        "<text x=\"%.1f\" y=\"%.1f\" fill=\"%s\" text-anchor=\"%s\">%s</text>%n",
        x, y, colour, where, WaysPicture.escaped(SafeText.visible(text)));
  }

  byte[] bytes() {
    return (svg + "</svg>\n").getBytes(StandardCharsets.UTF_8);
  }
}
