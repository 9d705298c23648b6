package lipsanon.graph;

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
 * <p>Sets are those of {@link HeldSets}. Near linear time; 16 bytes an inner node, 8 more while the
 * order is made.
 */
public final class HoldingTypes {
  /** Passes; beyond, types are searched for in another way. */
  static final int PASSES = 20;

  /** Types that are bits of a word. */
  static final int BITS = 32;

  /** Steps along rare types, for each inner node, and some more. */
  private static final int STEPS = 20;

  private static final long MORE_STEPS = 50_000_000;

  private static final int[] NONE = {};

  private final ObjectGraph graph;
  private final Dominators dominators;
  private final TypeTotals totals;
  private final IntArray sizes;
  private final Space space;
  private final int passes;

  private final InnerJoins inner;
  private final IntArray idom;
  private Ranks ranks;
  private final ReverseOrder order;

  private final HeldSets sets;
  private final Narrowing narrowing;
  private final HeldLeaves leaves;

  /** By number: joins that something holds besides their own type and what holds the dominator. */
  private final BitSet held = new BitSet();

  /** Where those stand in the order. */
  private final BitSet heldPlaces = new BitSet();

  /** By join: whether a cycle leads to it, so that its set has to be looked at again. */
  private final BitSet open = new BitSet();

  /** By join: the most that it can be held by, where that was found by a second look. */
  private final Map<Integer, Held> most = new HashMap<>();

  private final BitSet unresolved = new BitSet();

  /** Whether some of what refers to the join that was looked at comes later. */
  private boolean sawLater;

  /**
   * What may be spent.
   *
   * @param bits types that are bits
   * @param passes beyond, types are searched for in another way
   * @param steps along rare types; beyond, these are searched for in another way
   */
  record Limits(int bits, int passes, long steps) {}

  /**
   * Begins; next comes {@link #settle}, then all leaves that are joins, then {@link #finish}.
   *
   * @param order that of the dominators' numbering; its memory is given back
   * @param totals where what types retain is added
   * @param sizes the shallow sizes by node, unsigned
   */
  public HoldingTypes(
      ObjectGraph graph,
      Dominators dominators,
      ReverseOrder order,
      TypeTotals totals,
      IntArray sizes,
      Space space) {
    this(
        graph,
        dominators,
        order,
        totals,
        sizes,
        space,
        new Limits(BITS, PASSES, MORE_STEPS + (long) dominators.innerCount() * STEPS));
  }

  HoldingTypes(
      ObjectGraph graph,
      Dominators dominators,
      ReverseOrder order,
      TypeTotals totals,
      IntArray sizes,
      Space space,
      Limits limits) {
    this.graph = graph;
    this.dominators = dominators;
    this.order = order;
    this.totals = totals;
    this.sizes = sizes;
    this.space = space;
    this.passes = limits.passes;
    this.inner = dominators.innerJoins();
    this.idom = dominators.innerDominators();
    int types = graph.classNode.length;
    TypeBits bits = TypeBits.of(totals, types, limits.bits);
    this.sets = new HeldSets(graph, dominators, bits, space, limits.steps);
    this.narrowing = new Narrowing(sets, types);
    this.leaves = new HeldLeaves(graph, dominators.numbers(), totals, sizes, bits, narrowing);
  }

  /** Whether a node has references of its own: such joins are known already. */
  public boolean isInner(int node) {
    return dominators.numbers().get(node) > 0;
  }

  /** Finds what holds the inner nodes. */
  public void settle() {
    int count = dominators.innerCount();
    dominators.releaseTree();
    BitSet joins = new BitSet();
    for (int j = 0; j < inner.size(); j++) {
      joins.set(inner.number(j));
    }
    ranks = new Ranks(joins);
    Steps.up(0, count, this::settle);
    BitSet shrunk = lookAgain(passes > 0);
    for (int pass = 1; !shrunk.isEmpty(); pass++) {
      settleAgain(shrunk);
      shrunk = lookAgain(pass < passes);
    }
    order.release(space);
    inner.releaseSources(space);
    inner.release();
  }

  private void settle(int from, int to) {
    for (int place = from; place < to; place++) {
      if (settle(order.number(place))) {
        heldPlaces.set(place);
      }
    }
  }

  /**
   * Settles what rests on joins that are held by less than was found. What such a node dominates
   * stands in the run of its subtree; elsewhere only joins can be concerned that something holds.
   *
   * @param changed the numbers of the joins; those of all nodes that are settled anew are added
   */
  private void settleAgain(BitSet changed) {
    int count = dominators.innerCount();
    int until = 0;
    for (int place = heldPlaces.nextSetBit(0); place >= 0 && place < count; ) {
      int i = order.number(place);
      if (settleAgain(i, changed)) {
        until = Math.max(until, place + order.after(i) - i);
        heldPlaces.set(place, held.get(i));
      }
      place++;
      if (place >= until) {
        place = heldPlaces.nextSetBit(place);
      }
    }
  }

