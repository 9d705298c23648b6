package lipsanon.graph;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Ranks;
import lipsanon.array.Space;
import lipsanon.array.Steps;

/**
 * Which types hold a node: every path to it meets some object of the type. What a type holds is
 * what its objects retain as a set, so the retained size of every type is exact.
 *
 * <p>A node is held by its own type and by what holds its immediate dominator; beyond these only a
 * <em>join</em> can be held, by what holds each of the nodes that refer to it: a retained node, no
 * root, that its dominator does not refer to. So one pass in reverse postorder finds the sets of
 * all, since what refers to a node comes before it, but for cycles. There a set is taken for the
 * largest that it can be, and a second look at it tells whether that was right: if not, the pass is
 * done again, where something can change, with what is known to be the most for those nodes, until
 * nothing changes (the greatest solution). Few nodes are concerned; the types that are still open
 * after some passes are left to {@link TypeSearch}.
 *
 * <p>The sets of the 32 types with the most objects are bits of a word. Of the others a node knows
 * the nearest node above it, itself included, that is held by such a type while its dominator is
 * not: along these, each of which adds at least one type, the whole set is read. Near linear time;
 * 16 bytes an inner node, 8 more while the order is made. One thread.
 */
public final class HoldingTypes {
  /** Passes; beyond, types are searched for in another way. */
  static final int PASSES = 20;

  private static final int BITS = 32;

  private static final int[] NONE = {};

  private final ObjectGraph graph;
  private final Dominators dominators;
  private final TypeTotals totals;
  private final IntArray sizes;
  private final Space space;
  private final int passes;
  private final TypeBits bits;

  private final InnerJoins inner;
  private final IntArray idom;
  private final IntArray nodes;
  private final IntArray numbers;
  private final BitSet isJoin = new BitSet();
  private Ranks ranks;

  /**
   * By number of an inner node: above, a bit for each frequent type that holds it; below, the
   * number of the nearest node at or above it that a rare type begins to hold, or 0.
   */
  private LongArray words;

  /** Joins at which rare types begin to hold, by number, their own type included. */
  private final Map<Integer, int[]> begun = new HashMap<>();

  /** By join: whether a cycle leads to it, so that its set has to be looked at again. */
  private final BitSet open = new BitSet();

  /** By number: joins that something holds besides their own type and what holds the dominator. */
  private final BitSet held = new BitSet();

  private ReverseOrder order;

  /** By join: the most that it can be held by, where that was found by a second look. */
  private final Map<Integer, Held> most = new HashMap<>();

  private final BitSet unresolved = new BitSet();

  // what the join that is looked at is held by beyond its dominator
  private int frequent;
  private int[] rare = new int[16];
  private int rareCount;
  private boolean sawLater;

  private final int[] mark;
  private int round;

  private final BitSet isClass = new BitSet();

  /** Class objects without references: what is known of what holds them. */
  private final Map<Integer, Held> leafClasses = new HashMap<>();

  /** Frequent types as bits, and rare ones. */
  private record Held(int frequent, int[] rare) {}

  /**
   * Begins; next comes {@link #settle}, then all leaves that are joins, then {@link #finish}.
   *
   * @param totals where what types retain is added
   * @param sizes the shallow sizes by node, unsigned
   */
  public HoldingTypes(
      ObjectGraph graph, Dominators dominators, TypeTotals totals, IntArray sizes, Space space) {
    this(graph, dominators, totals, sizes, space, BITS, PASSES);
  }

  HoldingTypes(
      ObjectGraph graph,
      Dominators dominators,
      TypeTotals totals,
      IntArray sizes,
      Space space,
      int bitCount,
      int passes) {
    this.graph = graph;
    this.dominators = dominators;
    this.totals = totals;
    this.sizes = sizes;
    this.space = space;
    this.passes = passes;
    this.bits = TypeBits.of(totals, graph.classNode.length, bitCount);
    this.inner = dominators.innerJoins();
    this.idom = dominators.innerDominators();
    this.nodes = dominators.nodes();
    this.numbers = dominators.numbers();
    this.mark = new int[graph.classNode.length];
    for (int node : graph.classNode) {
      if (node >= 0) {
        isClass.set(node);
      }
    }
  }

  /** Whether a node has references of its own: such joins are known already. */
  public boolean isInner(int node) {
    return numbers.get(node) > 0;
  }

