package lipsanon.graph;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.array.Ranks;
import lipsanon.array.Space;
import lipsanon.array.Steps;

/**
 * Which types hold a node jointly: every path to it meets some object of the type, though no single
 * one of these dominates it. With these the retained size of every type is exact.
 *
 * <p>Only a <em>join</em> can be held jointly and not through its dominator: a retained node, no
 * root, that its immediate dominator does not refer to. Let C(p) be the types of the nodes from p
 * up the dominator tree to, but without, the dominator of the join, with what holds those nodes
 * jointly. Then the join is held by the types that are in C(p) of each holder p that it does not
 * dominate itself. Taken as the greatest solution (cycles hold nothing) this is found by starting
 * with "all types" and repeating until nothing changes; nearly always the sets are empty at once.
 *
 * <p>Time is linear but for the lengths of the chains: runs of one type are stepped over, and a
 * chain that is longer than a bound leaves the types in question to {@link TypeSearch}. Memory: 12
 * bytes an inner node, and the joins among them with their holders. One thread.
 */
public final class JointTypes {
  private static final int[] NONE = {};

  /** Steps along a chain; beyond, its types are searched for in another way. */
  static final int LONGEST_CHAIN = 4_000;

  /** Holders that are looked at for a short chain. */
  private static final int FEW = 8;

  private final ObjectGraph graph;
  private final Dominators dominators;
  private final IntArray idom;
  private final IntArray nodes;
  private final Space space;
  private final int longest;

  private final InnerJoins inner;

  /** By join: the types; null: all types, for the time being. */
  private int[][] types;

  private final BitSet isJoin = new BitSet();
  private final BitSet unsettled = new BitSet();
  private final BitSet unresolved = new BitSet();

  private IntArray runTop;

  /**
   * By number of an inner node, in one word since chains lead all over the memory: above, the
   * dominator of the topmost node of its run; below, its type, as ~type if that topmost is a join.
   */
  private LongArray chain;

  private Ranks ranks;

  // the set that is being narrowed, and marks by type that tell what is in it
  private int[] candidates = new int[16];
  private int candidateCount;
  private boolean all;
  private boolean tooLong;

  /** Whether what was found may shrink further, since it rests on what holds other joins. */
  private boolean depends;

  private final int[] mark;
  private final int[] found;
  private int round;

  // leaves that are held jointly
  private final IntList leafDominator = new IntList();
  private final IntList leafNode = new IntList();
  private final IntList leafType = new IntList();
  private long[] leafOrder;

  private final BitSet isClass = new BitSet();

  /** Class objects that may be held jointly, by what as far as it is known. */
  private final Map<Integer, int[]> leafClasses = new HashMap<>();

  /** Begins; next comes {@link #settle}, then all leaves that are joins. */
  public JointTypes(ObjectGraph graph, Dominators dominators, Space space) {
    this(graph, dominators, space, LONGEST_CHAIN);
  }

  JointTypes(ObjectGraph graph, Dominators dominators, Space space, int longest) {
    this.graph = graph;
    this.dominators = dominators;
    this.inner = dominators.innerJoins();
    this.idom = dominators.innerDominators();
    this.nodes = dominators.nodes();
    this.space = space;
    this.longest = longest;
    this.mark = new int[graph.classNode.length];
    this.found = new int[graph.classNode.length];
    for (int node : graph.classNode) {
      if (node >= 0) {
        isClass.set(node);
      }
    }
  }

  /** Whether a node has references of its own: such joins are known already. */
  public boolean isInner(int node) {
    return dominators.numbers().get(node) > 0;
  }

  /** Finds what holds the inner joins, which the dominators know. */
  public void settle() {
    int size = inner.size();
    for (int j = 0; j < size; j++) {
      isJoin.set(inner.number(j));
    }
    ranks = new Ranks(isJoin);
    int count = dominators.innerCount();
    runTop = space.ints(count + 1);
    chain = space.longs(count + 1);
    Steps.up(1, count + 1, this::runs);
    types = new int[size][];
    unsettled.set(0, size);
    // most of what refers to a join has a larger number: so that is known first
    boolean changed = false;
    for (int j = size - 1; j >= 0; j--) {
      changed |= renew(j);
    }
    while (changed) {
      changed = false;
      for (int j = unsettled.nextSetBit(0); j >= 0; j = unsettled.nextSetBit(j + 1)) {
        changed |= renew(j);
      }
    }
    inner.releaseSources(space);
  }

