package lipsanon.cli.watch;

import java.util.ArrayList;
import java.util.List;
import org.jline.utils.AttributedString;
import org.jline.utils.AttributedStringBuilder;
import org.jline.utils.AttributedStyle;

/**
 * Lines over time in a field of characters: with Braille patterns, two by four dots a character, or
 * with plain characters where the encoding has no others.
 */
final class Chart {
  private static final int BRAILLE = 0x2800;

  /** The bit of a dot by its row in the character, for the left and the right column. */
  private static final int[][] DOT = {{0x01, 0x02, 0x04, 0x40}, {0x08, 0x10, 0x20, 0x80}};

  /**
   * A line.
   *
   * @param points instants and values, ascending
   * @param steps whether a value holds until the next one; else the points are joined
   * @param style how it is drawn
   * @param plain the character for it where there are no dots
   */
  record Line(List<long[]> points, boolean steps, AttributedStyle style, char plain) {}

  private final int columns;
  private final int rows;
  private final boolean dots;
  private final int[][] bits;
  private final AttributedStyle[][] styles;
  private final char[][] plains;
  private final long from;
  private final long to;
  private final long low;
  private final long high;

  /** A field of so many characters for what happened between two instants, and two values. */
  Chart(int columns, int rows, boolean dots, long from, long to, long low, long high) {
    this.columns = columns;
    this.rows = rows;
    this.dots = dots;
    this.bits = new int[rows][columns];
    this.styles = new AttributedStyle[rows][columns];
    this.plains = new char[rows][columns];
    this.from = from;
    this.to = Math.max(from + 1, to);
    this.low = low;
    this.high = Math.max(low + 1, high);
  }

  /** The column of an instant, in characters; it may lie outside. */
  int column(long at) {
    return (int) Math.floor((at - from) / (double) (to - from) * (columns - 1) + 0.5);
  }

  /** Draws a line over what is there. */
  void draw(Line line) {
    int fine = dots ? 2 : 1;
    int width = columns * fine;
    double last = Double.NaN;
    int lastX = -1;
    int next = 0;
    List<long[]> points = line.points();
    for (int x = 0; x < width; x++) {
      double at = from + (to - from) * (x + 0.5) / width;
      while (next < points.size() && points.get(next)[0] <= at) {
        next++;
      }
      if (next == 0) {
        continue;
      }
      double value = points.get(next - 1)[1];
      if (!line.steps() && next < points.size()) {
        long[] a = points.get(next - 1);
        long[] b = points.get(next);
        value += (b[1] - a[1]) * (at - a[0]) / (double) Math.max(1, b[0] - a[0]);
      }
      int y = y(value);
      int lastY = lastX < 0 ? y : y(last);
      for (int at2 = Math.min(y, lastY); at2 <= Math.max(y, lastY); at2++) {
        dot(x, at2, line);
      }
      last = value;
      lastX = x;
    }
  }

  private int y(double value) {
    int height = rows * (dots ? 4 : 1);
    double share = (value - low) / (high - low);
    return (int) Math.round((1 - Math.max(0, Math.min(1, share))) * (height - 1));
  }

  private void dot(int x, int y, Line line) {
    int column = dots ? x / 2 : x;
    int row = dots ? y / 4 : y;
    if (dots) {
      bits[row][column] |= DOT[x % 2][y % 4];
    }
    plains[row][column] = line.plain();
    styles[row][column] = line.style();
  }

  /** The rows, from above. */
  List<AttributedString> rows() {
    List<AttributedString> all = new ArrayList<>();
    for (int r = 0; r < rows; r++) {
      AttributedStringBuilder text = new AttributedStringBuilder();
      for (int c = 0; c < columns; c++) {
        AttributedStyle style = styles[r][c];
        if (style == null) {
          text.style(AttributedStyle.DEFAULT).append(' ');
        } else {
          text.style(style).append(dots ? (char) (BRAILLE + bits[r][c]) : plains[r][c]);
        }
      }
      all.add(text.toAttributedString());
    }
    return all;
  }
}
