package lipsanon.graph;

import java.util.BitSet;
import java.util.function.IntPredicate;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.array.Steps;

/**
 * Counts and sizes by type. The retained figure of a type is the sum over the objects that it
 * holds, alone or jointly, and that nothing else below it does already: what the type retains as a
 * set.
 *
 * <p>Which objects those are follows from a preorder of the dominator tree, in which whatever a
 * node dominates stands in one run behind it: an object is nested in its type if the last outermost
 * run of the type reaches over it. Linear time; 16 bytes an inner node and 8 a leaf that can be
 * nested.
 */
public final class TypeTotals {
  private final long[] count;
  private final long[] unretained;
  private final long[] shallow;
  private final long[] retained;

  private TypeTotals(int types) {
    count = new long[types];
    unretained = new long[types];
    shallow = new long[types];
    retained = new long[types];
  }

  /**
   * Adds up.
   *
   * @param shallow by node, unsigned, in any unit; the sums are in the same unit
   * @param innerRetained from {@link Dominators}
   * @param joint what types hold jointly; without, in tests, retained figures are lower bounds
   */
  public static TypeTotals compute(
      ObjectGraph graph,
      Dominators dominators,
      IntArray shallow,
      LongArray innerRetained,
      JointTypes joint,
      Space space) {
    TypeTotals totals = new TypeTotals(graph.classNode.length);
    boolean[] hasInner = totals.simpleSums(graph, dominators, shallow);
    totals.nested(graph, dominators, shallow, innerRetained, hasInner, joint, space);
    return totals;
  }

  /** Objects of a type, unretained ones included. */
  public long count(int type) {
    return count[type];
  }

  /** Unretained objects of a type. */
  public long unretained(int type) {
    return unretained[type];
  }

  /** Sum of the shallow sizes of all objects of a type. */
  public long shallow(int type) {
    return shallow[type];
  }

  /** What the objects of a type retain together. */
  public long retained(int type) {
    return retained[type];
  }

  /** Finds the figures of some types by another search: their chains were too long to follow. */
  public void resolve(BitSet unresolved, ObjectGraph graph, IntArray depth, IntArray shallowUnits) {
    int from = unresolved.nextSetBit(0);
    while (from >= 0) {
      int[] some = unresolved.stream().filter(skipTo(from)).limit(Long.SIZE).toArray();
      long[] sums = TypeSearch.retained(graph, depth, shallowUnits, some);
      for (int i = 0; i < some.length; i++) {
        retained[some[i]] = sums[i];
      }
      from = unresolved.nextSetBit(some[some.length - 1] + 1);
    }
  }

  private static IntPredicate skipTo(int from) {
    return type -> type >= from;
  }

  private boolean[] simpleSums(ObjectGraph graph, Dominators dominators, IntArray shallow) {
    boolean[] hasInner = new boolean[count.length];
    IntArray numbers = dominators.numbers();
    Steps.up(
        0,
        graph.count,
        (from, to) -> {
          for (int n = from; n < to; n++) {
            int t = graph.type.get(n);
            int number = numbers.get(n);
            count[t]++;
            this.shallow[t] += Integer.toUnsignedLong(shallow.get(n));
            if (number == 0) {
              unretained[t]++;
            } else if (number > 0) {
              hasInner[t] = true;
            }
          }
        });
    return hasInner;
  }

  private void nested(
      ObjectGraph graph,
      Dominators dominators,
      IntArray shallow,
      LongArray innerRetained,
      boolean[] hasInner,
      JointTypes joint,
      Space space) {
    int inner = dominators.innerCount();
    IntArray idom = dominators.innerDominators();
    IntArray numbers = dominators.numbers();
    // by number: how many inner nodes it dominates, itself included
    IntArray size = space.ints(inner + 1);
    Steps.down(
        1,
        inner + 1,
        (from, to) -> {
          for (int i = to - 1; i >= from; i--) {
            size.set(i, size.get(i) + 1);
            int above = idom.get(i);
            size.set(above, size.get(above) + size.get(i));
          }
        });
    // by number: its place in the preorder; while going on, where its next child goes
    IntArray next = space.ints(inner + 1);
    IntArray byPlace = space.ints(inner + 1);
    Steps.up(
        1,
        inner + 1,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            int above = idom.get(i);
            int place = next.get(above);
            next.set(above, place + size.get(i));
            byPlace.set(place, i);
            next.set(i, place + 1);
          }
        });
    LeafGroups leaves = LeafGroups.of(graph, numbers, hasInner, inner, space, shallow, retained);
    int[] reach = new int[count.length];
    IntArray nodes = dominators.nodes();
    if (joint != null) {
      addJointLeaves(joint, 0, 0, reach, graph, shallow);
    }
    Steps.up(
        0,
        inner,
        (from, to) -> {
          for (int place = from; place < to; place++) {
            int i = byPlace.get(place);
            int t = graph.type.get(nodes.get(i));
            if (place >= reach[t]) {
              reach[t] = place + size.get(i);
              retained[t] += innerRetained.get(i);
            }
            if (joint != null) {
              for (int type : joint.ofInner(i)) {
                if (place >= reach[type]) {
                  reach[type] = place + size.get(i);
                  retained[type] += innerRetained.get(i);
                }
              }
            }
            int end = leaves.end(i);
            for (int k = leaves.begin(i); k < end; k++) {
              int leaf = leaves.node(k);
              int leafType = graph.type.get(leaf);
              if (place >= reach[leafType]) {
                retained[leafType] += Integer.toUnsignedLong(shallow.get(leaf));
              }
            }
            if (joint != null) {
              addJointLeaves(joint, i, place, reach, graph, shallow);
            }
          }
        });
  }

  private void addJointLeaves(
      JointTypes joint, int number, int place, int[] reach, ObjectGraph graph, IntArray shallow) {
    joint.leaves(
        number,
        (leaf, type) -> {
          if (place >= reach[type] && graph.type.get(leaf) != type) {
            retained[type] += Integer.toUnsignedLong(shallow.get(leaf));
          }
        });
  }

  /** Leaves whose type also has inner nodes, grouped by the number of their dominator. */
  private record LeafGroups(IntArray start, IntArray leaves) {
    static LeafGroups of(
        ObjectGraph graph,
        IntArray numbers,
        boolean[] hasInner,
        int inner,
        Space space,
        IntArray shallow,
        long[] retained) {
      IntArray start = space.ints(inner + 2);
      Steps.up(
          0,
          graph.count,
          (from, to) -> {
            for (int n = from; n < to; n++) {
              int number = numbers.get(n);
              if (number < 0) {
                int t = graph.type.get(n);
                if (number == ~0 || !hasInner[t]) {
                  retained[t] += Integer.toUnsignedLong(shallow.get(n));
                } else {
                  start.set(~number + 1, start.get(~number + 1) + 1);
                }
              }
            }
          });
      for (int i = 1; i < inner + 2; i++) {
        start.set(i, start.get(i) + start.get(i - 1));
      }
      IntArray leaves = space.ints(Math.max(1, start.get(inner + 1)));
      Steps.up(
          0,
          graph.count,
          (from, to) -> {
            for (int n = from; n < to; n++) {
              int number = numbers.get(n);
              if (number < 0 && number != ~0 && hasInner[graph.type.get(n)]) {
                int at = start.get(~number);
                start.set(~number, at + 1);
                leaves.set(at, n);
              }
            }
          });
      return new LeafGroups(start, leaves);
    }

    int begin(int number) {
      return start.get(number - 1);
    }

    int end(int number) {
      return start.get(number);
    }

    int node(int k) {
      return leaves.get(k);
    }
  }
}
