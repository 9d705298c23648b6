package lipsanon.graph;

import java.util.BitSet;
import lipsanon.array.IntArray;
import lipsanon.array.IntPairList;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.array.Steps;
import lipsanon.io.Progress;

/**
 * Immediate dominators and retained sizes of all retained objects.
 *
 * <p>The inner nodes (those with references of their own) go through the semi-NCA algorithm: L.
 * Georgiadis, "Linear-Time Algorithms for Dominators and Related Problems", Princeton 2005, section
 * 2.3; path compression keeps semidominators, and the immediate dominator is then the nearest
 * common ancestor of the tree parent and the semidominator. A leaf's dominator is the nearest
 * common ancestor of its holders in the finished tree, where jump pointers (E. Myers, "An
 * Applicative Random-Access Stack", 1983) bound the climb once it turns out to be long.
 *
 * <p>Near linear in practice. Working memory besides the numbering: 12 bytes an inner node and 4 a
 * noted edge. Nothing recurses.
 */
public final class Dominators {
  /** So many values are copied at once. */
  private static final int CHUNK = 1 << 12;

  private final Space space;
  private final DepthFirst order;
  private final IntArray idom;
  private final InnerJoins joins;

  /** Leaves that several inner nodes refer to, their dominator not among them. */
  private final BitSet leafJoins = new BitSet();

  private Dominators(Space space, DepthFirst order, IntArray idom, InnerJoins joins) {
    this.space = space;
    this.order = order;
    this.idom = idom;
    this.joins = joins;
  }

  /** Computes the tree, the numbering included. */
  public static Dominators compute(ObjectGraph graph, Space space, Progress progress)
      throws Exception {
    return compute(DepthFirst.compute(graph, space, progress), space, progress);
  }

  /** Computes the tree of a graph that is numbered already. */
  public static Dominators compute(DepthFirst order, Space space, Progress progress)
      throws Exception {
    progress.phase("computing dominators", order.count);
    SemiNca search = new SemiNca(order, space, progress);
    IntArray idom = search.compute();
    Dominators result = new Dominators(space, order, idom, search.joins());
    result.settleLeaves();
    return result;
  }

  /**
   * Number of inner nodes; their numbers run from 1, and a dominator's number is the smaller one.
   */
  public int innerCount() {
    return order.count;
  }

  /** By number of an inner node: that of its dominator, 0 for the super-root. */
  IntArray innerDominators() {
    return idom;
  }

  /** By node: the number if positive, 0 if not retained, for a leaf ~(number of its dominator). */
  public IntArray numbers() {
    return order.number;
  }

  /** By number: the node. */
  IntArray nodes() {
    return order.node;
  }

  /** The numbering that the tree rests on. */
  DepthFirst numbering() {
    return order;
  }

  /** Gives the memory of the depth-first tree back. */
  void releaseTree() {
    space.release(order.parent);
  }

  /** The joins among the inner nodes; {@link HoldingTypes} takes them. */
  InnerJoins innerJoins() {
    return joins;
  }

  /**
   * Inner nodes that their immediate dominators do not refer to: see {@link HoldingTypes}, after
   * whose {@link HoldingTypes#settle} they are not known any more.
   */
  public BitSet innerJoinNodes() {
    BitSet found = new BitSet();
    for (int i = 0; i < joins.size(); i++) {
      found.set(order.node.get(joins.number(i)));
    }
    return found;
  }

  /** Leaves that their immediate dominators do not refer to, roots left out. */
  public BitSet leafJoins() {
    return leafJoins;
  }

  /** The number of a node's immediate dominator, 0 for the super-root and what is not retained. */
  public int dominatorNumber(int node) {
    int number = order.number.get(node);
    return number > 0 ? idom.get(number) : number < 0 ? ~number : 0;
  }

  /** Whether a node is retained. */
  public boolean isRetained(int node) {
    return order.number.get(node) != 0;
  }

  /** All nodes that are not retained. */
  public BitSet unretained() {
    return order.unretained;
  }

