package lipsanon.cli.draw;

import java.io.IOException;
import java.nio.file.Path;

/** Something that can be drawn to a file. */
public abstract class Picture {
  static final double WIDTH = 1200;
  static final double LETTERS = 13;

  /** Wide enough for most letters of that size. */
  static final double LETTER = 7.2;

  static final String INK = "#1d2430";
  static final String SOFT = "#5a6472";
  static final String LINE = "#d8dce2";

  /** Only the pictures of this package. */
  Picture() {}

  abstract double height();

  abstract void draw(Canvas canvas);

  /** Writes it as SVG, as PNG, or both; null leaves one out. */
  public final void write(Path svg, Path png) throws IOException {
    if (svg != null) {
      SvgCanvas canvas = new SvgCanvas(WIDTH, height(), LETTERS);
      draw(canvas);
      PictureFile.write(svg, out -> out.write(canvas.bytes()));
    }
    if (png != null) {
      ImageCanvas canvas = new ImageCanvas(WIDTH, height(), LETTERS);
      draw(canvas);
      PictureFile.write(png, canvas::write);
    }
  }

  /** A text cut so that it fits in so many pixels. */
  static String fitted(String text, double width) {
    int letters = (int) (width / LETTER);
    return letters < 3
        ? ""
        : text.length() <= letters ? text : text.substring(0, letters - 1) + "…";
  }

  /** A type without its package and without its arguments. */
  static String shortName(String type) {
    String bare = type.replaceAll("<.*>", "<…>");
    int dot = bare.lastIndexOf('.');
    return dot < 0 || bare.startsWith("v8:") ? bare : bare.substring(dot + 1);
  }

  /** The colour of a kind of thing: told apart by colour-blind people too. */
  static String colour(String kind) {
    return switch (kind) {
      case "own classes" -> "#0072b2";
      case "libraries" -> "#56b4e9";
      case "text" -> "#e69f00";
      case "arrays" -> "#f0e442";
      case "collections" -> "#009e73";
      case "boxed numbers" -> "#cc79a7";
      case "code" -> "#d55e00";
      default -> "#8c939c";
    };
  }

  /** The colour of a text on that one. */
  static String inkOn(String kind) {
    return switch (kind) {
      case "own classes", "collections", "code" -> "#ffffff";
      default -> "#111111";
    };
  }
}
