package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntList;

/**
 * What up to 64 types retain, each as a set: a search from the roots in which a bit of a node says
 * that it is reached without the objects of one of the types. Spread until nothing changes: linear
 * time but for what is reached in several ways; 8 bytes a node. It needs no dominators.
 */
final class TypeSearch {
  private TypeSearch() {}

  /**
   * Searches.
   *
   * @param graph that of {@link Reachability.Result#graph}
   * @param depth by node: 0 if it is not retained
   * @param shallow by node, unsigned
   * @param types at most 64
   * @return by type of {@code types}: the sum of what is reached no more without it
   */
  static long[] retained(ObjectGraph graph, IntArray depth, IntArray shallow, int[] types) {
    if (types.length > Long.SIZE) {
      throw new IllegalArgumentException("more than 64 types: " + types.length);
    }
    long every = types.length == Long.SIZE ? -1L : (1L << types.length) - 1;
    long[] passes = new long[graph.classNode.length];
    java.util.Arrays.fill(passes, every);
    for (int i = 0; i < types.length; i++) {
      passes[types[i]] &= ~(1L << i);
    }
    long[] reached = new long[graph.count];
    IntList pending = new IntList();
    for (int root : graph.roots) {
      spread(root, every, graph, passes, reached, pending);
    }
    while (!pending.isEmpty()) {
      int node = pending.removeLast();
      long bits = reached[node];
      int cls = graph.classNode[graph.type.get(node)];
      if (cls >= 0) {
        spread(cls, bits, graph, passes, reached, pending);
      }
      int at = graph.firstEdge.get(node);
      if (at >= 0) {
        int edge;
        do {
          edge = graph.edges.get(at++);
          spread(edge < 0 ? ~edge : edge, bits, graph, passes, reached, pending);
        } while (edge >= 0);
      }
    }
    long[] sums = new long[types.length];
    for (int n = 0; n < graph.count; n++) {
      long missing = depth.get(n) == 0 ? 0 : every & ~reached[n];
      while (missing != 0) {
        sums[Long.numberOfTrailingZeros(missing)] += Integer.toUnsignedLong(shallow.get(n));
        missing &= missing - 1;
      }
    }
    return sums;
  }

  private static void spread(
      int node, long bits, ObjectGraph graph, long[] passes, long[] reached, IntList pending) {
    long fresh = bits & passes[graph.type.get(node)] & ~reached[node];
    if (fresh != 0) {
      reached[node] |= fresh;
      pending.add(node);
    }
  }
}
