package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * Nearest paths of many objects, merged: two paths are the same if they run through the same types
 * by the same references, elements of arrays and repeated links of a chain not told apart. What was
 * found of an object on the way is remembered, so that shared beginnings are walked once. One
 * thread.
 */
final class MergedPaths {
  private static final int SUPER_ROOT = -1;

  private final Snapshot snapshot;
  private final NearestPaths nearest;
  private final Map<Integer, Integer> shapeOfNode = new HashMap<>();
  private final Map<Shape, Integer> numbers = new HashMap<>();
  private final List<Shape> shapes = new ArrayList<>();
  private final List<long[]> counts = new ArrayList<>();
  private final IntList examples = new IntList();

  /** A merged path: that of the step before, the type, and the reference between them. */
  private record Shape(int before, int type, String via) {}

  /**
   * A merged path with an example.
   *
   * @param example one of the objects that it leads to
   * @param count of the objects that it leads to
   * @param shallowBytes of these
   */
  record Merged(int example, long count, long shallowBytes) {}

  MergedPaths(Snapshot snapshot) {
    this.snapshot = snapshot;
    this.nearest = new NearestPaths(snapshot);
  }

  /** Adds an object; false if it is not retained. */
  boolean add(int node) throws IOException {
    int shape = shape(node);
    if (shape == SUPER_ROOT) {
      return false;
    }
    long[] sums = counts.get(shape);
    if (sums[0]++ == 0) {
      examples.set(shape, node);
    }
    sums[1] += snapshot.shallowBytes(node);
    return true;
  }

  private int shape(int node) throws IOException {
    IntList pending = new IntList();
    List<Via> vias = new ArrayList<>();
    int at = node;
    int shape = SUPER_ROOT;
    while (at >= 0) {
      Integer known = shapeOfNode.get(at);
      if (known != null) {
        shape = known;
        break;
      }
      NearestPaths.Up up = nearest.up(at);
      if (up == null) {
        return SUPER_ROOT;
      }
      pending.add(at);
      vias.add(up.via());
      at = up.node();
    }
    for (int i = pending.size() - 1; i >= 0; i--) {
      int next = pending.get(i);
      Via via = vias.get(i);
      String text = via == null ? Labels.rootText(snapshot, next) : via.group();
      shape = number(shape, snapshot.type(next), text);
      shapeOfNode.put(next, shape);
    }
    return shape;
  }

  private int number(int before, int type, String via) {
    if (before >= 0) {
      Shape last = shapes.get(before);
      if (last.type == type && last.via.equals(via)) {
        return before;
      }
    }
    Shape shape = new Shape(before, type, via);
    Integer known = numbers.get(shape);
    if (known == null) {
      known = shapes.size();
      shapes.add(shape);
      counts.add(new long[2]);
      examples.add(-1);
      numbers.put(shape, known);
    }
    return known;
  }

  /** All paths that lead to objects added, the most frequent first. */
  List<Merged> mostFrequent() {
    List<Merged> merged = new ArrayList<>();
    for (int i = 0; i < shapes.size(); i++) {
      if (counts.get(i)[0] > 0) {
        merged.add(new Merged(examples.get(i), counts.get(i)[0], counts.get(i)[1]));
      }
    }
    merged.sort(Comparator.comparingLong(Merged::count).reversed());
    return merged;
  }
}
