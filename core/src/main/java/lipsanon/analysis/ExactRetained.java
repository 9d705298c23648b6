package lipsanon.analysis;

import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.Space;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.Reachability;
import lipsanon.index.SnapshotContent;
import lipsanon.io.Progress;

/**
 * The retained size of a set: what becomes unreachable when all of the set is removed at once. A
 * search from the super-root that never enters the set, over the snapshot's references read anew.
 */
public final class ExactRetained {
  private ExactRetained() {}

  /** Says which objects are in the set. */
  public interface Members {
    /** Whether an object is. */
    boolean contains(int node);
  }

  /** Shallow bytes of all that the set retains, its own retained members included. */
  public static long bytes(SnapshotContent content, Members set, Space space, Progress progress)
      throws Exception {
    Reachability.Result reached = Reachability.compute(content.graph(), space, progress);
    ObjectGraph graph = reached.graph();
    IntArray seen = space.ints(graph.count);
    IntList pending = new IntList();
    for (int root : graph.roots) {
      visit(root, set, seen, pending);
    }
    while (!pending.isEmpty()) {
      int node = pending.removeLast();
      int cls = graph.classNode[graph.type.get(node)];
      if (cls >= 0) {
        visit(cls, set, seen, pending);
      }
      int at = graph.firstEdge.get(node);
      if (at >= 0) {
        int edge;
        do {
          edge = graph.edges.get(at++);
          visit(edge < 0 ? ~edge : edge, set, seen, pending);
        } while (edge >= 0);
      }
    }
    long units = 0;
    for (int n = 0; n < graph.count; n++) {
      if (seen.get(n) == 0 && reached.depth().get(n) != 0) {
        units += Integer.toUnsignedLong(content.shallow().get(n));
      }
    }
    return units * content.unitBytes();
  }

  private static void visit(int node, Members set, IntArray seen, IntList pending) {
    if (seen.get(node) == 0 && !set.contains(node)) {
      seen.set(node, 1);
      pending.add(node);
    }
  }
}
