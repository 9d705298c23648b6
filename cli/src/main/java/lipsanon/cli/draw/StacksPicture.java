package lipsanon.cli.draw;

import java.util.ArrayList;
import java.util.List;
import lipsanon.origin.OriginsAnswer;

/** Call stacks: each frame as wide as what was allocated in it and below it. */
public final class StacksPicture extends Picture {
  private static final double ROW = 20;
  private static final double TOP = 40;
  private static final double NARROWEST = 0.6;
  private static final List<String> COLOURS = List.of("#e69f00", "#f0c04a", "#d98a2b", "#f0e442");

  private final String title;
  private final List<OriginsAnswer.StackRow> rows;
  private final int deepest;

  /** A picture. */
  public StacksPicture(String title, List<OriginsAnswer.StackRow> rows) {
    this.title = title;
    this.rows = List.copyOf(rows);
    this.deepest = rows.stream().mapToInt(OriginsAnswer.StackRow::depth).max().orElse(0) + 1;
  }

  @Override
  double height() {
    return TOP + ROW * deepest + 10;
  }

  @Override
  void draw(Canvas canvas) {
    canvas.text(10, 26, fitted(title, WIDTH - 20), INK, Canvas.Anchor.START);
    double whole = 0;
    for (OriginsAnswer.StackRow row : rows) {
      whole += row.depth() == 0 ? row.bytes() : 0;
    }
    double scale = (WIDTH - 20) / Math.max(1, whole);
    // by depth: where the next frame begins
    List<Double> next = new ArrayList<>(List.of(10.0));
    for (OriginsAnswer.StackRow row : rows) {
      double x = next.get(row.depth());
      double wide = row.bytes() * scale;
      next.set(row.depth(), x + wide);
      while (next.size() > row.depth() + 1) {
        next.remove(next.size() - 1);
      }
      next.add(x);
      if (wide < NARROWEST) {
        continue;
      }
      double y = TOP + ROW * (deepest - 1 - row.depth());
      String colour = COLOURS.get(Math.floorMod(row.frame().hashCode(), COLOURS.size()));
      canvas.rect(x, y, Math.max(NARROWEST, wide - 1), ROW - 1, colour);
      canvas.text(x + 4, y + 14, fitted(row.frame(), wide - 8), "#111111", Canvas.Anchor.START);
    }
  }
}