  /** Finds what holds the inner nodes. */
  public void settle() {
    int count = dominators.innerCount();
    order = ReverseOrder.of(dominators.treeParents(), count, space);
    dominators.releaseTree();
    for (int j = 0; j < inner.size(); j++) {
      isJoin.set(inner.number(j));
    }
    ranks = new Ranks(isJoin);
    words = space.longs(count + 1);
    Steps.up(
        0,
        count,
        (from, to) -> {
          for (int place = from; place < to; place++) {
            settle(order.number(place));
          }
        });
    BitSet shrunk = lookAgain(passes > 0);
    for (int pass = 1; !shrunk.isEmpty(); pass++) {
      BitSet changed = shrunk;
      Steps.up(0, count, (from, to) -> settleAgain(from, to, changed));
      shrunk = lookAgain(pass < passes);
    }
    order.release(space);
    inner.releaseSources(space);
    inner.release();
  }

  /**
   * Settles what rests on something that has changed.
   *
   * @param changed by number: the joins that can be held by less than was found, and then all nodes
   *     that are settled anew
   */
  private void settleAgain(int from, int to, BitSet changed) {
    for (int place = from; place < to; place++) {
      int i = order.number(place);
      if (changed.get(idom.get(i)) || changed.get(i)) {
        settle(i);
        changed.set(i);
      } else if (held.get(i) && isSourceChanged(ranks.rank(i), changed)) {
        long before = words.get(i);
        int[] begunBefore = begunAt(i);
        settle(i);
        changed.set(i, words.get(i) != before || begunAt(i).length != begunBefore.length);
      }
    }
  }

  private boolean isSourceChanged(int join, BitSet changed) {
    for (int i = inner.from(join); i < inner.to(join); i++) {
      if (changed.get(inner.sources.get(i))) {
        return true;
      }
    }
    return changed.get(inner.parent(join));
  }

  private void settle(int i) {
    int above = idom.get(i);
    long base = words.get(above);
    int type = graph.type.get(nodes.get(i));
    int bit = bits.of(type);
    if (isJoin.get(i)) {
      settleJoin(i, base, type, bit);
    } else {
      words.set(i, with(base, type, bit, i));
    }
  }

  /** A word with a type added, at a node. */
  private long with(long base, int type, int bit, int at) {
    if (bit >= 0) {
      return base | 1L << (Integer.SIZE + bit);
    }
    return bit == TypeBits.SINGLE || holds(base, type) ? base : at(base, at);
  }

  /** A word with another node at which rare types begin to hold. */
  private static long at(long word, int number) {
    return word & -1L << Integer.SIZE | number;
  }

  /** Whether a rare type is among those of a word. */
  private boolean holds(long word, int type) {
    for (int at = (int) word; at > 0; at = next(at)) {
      if (graph.type.get(nodes.get(at)) == type || isAmong(type, begunAt(at))) {
        return true;
      }
    }
    return false;
  }

  /** The next node up, after one at which rare types begin to hold. */
  private int next(int at) {
    return (int) words.get(idom.get(at));
  }

  /** The types besides the own one of a join. */
  private int[] begunAt(int at) {
    return isJoin.get(at) ? begun.getOrDefault(at, NONE) : NONE;
  }

  private static boolean isAmong(int type, int[] types) {
    for (int t : types) {
      if (t == type) {
        return true;
      }
    }
    return false;
  }

  private void settleJoin(int i, long base, int type, int bit) {
    int join = ranks.rank(i);
    lookAt(join, i, base, order.after(i));
    Held limit = most.isEmpty() ? null : most.get(join);
    if (limit != null) {
      limitTo(limit);
    }
    // its own type is no news
    frequent &= bit >= 0 ? ~(1 << bit) : -1;
    remove(type);
    boolean any = frequent != 0 || rareCount > 0;
    held.set(i, any);
    open.set(join, any && sawLater);
    long word = with(base | (long) frequent << Integer.SIZE, type, bit, i);
    if (rareCount > 0) {
      begun.put(i, Arrays.copyOf(rare, rareCount));
      word = at(word, i);
    } else if (!begun.isEmpty()) {
      begun.remove(i);
    }
    words.set(i, word);
  }

  private void limitTo(Held limit) {
    frequent &= limit.frequent;
    int kept = 0;
    for (int i = 0; i < rareCount; i++) {
      if (isAmong(rare[i], limit.rare)) {
        rare[kept++] = rare[i];
      }
    }
    rareCount = kept;
  }

  private void remove(int type) {
    for (int i = 0; i < rareCount; i++) {
      if (rare[i] == type) {
        rare[i] = rare[--rareCount];
        return;
      }
    }
  }

  /**
   * Finds what holds all that refers to a join, and its dominator not.
   *
   * @param later the number after those of its subtree, which come later: what they are held by is
   *     not known yet; the number itself if it is known
   */
  private void lookAt(int join, int number, long base, int later) {
    int above = idom.get(number);
    int left = ~(int) (base >>> Integer.SIZE);
    boolean anyRare = true;
    sawLater = false;
    rareCount = 0;
    int first = inner.from(join);
    for (int i = inner.to(join); i >= first && (left != 0 || anyRare); i--) {
      int source = i == inner.to(join) ? inner.parent(join) : inner.sources.get(i);
      if (source > number && source < later) {
        sawLater = true;
        continue;
      }
      long word = words.get(source);
      left &= (int) (word >>> Integer.SIZE);
      anyRare &= (int) word > above;
    }
    frequent = left;
    if (anyRare) {
      lookForRare(join, number, later);
    }
  }

