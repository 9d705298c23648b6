package lipsanon.graph;

import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntArray;

/** Adds to what types retain the joins that refer to nothing: see {@link HoldingTypes}. */
final class HeldLeaves {
  private final ObjectGraph graph;
  private final IntArray numbers;
  private final TypeTotals totals;
  private final IntArray sizes;
  private final TypeBits bits;
  private final Narrowing narrowing;
  private final BitSet isClass = new BitSet();

  /** Class objects without references: what is known of what holds them. */
  private final Map<Integer, Held> classes = new HashMap<>();

  HeldLeaves(
      ObjectGraph graph,
      IntArray numbers,
      TypeTotals totals,
      IntArray sizes,
      TypeBits bits,
      Narrowing narrowing) {
    this.graph = graph;
    this.numbers = numbers;
    this.totals = totals;
    this.sizes = sizes;
    this.bits = bits;
    this.narrowing = narrowing;
    for (int node : graph.classNode) {
      if (node >= 0) {
        isClass.set(node);
      }
    }
  }

  /** Adds one; the nodes that have it as their class are left out. */
  void add(int node, int[] from, int size) {
    narrowing.begin(~numbers.get(node));
    for (int i = 0; i < size && !narrowing.isEmpty(); i++) {
      meet(from[i]);
    }
    if (isClass.get(node)) {
      if (!narrowing.isEmpty()) {
        classes.put(node, narrowing.held());
      }
    } else {
      addJoint(node, narrowing.held());
    }
  }

  /** What refers to a leaf is an inner node, unless it is not retained. */
  private void meet(int holder) {
    int number = numbers.get(holder);
    assert number >= 0 : holder;
    if (number > 0) {
      narrowing.meet(number);
    }
  }

  /** A leaf is held by types other than its own, and its dominator is not. */
  private void addJoint(int leaf, Held held) {
    if (held.rare() == null) {
      // nothing refers to it that is known
      return;
    }
    int own = graph.type.get(leaf);
    long units = Integer.toUnsignedLong(sizes.get(leaf));
    for (int left = held.frequent(); left != 0; left &= left - 1) {
      int type = bits.type(Integer.numberOfTrailingZeros(left));
      if (type != own) {
        totals.addRetained(type, units);
      }
    }
    for (int type : held.rare()) {
      if (type != own) {
        totals.addRetained(type, units);
      }
    }
  }

  /** Class objects without references are held by the objects of their types as well. */
  void settleClasses() {
    BitSet waiting = new BitSet();
    classes.keySet().forEach(waiting::set);
    for (int n = 0; n < graph.count && !classes.isEmpty(); n++) {
      int cls = graph.classNode[graph.type.get(n)];
      if (cls < 0 || !waiting.get(cls)) {
        continue;
      }
      narrowing.begin(~numbers.get(cls), classes.get(cls));
      meet(n);
      if (narrowing.isEmpty()) {
        classes.remove(cls);
        waiting.clear(cls);
      } else {
        classes.put(cls, narrowing.held());
      }
    }
    classes.forEach(this::addJoint);
  }
}
