package lipsanon.cli.draw;

import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.term.Format;

/** Lines of bytes over snapshots or over time. */
public final class SeriesPicture extends Picture {
  private static final double HEIGHT = 520;
  private static final double LEFT = 90;
  private static final double RIGHT = 30;
  private static final double TOP = 60;
  private static final double BOTTOM = 60;
  private static final int STEPS = 5;
  private static final int MOST_NUMBERS = 20;
  private static final double LEGEND_LINE = 18;
  private static final List<String> COLOURS =
      List.of("#0072b2", "#d55e00", "#009e73", "#cc79a7", "#e69f00", "#5a6472");

  private final String title;
  private final String along;
  private final List<Line> lines;
  private final Format format = new Format(false);

  /**
   * A line.
   *
   * @param name what it is
   * @param xs its places from left to right
   * @param ys bytes
   */
  public record Line(String name, List<Double> xs, List<Double> ys) {}

  /**
   * A picture.
   *
   * @param title over it
   * @param along what runs from left to right
   */
  public SeriesPicture(String title, String along, List<Line> lines) {
    this.title = title;
    this.along = along;
    this.lines = List.copyOf(lines);
  }

  @Override
  double height() {
    return HEIGHT + LEGEND_LINE * lines.size();
  }

  @Override
  void draw(Canvas canvas) {
    double least = Double.MAX_VALUE;
    double most = -Double.MAX_VALUE;
    double top = 1;
    for (Line line : lines) {
      for (double x : line.xs()) {
        least = Math.min(least, x);
        most = Math.max(most, x);
      }
      for (double y : line.ys()) {
        top = Math.max(top, y);
      }
    }
    double from = least == Double.MAX_VALUE ? 0 : least;
    double wide = Math.max(1e-9, most - from);
    canvas.text(LEFT, TOP / 2, fitted(title, WIDTH - LEFT - RIGHT), INK, Canvas.Anchor.START);
    double bottom = HEIGHT - BOTTOM;
    double step = step(top);
    for (double y = 0; y <= top * 1.02; y += step) {
      double at = bottom - (bottom - TOP) * y / (top * 1.02);
      canvas.line(new double[] {LEFT, WIDTH - RIGHT}, new double[] {at, at}, LINE, 1, false);
      canvas.text(LEFT - 8, at + 4, format.size((long) y), SOFT, Canvas.Anchor.END);
    }
    canvas.text(WIDTH / 2, HEIGHT - 16, along, SOFT, Canvas.Anchor.MIDDLE);
    // each snapshot has its number; time is parted in a few steps
    boolean whole = wide <= MOST_NUMBERS;
    int steps = whole ? (int) Math.max(1, Math.round(wide)) : STEPS;
    for (int i = 0; i <= steps; i++) {
      canvas.text(
          LEFT + (WIDTH - LEFT - RIGHT) * i / steps,
          bottom + 20,
          Format.count(Math.round(from + wide * i / steps)),
          SOFT,
          Canvas.Anchor.MIDDLE);
    }
    for (int i = 0; i < lines.size(); i++) {
      Line line = lines.get(i);
      String colour = COLOURS.get(i % COLOURS.size());
      double[] xs = new double[line.xs().size()];
      double[] ys = new double[xs.length];
      for (int k = 0; k < xs.length; k++) {
        xs[k] = LEFT + (WIDTH - LEFT - RIGHT) * (line.xs().get(k) - from) / wide;
        ys[k] = bottom - (bottom - TOP) * line.ys().get(k) / (top * 1.02);
      }
      canvas.line(xs, ys, colour, i == 0 ? 3 : 2, i > 0);
      double at = HEIGHT + LEGEND_LINE * i;
      canvas.line(new double[] {LEFT, LEFT + 30}, new double[] {at - 4, at - 4}, colour, 3, i > 0);
      canvas.text(LEFT + 40, at, fitted(line.name(), WIDTH - LEFT - 60), INK, Canvas.Anchor.START);
    }
  }

  /** A round number of bytes that parts the height in about so many steps. */
  private static double step(double top) {
    double rough = top / STEPS;
    double power = Math.pow(10, Math.floor(Math.log10(Math.max(1, rough))));
    for (double factor : new double[] {1, 2, 5}) {
      if (power * factor >= rough) {
        return power * factor;
      }
    }
    return power * 10;
  }

  /** A line over 1, 2, 3 and so on. */
  public static Line counted(String name, List<Long> bytes) {
    List<Double> xs = new ArrayList<>();
    List<Double> ys = new ArrayList<>();
    for (int i = 0; i < bytes.size(); i++) {
      xs.add(i + 1.0);
      ys.add((double) bytes.get(i));
    }
    return new Line(name, xs, ys);
  }
}