  private void runs(int from, int to) {
    for (int i = from; i < to; i++) {
      int type = graph.type.get(nodes.get(i));
      int above = idom.get(i);
      boolean join = isJoin.get(i);
      if (above > 0 && !join && type == typeOf(chain.get(above))) {
        runTop.set(i, runTop.get(above));
        chain.set(i, chain.get(above));
      } else {
        runTop.set(i, i);
        chain.set(i, (long) above << 32 | (join ? ~type : type) & 0xffff_ffffL);
      }
    }
  }

  private static int typeOf(long link) {
    int kind = (int) link;
    return kind < 0 ? ~kind : kind;
  }

  /** Narrows the set of a join; whether that changed it. */
  private boolean renew(int join) {
    int number = inner.number(join);
    int above = idom.get(number);
    begin(types[join]);
    int first = inner.from(join);
    int last = inner.to(join);
    for (int i = last - 1; i >= first && i >= last - FEW && all; i--) {
      // what hangs right below the dominator leaves one type only, and the others are soon done
      int source = inner.sources.get(i);
      if (idom.get(source) == above && !isJoin.get(source)) {
        climb(source, -1, above, number, longest);
      }
    }
    for (int i = last - 1; i >= first && (all || candidateCount > 0); i--) {
      climb(inner.sources.get(i), -1, above, number, longest);
    }
    if (all || candidateCount > 0) {
      climb(inner.parent(join), -1, above, number, longest);
    }
    if (tooLong) {
      for (int i = first; i < last && all; i++) {
        climb(inner.sources.get(i), -1, above, number, Integer.MAX_VALUE);
      }
      if (all) {
        climb(inner.parent(join), -1, above, number, Integer.MAX_VALUE);
      }
      leaveOpen();
    }
    boolean changed = end(join);
    if (!all && !depends) {
      unsettled.clear(join);
    }
    return changed;
  }

  /** Starts with a set, or with all types. */
  private void begin(int[] set) {
    all = set == null;
    tooLong = false;
    depends = false;
    candidateCount = 0;
    if (set != null) {
      if (candidates.length < set.length) {
        candidates = new int[set.length * 2];
      }
      System.arraycopy(set, 0, candidates, 0, set.length);
      candidateCount = set.length;
    }
  }

  /** What is left may be in the chains that were too long, or not. */
  private void leaveOpen() {
    for (int i = 0; i < candidateCount && !all; i++) {
      unresolved.set(candidates[i]);
    }
    candidateCount = 0;
  }

  private boolean end(int join) {
    int[] before = types[join];
    if (all) {
      return false;
    }
    if (before != null && before.length == candidateCount) {
      return false;
    }
    types[join] = candidateCount == 0 ? NONE : Arrays.copyOf(candidates, candidateCount);
    return true;
  }

  /** Leaves in the set what the chain of one holder has too. */
  private void narrow(int holder, int above, int join, int limit) {
    int number = dominators.numbers().get(holder);
    if (number > 0) {
      climb(number, -1, above, join, limit);
    } else if (number < 0) {
      // a leaf that refers to nothing but its class
      climb(~number, graph.type.get(holder), above, join, limit);
    }
  }

  /**
   * The same for the number of an inner node.
   *
   * @param leafType a type that belongs to the chain besides, or -1
   */
  private void climb(int number, int leafType, int above, int join, int limit) {
    round++;
    for (int i = 0; i < candidateCount && !all; i++) {
      mark[candidates[i]] = round;
    }
    int met = leafType < 0 ? 0 : meet(leafType, 0);
    int steps = 0;
    int at = number;
    while (at > above) {
      long link = chain.get(at);
      int kind = (int) link;
      if (kind < 0) {
        int top = runTop.get(at);
        if (top == join) {
          return;
        }
        if (top > above) {
          int[] more = types[ranks.rank(top)];
          if (more == null) {
            depends = true;
            return;
          }
          depends |= more.length > 0;
          for (int type : more) {
            met = meet(type, met);
          }
        }
        kind = ~kind;
      }
      met = meet(kind, met);
      if (!all && met == candidateCount) {
        return;
      }
      if (++steps > limit) {
        tooLong = true;
        return;
      }
      // beyond the dominator if that is in the same run
      at = (int) (link >>> 32);
    }
    keep(met);
  }

