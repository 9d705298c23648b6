package lipsanon.graph;

import java.util.BitSet;
import java.util.function.IntPredicate;
import lipsanon.array.IntArray;
import lipsanon.array.Steps;

/**
 * Counts and sizes by type. What the objects of a type retain as a set is filled in by {@link
 * HoldingTypes}.
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
   * Adds up all but what is retained. Linear time.
   *
   * @param unretained the nodes that are not retained
   * @param sizes the shallow sizes by node, unsigned, in any unit; the sums are in the same unit
   */
  public static TypeTotals of(ObjectGraph graph, BitSet unretained, IntArray sizes) {
    TypeTotals totals = new TypeTotals(graph.classNode.length);
    Steps.up(0, graph.count, (from, to) -> totals.count(from, to, graph.type, sizes));
    for (int n = unretained.nextSetBit(0); n >= 0; n = unretained.nextSetBit(n + 1)) {
      totals.unretained[graph.type.get(n)]++;
    }
    return totals;
  }

  private void count(int from, int to, IntArray types, IntArray sizes) {
    final long[] count = this.count;
    final long[] shallow = this.shallow;
    for (int n = from; n < to; n++) {
      int t = types.get(n);
      count[t]++;
      shallow[t] += sizes.get(n) & 0xffff_ffffL;
    }
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

  /** Something more is retained by the objects of a type. */
  void addRetained(int type, long units) {
    retained[type] += units;
  }

  /** Finds the figures of some types by another search: {@link HoldingTypes#unresolved}. */
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
}
