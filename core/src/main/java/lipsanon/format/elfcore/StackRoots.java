package lipsanon.format.elfcore;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.index.RootInfo;

/**
 * Decides which words on threads' stacks count as roots: those whose objects nothing else keeps,
 * another such word included. So a word that was left over never takes an object away from the
 * owner that really holds it.
 */
final class StackRoots {
  /** The roots that count, the others first. */
  final List<RootInfo> roots;

  /** What words on stacks alone keep. */
  final long objects;

  final long bytes;

  private StackRoots(List<RootInfo> roots, long objects, long bytes) {
    this.roots = roots;
    this.objects = objects;
    this.bytes = bytes;
  }

  /**
   * Sorts them out, in time of the order of the references.
   *
   * @param graph its own roots are not looked at
   * @param shallow sizes in units
   * @param unitBytes of each
   */
  static StackRoots of(ObjectGraph graph, List<RootInfo> all, IntArray shallow, int unitBytes) {
    BitSet reached = new BitSet(graph.count);
    IntList stack = new IntList();
    List<RootInfo> kept = new ArrayList<>();
    for (RootInfo root : all) {
      if (!root.perhaps()) {
        kept.add(root);
        visit(root.node(), reached, stack);
      }
    }
    follow(graph, reached, stack);
    BitSet others = (BitSet) reached.clone();
    List<RootInfo> entries = new ArrayList<>();
    for (RootInfo root : all) {
      if (root.perhaps() && !reached.get(root.node())) {
        entries.add(root);
        visit(root.node(), reached, stack);
        follow(graph, reached, stack);
      }
    }
    // once more from the last to the first: so none stays that a later one leads to
    reached.clear();
    reached.or(others);
    for (int i = entries.size() - 1; i >= 0; i--) {
      if (!reached.get(entries.get(i).node())) {
        kept.add(entries.get(i));
        visit(entries.get(i).node(), reached, stack);
        follow(graph, reached, stack);
      }
    }
    reached.andNot(others);
    part(graph, reached, others);
    long bytes = 0;
    for (int n = reached.nextSetBit(0); n >= 0; n = reached.nextSetBit(n + 1)) {
      bytes += (shallow.get(n) & 0xffff_ffffL) * unitBytes;
    }
    return new StackRoots(kept, reached.cardinality(), bytes);
  }

  /**
   * What only stacks keep does not keep what others keep as well: such a reference counts as a weak
   * one.
   */
  private static void part(ObjectGraph graph, BitSet alone, BitSet others) {
    EdgeAppender appender = new EdgeAppender(graph.edges);
    for (int n = alone.nextSetBit(0); n >= 0; n = alone.nextSetBit(n + 1)) {
      IntList targets = graph.targetsOf(n);
      boolean any = false;
      for (int i = 0; i < targets.size(); i++) {
        any |= others.get(targets.get(i));
      }
      if (!any) {
        continue;
      }
      appender.begin(targets.size());
      for (int i = 0; i < targets.size(); i++) {
        if (others.get(targets.get(i))) {
          graph.special.weak.add(n, targets.get(i));
        } else {
          appender.add(targets.get(i));
        }
      }
      graph.firstEdge.set(n, appender.end());
    }
  }

  private static void visit(int node, BitSet reached, IntList stack) {
    if (!reached.get(node)) {
      reached.set(node);
      stack.add(node);
    }
  }

  private static void follow(ObjectGraph graph, BitSet reached, IntList stack) {
    while (!stack.isEmpty()) {
      int at = graph.firstEdge.get(stack.removeLast());
      if (at < 0) {
        continue;
      }
      for (; ; at++) {
        int edge = graph.edges.get(at);
        visit(edge < 0 ? ~edge : edge, reached, stack);
        if (edge < 0) {
          break;
        }
      }
    }
  }
}
