package lipsanon.cli.draw;

/**
 * What pictures are drawn on: the same strokes become SVG or pixels. All in pixels from the top.
 */
interface Canvas {
  /** How a text stands to its place. */
  enum Anchor {
    START,
    MIDDLE,
    END
  }

  /** A filled rectangle. */
  void rect(double x, double y, double width, double height, String fill);

  /** A line through points. */
  void line(double[] xs, double[] ys, String colour, double width, boolean dashed);

  /** A text on its base line. */
  void text(double x, double y, String text, String colour, Anchor anchor);
}
