package lipsanon.graph;

import lipsanon.array.Bits;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Steps;

/**
 * Adds up what types retain: for each node that a type holds and its dominator not, all that the
 * node retains. Linear time, on two threads.
 */
final class HeldSums {
  private final ObjectGraph graph;
  private final Dominators dominators;
  private final HeldSets sets;
  private final IntArray sizes;
  private final LongArray innerRetained;

  HeldSums(
      ObjectGraph graph,
      Dominators dominators,
      HeldSets sets,
      IntArray sizes,
      LongArray innerRetained) {
    this.graph = graph;
    this.dominators = dominators;
    this.sets = sets;
    this.sizes = sizes;
    this.innerRetained = innerRetained;
  }

  void addTo(TypeTotals totals) throws Exception {
    long[] byInner = new long[graph.classNode.length];
    Workers.Task<Void> inner =
        Workers.start(
            "lipsanon-types",
            () -> {
              int end = dominators.innerCount() + 1;
              Steps.up(1, end, (from, to) -> addInner(from, to, byInner));
              return null;
            });
    long[] byLeaf = new long[graph.classNode.length];
    try {
      Steps.up(0, graph.count, (from, to) -> addLeaves(from, to, byLeaf));
    } finally {
      inner.join();
    }
    for (int type = 0; type < byInner.length; type++) {
      totals.addRetained(type, byInner[type] + byLeaf[type]);
    }
  }

  private void addInner(int from, int to, long[] sums) {
    for (int i = from; i < to; i++) {
      long word = sets.word(i);
      int left = HeldSets.frequent(word & ~sets.base(i));
      for (; left != 0; left &= left - 1) {
        sums[sets.bits.type(Bits.lowest(left))] += innerRetained.get(i);
      }
      if (HeldSets.nearest(word) == i) {
        addRare(i, innerRetained.get(i), sums);
      }
    }
  }

  private void addRare(int number, long units, long[] sums) {
    if (sets.ownBegins(number)) {
      sums[sets.type(number)] += units;
    }
    for (int other : sets.begunAt(number)) {
      sums[other] += units;
    }
  }

  /** Leaves by their own type, and what a type's only object retains. */
  private void addLeaves(int from, int to, long[] sums) {
    final IntArray numbers = dominators.numbers();
    final IntArray types = graph.type;
    final TypeBits bits = sets.bits;
    for (int n = from; n < to; n++) {
      int number = numbers.get(n);
      int type = types.get(n);
      if (number < 0) {
        int bit = bits.of(type);
        long word = sets.word(~number);
        // nearly all are of a type that is a bit
        boolean held = bit >= 0 ? (word >>> Integer.SIZE + bit & 1) != 0 : sets.holds(word, type);
        if (!held) {
          sums[type] += sizes.get(n) & 0xffff_ffffL;
        }
      } else if (number > 0 && bits.of(type) == TypeBits.SINGLE) {
        sums[type] += innerRetained.get(number);
      }
    }
  }
}
