package lipsanon.cli.draw;

import java.util.ArrayList;
import java.util.List;
import lipsanon.cli.term.Format;
import lipsanon.question.KeeperTree;

/**
 * Who keeps most as nested rectangles, laid out so that they are as square as can be (Bruls,
 * Huizing, van Wijk: "Squarified treemaps", 2000).
 */
public final class KeepersPicture extends Picture {
  private static final double HEIGHT = 760;
  private static final double TOP = 40;
  private static final double LABEL = 18;
  private static final double LEAST = 6;
  private static final int DEEPEST = 5;

  private final KeeperTree tree;
  private final List<List<Integer>> children = new ArrayList<>();
  private final List<Integer> top = new ArrayList<>();
  private final String what;
  private final long bytes;
  private final Format format = new Format(false);

  /**
   * A picture.
   *
   * @param under identifier of the object that it is of; "" for all of the heap
   * @throws IllegalArgumentException if that object is too small to be in the tree
   */
  public KeepersPicture(KeeperTree tree, String under) {
    this.tree = tree;
    int root = -1;
    for (int i = 0; i < tree.nodes().size(); i++) {
      children.add(new ArrayList<>());
      KeeperTree.Node node = tree.nodes().get(i);
      root = node.id().equals(under) ? i : root;
      if (node.parent() >= 0) {
        children.get(node.parent()).add(i);
      } else if (under.isEmpty()) {
        top.add(i);
      }
    }
    if (!under.isEmpty() && root < 0) {
      throw new IllegalArgumentException(under + " retains too little to be drawn");
    }
    if (root >= 0) {
      top.addAll(children.get(root));
    }
    what = root < 0 ? "" : shortName(tree.nodes().get(root).type()) + " " + under + ", ";
    bytes = root < 0 ? tree.heapBytes() : tree.nodes().get(root).retainedBytes();
  }

  @Override
  double height() {
    return HEIGHT;
  }

  /** Where something goes. */
  private record Box(double x, double y, double width, double height) {}

  @Override
  void draw(Canvas canvas) {
    canvas.text(
        10,
        26,
        "Who keeps most of " + what + format.size(bytes) + ": each rectangle is an object",
        INK,
        Canvas.Anchor.START);
    lay(canvas, top, bytes, new Box(10, TOP, WIDTH - 20, HEIGHT - TOP - 10), 0);
  }

  private void lay(Canvas canvas, List<Integer> nodes, double bytes, Box whole, int depth) {
    Box left = whole;
    double rest = bytes;
    int from = 0;
    while (from < nodes.size() && left.width() > LEAST && left.height() > LEAST) {
      double side = Math.min(left.width(), left.height());
      double scale = left.width() * left.height() / Math.max(1, rest);
      int to = from + 1;
      double row = size(nodes.get(from));
      double worst = worst(nodes, from, to, row, side, scale);
      while (to < nodes.size()) {
        double more = row + size(nodes.get(to));
        double next = worst(nodes, from, to + 1, more, side, scale);
        if (next > worst) {
          break;
        }
        worst = next;
        row = more;
        to++;
      }
      left = row(canvas, nodes.subList(from, to), row, left, scale, depth);
      rest -= row;
      from = to;
    }
    if (left.width() > LEAST && left.height() > LEAST && rest > 0) {
      canvas.rect(left.x(), left.y(), left.width() - 1, left.height() - 1, "#b9bec5");
      canvas.text(
          left.x() + 4,
          left.y() + 14,
          fitted("smaller ones " + format.size((long) rest), left.width() - 8),
          "#111111",
          Canvas.Anchor.START);
    }
  }

  private double size(int node) {
    return Math.max(1, tree.nodes().get(node).retainedBytes());
  }

  private double worst(
      List<Integer> nodes, int from, int to, double row, double side, double scale) {
    double thick = row * scale / side;
    double worst = 0;
    for (int i = from; i < to; i++) {
      double along = size(nodes.get(i)) * scale / thick;
      worst = Math.max(worst, Math.max(along / thick, thick / along));
    }
    return worst;
  }

  /** Draws a row along the shorter side, and returns what is left. */
  private Box row(
      Canvas canvas, List<Integer> nodes, double row, Box left, double scale, int depth) {
    boolean upright = left.width() >= left.height();
    double side = Math.min(left.width(), left.height());
    double thick = row * scale / side;
    double at = 0;
    for (int node : nodes) {
      double along = size(node) * scale / thick;
      Box box =
          upright
              ? new Box(left.x(), left.y() + at, thick, along)
              : new Box(left.x() + at, left.y(), along, thick);
      box(canvas, node, box, depth);
      at += along;
    }
    return upright
        ? new Box(left.x() + thick, left.y(), left.width() - thick, left.height())
        : new Box(left.x(), left.y() + thick, left.width(), left.height() - thick);
  }

  private void box(Canvas canvas, int node, Box box, int depth) {
    KeeperTree.Node one = tree.nodes().get(node);
    canvas.rect(
        box.x(),
        box.y(),
        Math.max(0.5, box.width() - 1),
        Math.max(0.5, box.height() - 1),
        colour(one.kind()));
    boolean labelled = box.width() > 40 && box.height() > LABEL;
    if (labelled) {
      String name = one.label().startsWith("class ") ? one.label() : shortName(one.type());
      canvas.text(
          box.x() + 4,
          box.y() + 14,
          fitted(name + "  " + format.size(one.retainedBytes()), box.width() - 8),
          inkOn(one.kind()),
          Canvas.Anchor.START);
    }
    List<Integer> below = children.get(node);
    if (labelled && depth < DEEPEST && !below.isEmpty() && box.height() > 2 * LABEL) {
      Box inner = new Box(box.x() + 2, box.y() + LABEL, box.width() - 5, box.height() - LABEL - 3);
      lay(canvas, below, one.retainedBytes(), inner, depth + 1);
    }
  }
}
