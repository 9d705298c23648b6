package lipsanon.cli.draw;

import java.awt.BasicStroke;
import java.awt.Color;
import java.awt.Font;
import java.awt.Graphics2D;
import java.awt.RenderingHints;
import java.awt.geom.Path2D;
import java.awt.geom.Rectangle2D;
import java.awt.image.BufferedImage;
import java.io.IOException;
import java.io.OutputStream;
import javax.imageio.ImageIO;
import lipsanon.cli.term.SafeText;

/** Draws pixels. */
final class ImageCanvas implements Canvas {
  private static final float[] DASHES = {6, 4};

  private final BufferedImage image;
  private final Graphics2D graphics;

  ImageCanvas(double width, double height, double letters) {
    image =
        new BufferedImage(
            (int) Math.ceil(width), (int) Math.ceil(height), BufferedImage.TYPE_INT_RGB);
    graphics = image.createGraphics();
    graphics.setRenderingHint(RenderingHints.KEY_ANTIALIASING, RenderingHints.VALUE_ANTIALIAS_ON);
    graphics.setFont(new Font(Font.SANS_SERIF, Font.PLAIN, (int) Math.round(letters)));
    rect(0, 0, width, height, "#ffffff");
  }

  @Override
  public void rect(double x, double y, double width, double height, String fill) {
    graphics.setColor(Color.decode(fill));
    graphics.fill(new Rectangle2D.Double(x, y, width, height));
  }

  @Override
  public void line(double[] xs, double[] ys, String colour, double width, boolean dashed) {
    Path2D path = new Path2D.Double();
    for (int i = 0; i < xs.length; i++) {
      if (i == 0) {
        path.moveTo(xs[i], ys[i]);
      } else {
        path.lineTo(xs[i], ys[i]);
      }
    }
    graphics.setColor(Color.decode(colour));
    graphics.setStroke(
        new BasicStroke(
            (float) width,
            BasicStroke.CAP_ROUND,
            BasicStroke.JOIN_ROUND,
            1,
            dashed ? DASHES : null,
            0));
    graphics.draw(path);
  }

  @Override
  public void text(double x, double y, String text, String colour, Anchor anchor) {
    String shown = SafeText.visible(text);
    double wide = graphics.getFontMetrics().stringWidth(shown);
    double from =
        switch (anchor) {
          case START -> x;
          case MIDDLE -> x - wide / 2;
          case END -> x - wide;
        };
    graphics.setColor(Color.decode(colour));
    graphics.drawString(shown, (float) from, (float) y);
  }

  void write(OutputStream out) throws IOException {
    ImageIO.write(image, "png", out);
  }
}