  /** Each node that refers to a join has a rare type between itself and the dominator. */
  private void lookForRare(int join, int number, int later) {
    int above = idom.get(number);
    collect(inner.parent(join), above);
    int first = inner.from(join);
    int before = -1;
    for (int i = inner.to(join) - 1; i >= first && rareCount > 0; i--) {
      int source = inner.sources.get(i);
      int from = (int) words.get(source);
      // neighbours are often held alike
      if (from != before && (source < number || source >= later)) {
        narrow(from, above, -1);
        before = from;
      }
    }
  }

  /** Begins with the rare types that hold a node and not its dominator of that number. */
  private void collect(int number, int above) {
    rareCount = 0;
    round++;
    for (int at = (int) words.get(number); at > above; at = next(at)) {
      int own = graph.type.get(nodes.get(at));
      int[] others = begunAt(at);
      for (int type : others) {
        collectType(type);
      }
      // where others begin, the own type may have begun further up
      if (others.length == 0 || !holds(words.get(idom.get(at)), own)) {
        collectType(own);
      }
    }
  }

  private void collectType(int type) {
    if (mark[type] == round || bits.of(type) != TypeBits.RARE) {
      return;
    }
    mark[type] = round;
    if (rareCount == rare.length) {
      rare = Arrays.copyOf(rare, 2 * rareCount);
    }
    rare[rareCount++] = type;
  }

  /** Leaves the types that are on another way as well, which may have one of its own. */
  private void narrow(int from, int above, int own) {
    round++;
    markRare(from, above);
    keepMarked(own);
  }

  private void markRare(int from, int above) {
    for (int at = from; at > above; at = next(at)) {
      mark[graph.type.get(nodes.get(at))] = round;
      for (int type : begunAt(at)) {
        mark[type] = round;
      }
    }
  }

  private void keepMarked(int own) {
    int kept = 0;
    for (int i = 0; i < rareCount; i++) {
      if (mark[rare[i]] == round || rare[i] == own) {
        rare[kept++] = rare[i];
      }
    }
    rareCount = kept;
  }

  /**
   * Looks once more at the joins in cycles.
   *
   * @return the numbers of those whose sets were too large, if the pass may be repeated
   */
  private BitSet lookAgain(boolean mayRepeat) {
    BitSet shrunk = new BitSet();
    for (int join = open.nextSetBit(0); join >= 0; join = open.nextSetBit(join + 1)) {
      int number = inner.number(join);
      int type = graph.type.get(nodes.get(number));
      int bit = bits.of(type);
      long base = words.get(idom.get(number));
      int had = (int) ((words.get(number) & ~base) >>> Integer.SIZE);
      had &= bit >= 0 ? ~(1 << bit) : -1;
      int[] hadRare = begunAt(number);
      lookAt(join, number, base, number);
      limitTo(new Held(had, hadRare));
      if (frequent == had && rareCount == hadRare.length) {
        continue;
      }
      if (mayRepeat) {
        shrunk.set(number);
        most.put(join, new Held(frequent, Arrays.copyOf(rare, rareCount)));
      } else {
        leaveOpen(had & ~frequent, hadRare);
      }
    }
    return shrunk;
  }

  /** These types need another search. */
  private void leaveOpen(int lost, int[] hadRare) {
    for (int left = lost; left != 0; left &= left - 1) {
      unresolved.set(bits.type(Integer.numberOfTrailingZeros(left)));
    }
    for (int type : hadRare) {
      if (!isAmong(type, Arrays.copyOf(rare, rareCount))) {
        unresolved.set(type);
      }
    }
  }

  /**
   * Adds a join that refers to nothing.
   *
   * @param from the nodes that refer to it by retaining edges, those that have it as their class
   *     left out; the first {@code size} of the array
   */
  public void addLeaf(int node, int[] from, int size) {
    int above = ~numbers.get(node);
    frequent = ~(int) (words.get(above) >>> Integer.SIZE);
    // no types yet: that may be any
    rareCount = -1;
    for (int i = 0; i < size && (frequent != 0 || rareCount != 0); i++) {
      meet(from[i], above);
    }
    if (isClass.get(node)) {
      if (frequent != 0 || rareCount != 0) {
        leafClasses.put(node, new Held(frequent, copyOfRare()));
      }
    } else {
      addJoint(node);
    }
  }

