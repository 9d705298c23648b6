package lipsanon.graph;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.array.Space;

/**
 * By which types each inner node is held: see {@link HoldingTypes}. The frequent types are bits of
 * a word. Of the others a node knows the nearest node above it, itself included, that is held by
 * such a type while its dominator is not: along these, each of which adds at least one type, the
 * whole set is read. 8 bytes a node.
 *
 * <p>Reading takes as many steps as there are rare types on a way, which a hostile dump can make
 * many. When all that was granted is used up, the rare types are left to another search.
 */
final class HeldSets {
  private static final int[] NONE = {};

  final TypeBits bits;
  private final IntArray types;
  private final IntArray nodes;
  private final IntArray idom;

  /**
   * By number of an inner node: above, a bit for each frequent type that holds it; below, the
   * number of the nearest node at or above it that a rare type begins to hold, or 0.
   */
  private final LongArray words;

  /** Rare types that begin to hold a join and are not its own, by number. */
  private final Map<Integer, int[]> begun = new HashMap<>();

  /** Numbers that have an entry there: most have none, and a bit is near. */
  private final BitSet hasBegun = new BitSet();

  /** Steps that are left; not exact with two threads, and need not be. */
  private long steps;

  private volatile boolean usedUp;

  HeldSets(ObjectGraph graph, Dominators dominators, TypeBits bits, Space space, long steps) {
    this.steps = steps;
    this.bits = bits;
    this.types = graph.type;
    this.nodes = dominators.nodes();
    this.idom = dominators.innerDominators();
    this.words = space.hotLongs(dominators.innerCount() + 1);
  }

  /** The type of an inner node. */
  int type(int number) {
    return types.get(nodes.get(number));
  }

  /** The frequent types of a word, as bits. */
  static int frequent(long word) {
    return (int) (word >>> Integer.SIZE);
  }

  /** The nearest node, of a word, that a rare type begins to hold. */
  static int nearest(long word) {
    return (int) word;
  }

  /** What holds a node, as one word; nothing for the super-root, 0. */
  long word(int number) {
    return words.get(number);
  }

  /** What holds the dominator of a node. */
  long base(int number) {
    return words.get(idom.get(number));
  }

  /** Sets what holds a node: what holds its dominator, and its own type. */
  void set(int number, int type) {
    words.set(number, with(base(number), type, number));
  }

  /**
   * The same with more types, which must not be the own one nor hold the dominator; none may be
   * rare if {@code rare} is empty.
   */
  void set(int number, int type, int frequent, int[] rare) {
    long word = with(base(number) | (long) frequent << Integer.SIZE, type, number);
    if (rare.length > 0) {
      begun.put(number, rare);
      hasBegun.set(number);
      word = at(word, number);
    } else if (hasBegun.get(number)) {
      begun.remove(number);
      hasBegun.clear(number);
    }
    words.set(number, word);
  }

  private long with(long base, int type, int number) {
    int bit = bits.of(type);
    if (bit >= 0) {
      return base | 1L << (Integer.SIZE + bit);
    }
    return bit == TypeBits.SINGLE || holdsRare(base, type) ? base : at(base, number);
  }

  private static long at(long word, int number) {
    return word & -1L << Integer.SIZE | number;
  }

  /** Whether a type is among those of a word; of a type of one object that is not known. */
  boolean holds(long word, int type) {
    int bit = bits.of(type);
    if (bit >= 0) {
      return (frequent(word) >>> bit & 1) != 0;
    }
    return bit == TypeBits.RARE && holdsRare(word, type);
  }

  private boolean holdsRare(long word, int type) {
    for (int at = nearest(word); at > 0; at = next(at)) {
      if (type(at) == type || isAmong(type, begunAt(at))) {
        return true;
      }
    }
    // no node need be noted for a type that is searched for in another way
    return usedUp;
  }

  /** Whether the rare types need another search: what is said of them does not hold. */
  boolean isUsedUp() {
    return usedUp;
  }

  /** A set and all that a word tells. */
  Held with(Held held, long word) {
    IntList rare = new IntList();
    for (int type : held.rare()) {
      rare.add(type);
    }
    for (int at = nearest(word); at > 0; at = next(at)) {
      for (int type : begunAt(at)) {
        rare.add(type);
      }
      rare.add(type(at));
    }
    return new Held(held.frequent() | frequent(word), rare.toArray());
  }

  /** The next node up, after one that a rare type begins to hold; 0 if there is none. */
  int next(int number) {
    if (--steps < 0) {
      usedUp = true;
      return 0;
    }
    return nearest(base(number));
  }

  /** The rare types that begin to hold a node, its own left out. */
  int[] begunAt(int number) {
    return hasBegun.get(number) ? begun.get(number) : NONE;
  }

  /** Whether a node's own type is rare and begins to hold it. */
  boolean ownBegins(int number) {
    int type = type(number);
    return bits.of(type) == TypeBits.RARE && !holdsRare(base(number), type);
  }

  static boolean isAmong(int type, int[] types) {
    for (int t : types) {
      if (t == type) {
        return true;
      }
    }
    return false;
  }
}
