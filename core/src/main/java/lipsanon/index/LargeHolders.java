package lipsanon.index;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import lipsanon.array.Bits;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.LongIntMap;
import lipsanon.array.Steps;
import lipsanon.graph.Dominators;

/**
 * What hangs below large objects in the dominator tree: counted by type, and, where it is very
 * many, in more detail. One pass does for both, unless very many objects are large. One thread.
 */
final class LargeHolders {
  /** From so many children on it is worth noting what they are. */
  private static final long MANY_CHILDREN = 20_000;

  /** Of these so many are kept one by one. */
  private static final int CHILDREN_KEPT = 100;

  /** So many large objects get sums of their own from the beginning. */
  private static final int MOST_AT_ONCE = 256;

  private final Bits isLarge;
  private final int types;
  private final PileCounter piles = new PileCounter();

  /** By place in {@link #slots}: the children of a large object; null if too many are large. */
  private final List<ChildSums> sums;

  private final LongIntMap slots = new LongIntMap();
  private int lastHolder = -1;
  private ChildSums last;

  /** Children, for a second pass. */
  private final BitSet children = new BitSet();

  /**
   * Nothing yet.
   *
   * @param large the large objects
   * @param types how many types there are
   */
  LargeHolders(BitSet large, int types) {
    this(large, types, MOST_AT_ONCE);
  }

  LargeHolders(BitSet large, int types, int mostAtOnce) {
    this.isLarge = new Bits(large);
    this.types = types;
    this.sums = large.cardinality() > mostAtOnce ? null : new ArrayList<>();
  }

  /** Those that retain a good part of the heap. */
  static LargeHolders of(Dominators dominators, LongArray innerRetained, int types) {
    long units = (long) (PileCounter.LARGE * innerRetained.get(0));
    BitSet large = new BitSet();
    // a bit is nearer than the size itself
    Steps.up(
        1,
        innerRetained.length(),
        (from, to) -> {
          for (int number = from; number < to; number++) {
            if (innerRetained.get(number) >= units) {
              large.set(dominators.node(number));
            }
          }
        });
    return new LargeHolders(large, types);
  }

  boolean isLarge(int node) {
    return isLarge.get(node);
  }

  /** Adds a child of a large object; both sizes in the same unit. */
  void add(int holder, int node, int type, long shallow, long retained) {
    piles.add(holder, type, node, retained);
    if (sums == null) {
      children.set(node);
      return;
    }
    if (holder != lastHolder) {
      lastHolder = holder;
      int slot = slots.get(holder);
      if (slot < 0) {
        slot = sums.size();
        slots.put(holder, slot);
        sums.add(new ChildSums(holder, types, CHILDREN_KEPT));
      }
      last = sums.get(slot);
    }
    last.add(node, type, shallow, retained);
  }

  /** The piles that retain most. */
  List<Pile> largestPiles(int unitBytes) {
    return piles.largest(unitBytes);
  }

  /** The children of objects that have very many, in the order of the objects. */
  List<Brood> broods(
      Dominators dominators,
      LongArray innerRetained,
      IntArray type,
      IntArray shallow,
      int unitBytes) {
    Set<Integer> holders = piles.holders(MANY_CHILDREN);
    if (sums == null && !holders.isEmpty()) {
      LargeHolders few = new LargeHolders(bits(holders), types, holders.size());
      for (int n = children.nextSetBit(0); n >= 0; n = children.nextSetBit(n + 1)) {
        int above = dominators.dominator(n);
        if (few.isLarge(above)) {
          long retained = dominators.retained(n, innerRetained, shallow);
          few.add(above, n, type.get(n), Integer.toUnsignedLong(shallow.get(n)), retained);
        }
      }
      return few.broods(holders, unitBytes);
    }
    return broods(holders, unitBytes);
  }

  private List<Brood> broods(Set<Integer> holders, int unitBytes) {
    List<Brood> broods = new ArrayList<>();
    for (int holder : holders) {
      broods.add(sums.get(slots.get(holder)).brood(unitBytes));
    }
    return broods;
  }

  private static BitSet bits(Set<Integer> numbers) {
    BitSet bits = new BitSet();
    numbers.forEach(bits::set);
    return bits;
  }
}