  /** The rare types; null if these may be any. */
  private int[] copyOfRare() {
    return rareCount < 0 ? null : Arrays.copyOf(rare, rareCount);
  }

  /** Leaves what holds one of the nodes that refer to a leaf. */
  private void meet(int holder, int above) {
    int number = numbers.get(holder);
    if (number == 0) {
      return;
    }
    // a leaf refers to nothing but its class
    int own = number > 0 ? -1 : graph.type.get(holder);
    int at = number > 0 ? number : ~number;
    long word = words.get(at);
    int bit = own < 0 ? -1 : bits.of(own);
    frequent &= (int) (word >>> Integer.SIZE) | (bit >= 0 ? 1 << bit : 0);
    if (rareCount < 0) {
      collect(at, above);
      if (own >= 0) {
        collectType(own);
      }
    } else if (rareCount > 0) {
      narrow((int) word, above, own);
    }
  }

  /** A leaf is held by types other than its own, and its dominator is not. */
  private void addJoint(int leaf) {
    if (rareCount < 0) {
      return;
    }
    int own = graph.type.get(leaf);
    long units = Integer.toUnsignedLong(sizes.get(leaf));
    for (int left = frequent; left != 0; left &= left - 1) {
      int type = bits.type(Integer.numberOfTrailingZeros(left));
      if (type != own) {
        totals.addRetained(type, units);
      }
    }
    for (int i = 0; i < rareCount; i++) {
      if (rare[i] != own) {
        totals.addRetained(rare[i], units);
      }
    }
  }

  /** Class objects without references are held by the objects of their types as well. */
  private void settleLeafClasses() {
    BitSet waiting = new BitSet();
    leafClasses.keySet().forEach(waiting::set);
    for (int n = 0; n < graph.count && !leafClasses.isEmpty(); n++) {
      int cls = graph.classNode[graph.type.get(n)];
      if (cls < 0 || !waiting.get(cls)) {
        continue;
      }
      Held held = leafClasses.get(cls);
      restore(held);
      meet(n, ~numbers.get(cls));
      if (frequent == 0 && rareCount == 0) {
        leafClasses.remove(cls);
        waiting.clear(cls);
      } else if (frequent != held.frequent || held.rare == null || rareCount != held.rare.length) {
        leafClasses.put(cls, new Held(frequent, copyOfRare()));
      }
    }
    leafClasses.forEach(
        (cls, held) -> {
          restore(held);
          addJoint(cls);
        });
  }

  private void restore(Held held) {
    frequent = held.frequent;
    rareCount = held.rare == null ? -1 : held.rare.length;
    if (rareCount > 0) {
      rare = held.rare.clone();
    }
  }

  /**
   * After all leaves: adds what types retain to their totals.
   *
   * @param innerRetained from {@link Dominators#innerRetained}
   */
  public void finish(LongArray innerRetained) {
    settleLeafClasses();
    Steps.up(1, dominators.innerCount() + 1, (from, to) -> addInner(from, to, innerRetained));
    Steps.up(0, graph.count, (from, to) -> addLeaves(from, to, innerRetained));
  }

  private void addInner(int from, int to, LongArray innerRetained) {
    for (int i = from; i < to; i++) {
      long word = words.get(i);
      long base = words.get(idom.get(i));
      for (int left = (int) ((word & ~base) >>> Integer.SIZE); left != 0; left &= left - 1) {
        int type = bits.type(Integer.numberOfTrailingZeros(left));
        totals.addRetained(type, innerRetained.get(i));
      }
      if ((int) word == i) {
        addRare(i, base, innerRetained.get(i));
      }
    }
  }

  private void addRare(int number, long base, long units) {
    int type = graph.type.get(nodes.get(number));
    if (bits.of(type) == TypeBits.RARE && !holds(base, type)) {
      totals.addRetained(type, units);
    }
    for (int other : begunAt(number)) {
      totals.addRetained(other, units);
    }
  }

  private void addLeaves(int from, int to, LongArray innerRetained) {
    for (int n = from; n < to; n++) {
      int number = numbers.get(n);
      if (number == 0) {
        continue;
      }
      int type = graph.type.get(n);
      int bit = bits.of(type);
      if (number > 0) {
        if (bit == TypeBits.SINGLE) {
          totals.addRetained(type, innerRetained.get(number));
        }
      } else if (!isNested(type, bit, words.get(~number))) {
        totals.addRetained(type, Integer.toUnsignedLong(sizes.get(n)));
      }
    }
  }

  private boolean isNested(int type, int bit, long base) {
    if (bit >= 0) {
      return (base >>> Integer.SIZE + bit & 1) != 0;
    }
    return bit == TypeBits.RARE && holds(base, type);
  }

  /** Types whose figures need another search, since their cycles took too many passes. */
  public BitSet unresolved() {
    return unresolved;
  }
}