  private boolean settleAgain(int i, BitSet changed) {
    if (changed.get(idom.get(i)) || changed.get(i)) {
      settle(i);
      changed.set(i);
      return true;
    }
    if (!held.get(i) || !isSourceChanged(ranks.rank(i), changed)) {
      return false;
    }
    long before = sets.word(i);
    int begunBefore = sets.begunAt(i).length;
    settle(i);
    boolean other = sets.word(i) != before || sets.begunAt(i).length != begunBefore;
    changed.set(i, other);
    return other;
  }

  private boolean isSourceChanged(int join, BitSet changed) {
    for (int i = inner.from(join); i < inner.to(join); i++) {
      if (changed.get(inner.sources.get(i))) {
        return true;
      }
    }
    return changed.get(inner.parent(join));
  }

  /** Finds what holds a node; whether it is a join that something more holds. */
  private boolean settle(int number) {
    int type = sets.type(number);
    if (ranks.contains(number)) {
      return settleJoin(number, type);
    }
    sets.set(number, type);
    return false;
  }

  private boolean settleJoin(int number, int type) {
    int join = ranks.rank(number);
    lookAt(join, number, order.after(number));
    Held limit = most.isEmpty() ? null : most.get(join);
    if (limit != null) {
      narrowing.limitTo(limit);
    }
    // its own type is no news
    narrowing.remove(type);
    boolean any = !narrowing.isEmpty();
    held.set(number, any);
    open.set(join, any && sawLater);
    if (any) {
      Held found = narrowing.held();
      sets.set(number, type, found.frequent(), found.rare());
    } else {
      sets.set(number, type, 0, NONE);
    }
    return any;
  }

  /**
   * Finds what holds all that refers to a join, and its dominator not.
   *
   * @param later the number after those of its subtree, which come later: what they are held by is
   *     not known yet; the number itself if it is known
   */
  private void lookAt(int join, int number, int later) {
    int above = idom.get(number);
    narrowing.begin(above);
    int left = ~HeldSets.frequent(sets.word(above));
    boolean anyRare = true;
    sawLater = false;
    int first = inner.from(join);
    for (int i = inner.to(join); i >= first && (left != 0 || anyRare); i--) {
      int source = i == inner.to(join) ? inner.parent(join) : inner.sources.get(i);
      if (source > number && source < later) {
        sawLater = true;
        continue;
      }
      long word = sets.word(source);
      left &= HeldSets.frequent(word);
      anyRare &= HeldSets.nearest(word) > above;
    }
    narrowing.limitTo(left);
    if (anyRare) {
      lookForRare(join, number, later);
    } else {
      narrowing.dropRare();
    }
  }

  /** Each node that refers to a join has a rare type between itself and the dominator. */
  private void lookForRare(int join, int number, int later) {
    narrowing.collect(inner.parent(join));
    int first = inner.from(join);
    int before = -1;
    for (int i = inner.to(join) - 1; i >= first && narrowing.rareCount() > 0; i--) {
      int source = inner.sources.get(i);
      int from = HeldSets.nearest(sets.word(source));
      // neighbours are often held alike
      if (from != before && (source < number || source >= later)) {
        narrowing.meetRare(from);
        before = from;
      }
    }
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
      Held had = more(number);
      lookAt(join, number, number);
      narrowing.limitTo(had);
      Held has = narrowing.held();
      if (has.frequent() == had.frequent() && has.rare().length == had.rare().length) {
        continue;
      }
      if (mayRepeat) {
        shrunk.set(number);
        // what holds the dominator may yet turn out not to, and hold the join all the same
        most.put(join, sets.with(has, sets.base(number)));
      } else {
        leaveOpen(had, has);
      }
    }
    return shrunk;
  }

  /** What holds a join besides its own type and what holds its dominator. */
  private Held more(int number) {
    int bit = sets.bits.of(sets.type(number));
    int frequent = HeldSets.frequent(sets.word(number) & ~sets.base(number));
    return new Held(frequent & (bit >= 0 ? ~(1 << bit) : -1), sets.begunAt(number));
  }

  /** The types that are held no more need another search. */
  private void leaveOpen(Held had, Held has) {
    for (int left = had.frequent() & ~has.frequent(); left != 0; left &= left - 1) {
      unresolved.set(sets.bits.type(Integer.numberOfTrailingZeros(left)));
    }
    for (int type : had.rare()) {
      if (!HeldSets.isAmong(type, has.rare())) {
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
    leaves.add(node, from, size);
  }

  /**
   * After all leaves: adds what types retain to their totals, on two threads.
   *
   * @param innerRetained from {@link Dominators#innerRetained}
   */
  public void finish(LongArray innerRetained) throws Exception {
    leaves.settleClasses();
    new HeldSums(graph, dominators, sets, sizes, innerRetained).addTo(totals);
  }

  /** Types whose figures need another search, since their cycles or ways were too long. */
  public BitSet unresolved() {
    if (sets.isUsedUp()) {
      for (int type = 0; type < graph.classNode.length; type++) {
        if (sets.bits.of(type) == TypeBits.RARE) {
          unresolved.set(type);
        }
      }
    }
    return unresolved;
  }
}