  /** Notes a type of a chain, if it is new and asked for. */
  private int meet(int type, int met) {
    if (all) {
      if (mark[type] != round) {
        mark[type] = round;
        if (met == candidates.length) {
          candidates = Arrays.copyOf(candidates, 2 * met);
        }
        candidates[met] = type;
        return met + 1;
      }
    } else if (mark[type] == round && found[type] != round) {
      found[type] = round;
      return met + 1;
    }
    return met;
  }

  private void keep(int met) {
    if (all) {
      all = false;
      candidateCount = met;
      return;
    }
    int kept = 0;
    for (int i = 0; i < candidateCount; i++) {
      if (found[candidates[i]] == round) {
        candidates[kept++] = candidates[i];
      }
    }
    candidateCount = kept;
  }

  /**
   * Adds a join that refers to nothing.
   *
   * @param from the nodes that refer to it by retaining edges, those that have it as their class
   *     left out; the first {@code size} of the array
   */
  public void addLeaf(int node, int[] from, int size) {
    int above = ~dominators.numbers().get(node);
    begin(null);
    for (int i = 0; i < size && (all || candidateCount > 0); i++) {
      narrow(from[i], above, -1, longest);
    }
    if (tooLong) {
      for (int i = 0; i < size && all; i++) {
        narrow(from[i], above, -1, Integer.MAX_VALUE);
      }
      leaveOpen();
    }
    if (!all && candidateCount == 0) {
      return;
    }
    int[] set = all ? null : Arrays.copyOf(candidates, candidateCount);
    if (isClass.get(node)) {
      leafClasses.put(node, set);
    } else {
      addLeafTypes(node, set);
    }
  }

  private void addLeafTypes(int node, int[] set) {
    for (int i = 0; set != null && i < set.length; i++) {
      leafDominator.add(~dominators.numbers().get(node));
      leafNode.add(node);
      leafType.add(set[i]);
    }
  }

  /** Class objects without references, which the objects of their types hold as well. */
  private void settleLeafClasses() {
    for (int n = 0; n < graph.count && !leafClasses.isEmpty(); n++) {
      int cls = graph.classNode[graph.type.get(n)];
      if (cls >= 0 && isClass.get(cls) && leafClasses.containsKey(cls)) {
        int above = ~dominators.numbers().get(cls);
        begin(leafClasses.get(cls));
        narrow(n, above, -1, Integer.MAX_VALUE);
        if (!all) {
          leafClasses.put(cls, Arrays.copyOf(candidates, candidateCount));
          if (candidateCount == 0) {
            leafClasses.remove(cls);
          }
        }
      }
    }
    leafClasses.forEach(this::addLeafTypes);
  }

  /** After all leaves: makes the leaves' types ready to be asked for. */
  public void finish() {
    settleLeafClasses();
    leafOrder = new long[leafDominator.size()];
    for (int i = 0; i < leafOrder.length; i++) {
      leafOrder[i] = (long) leafDominator.get(i) << 32 | i;
    }
    Arrays.sort(leafOrder);
    inner.release();
    space.release(runTop);
    space.release(chain);
  }

  /** Types whose figures need another search, since chains were too long. */
  public BitSet unresolved() {
    return unresolved;
  }

  /** What holds an inner node jointly, by its number. */
  int[] ofInner(int number) {
    return isJoin.get(number) ? types[ranks.rank(number)] : NONE;
  }

  /** Hears of a leaf that a type holds jointly. */
  interface LeafSink {
    void accept(int node, int type);
  }

  /** The leaves below an inner node, or below the super-root for 0, that types hold jointly. */
  void leaves(int number, LeafSink sink) {
    int at = Arrays.binarySearch(leafOrder, (long) number << 32);
    for (int i = at < 0 ? ~at : at; i < leafOrder.length; i++) {
      if ((int) (leafOrder[i] >>> 32) != number) {
        return;
      }
      int k = (int) leafOrder[i];
      sink.accept(leafNode.get(k), leafType.get(k));
    }
  }
}