  /** The number of an inner node. */
  public int number(int node) {
    return order.number.get(node);
  }

  /** The node of a number. */
  public int node(int number) {
    return order.node.get(number);
  }

  /**
   * The immediate dominator of a node; -1 if that is the super-root or the node is not retained.
   */
  public int dominator(int node) {
    int above = dominatorNumber(node);
    return above == 0 ? -1 : order.node.get(above);
  }

  /**
   * The retained sizes.
   *
   * @param shallow by node, in any unit; read as unsigned
   * @return by number of an inner node, in the same unit; at 0 the sum of all retained objects. A
   *     leaf retains itself only
   */
  public LongArray innerRetained(IntArray shallow) {
    // no sum is larger than that of all: most heaps have fewer than 2^32 units
    LongArray retained = space.hotLongs(order.count + 1, sum(shallow));
    final IntArray numbers = order.number;
    final IntArray nodes = order.node;
    // by number, so that the larger array is written in order
    Steps.up(
        1,
        order.count + 1,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            retained.set(i, Integer.toUnsignedLong(shallow.get(nodes.get(i))));
          }
        });
    Steps.up(
        0,
        numbers.length(),
        (from, to) -> {
          for (int n = from; n < to; n++) {
            int number = numbers.get(n);
            if (number < 0) {
              retained.add(~number, Integer.toUnsignedLong(shallow.get(n)));
            }
          }
        });
    Steps.down(
        1,
        order.count + 1,
        (from, to) -> {
          for (int i = to - 1; i >= from; i--) {
            retained.add(idom.get(i), retained.get(i));
          }
        });
    return retained;
  }

  private static long sum(IntArray values) {
    int[] some = new int[CHUNK];
    long sum = 0;
    for (int at = 0, size; at < values.length(); at += size) {
      size = Math.min(CHUNK, values.length() - at);
      values.copyTo(at, some, size);
      for (int i = 0; i < size; i++) {
        sum += some[i] & 0xffff_ffffL;
      }
    }
    return sum;
  }

  /**
   * The immediate dominators of the nodes from {@code from} on, -1 as by {@link #dominator}, and
   * what they retain, as by {@link #retained(int, LongArray, IntArray)}. Written out, since the
   * quick compiler does not put one call into another.
   */
  public void answers(
      int from,
      int count,
      LongArray innerRetained,
      IntArray shallow,
      int[] above,
      long[] retained) {
    final IntArray numbers = order.number;
    final IntArray nodes = order.node;
    final IntArray idom = this.idom;
    for (int i = 0; i < count; i++) {
      int number = numbers.get(from + i);
      int up;
      if (number > 0) {
        up = idom.get(number);
        retained[i] = innerRetained.get(number);
      } else if (number < 0) {
        up = ~number;
        retained[i] = shallow.get(from + i) & 0xffff_ffffL;
      } else {
        up = 0;
        retained[i] = 0;
      }
      above[i] = up == 0 ? -1 : nodes.get(up);
    }
  }

  /** The retained size of a node from what {@link #innerRetained} gave; 0 if not retained. */
  public long retained(int node, LongArray innerRetained, IntArray shallow) {
    int number = order.number.get(node);
    if (number > 0) {
      return innerRetained.get(number);
    }
    return number < 0 ? Integer.toUnsignedLong(shallow.get(node)) : 0;
  }

  private void settleLeaves() {
    IntPairList edges = order.leafEdges;
    NearestAncestor ancestor = new NearestAncestor(idom, order.count, space);
    for (int i = 0; i < edges.size(); i++) {
      int leaf = edges.first(i);
      int holder = ~order.number.get(leaf);
      if (holder == 0) {
        continue;
      }
      int source = edges.second(i);
      int common = ancestor.common(holder, source);
      if (common != holder) {
        // all that referred to the leaf so far lies below
        order.number.set(leaf, ~common);
        leafJoins.set(leaf, common != source);
      } else if (common == source) {
        leafJoins.clear(leaf);
      }
    }
    ancestor.release();
    edges.release();
  }
}
