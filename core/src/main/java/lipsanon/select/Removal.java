package lipsanon.select;

import java.io.IOException;
import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.array.Ranks;
import lipsanon.index.ListColumn;
import lipsanon.index.NodeCursor;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.label.Links;

/**
 * What is freed when a whole set of objects goes, or when references are cleared: exactly, for any
 * set, from the index alone.
 *
 * <p>An object is freed with its dominator; only a <em>join</em> (which its dominator does not
 * refer to) can be freed by several objects together. So the search from the roots is done in a
 * small graph: its nodes are the super-root, the joins, the objects removed and those whose
 * references are cleared; each object stands for the nearest of these at or above it in the
 * dominator tree, and a join is reached if one of the objects that keep it stands for something
 * that is. All else follows. Linear time; 4 bytes an object and some 12 for each object that keeps
 * a join.
 */
public final class Removal {
  private final Snapshot snapshot;
  private final BitSet removed;
  private final Cut cut;

  /** The joins, those made by cleared references included. */
  private final BitSet joins = new BitSet();

  private final BitSet roots = new BitSet();
  private int[] nearest;

  // the small graph: from the object that stands for a keeper to the join that it keeps
  private final IntList from = new IntList();
  private final IntList to = new IntList();
  private final BitSet reached = new BitSet();

  private Removal(Snapshot snapshot, BitSet removed, Cut cut) {
    this.snapshot = snapshot;
    this.removed = removed;
    this.cut = cut;
    snapshot
        .roots()
        .forEach(
            root -> {
              if (root.thread() < 0) {
                roots.set(root.node());
              }
            });
  }

  /**
   * What was found.
   *
   * @param objects all that is freed, retained members of a removed set included
   * @param count how many
   * @param bytes their shallow sizes
   */
  public record Freed(BitSet objects, long count, long bytes) {}

  /** What goes with a set of objects: what it retains. */
  public static Freed of(Snapshot snapshot, BitSet set) throws IOException {
    return new Removal(snapshot, set, new Cut()).freed();
  }

  /** What goes when references are cleared. */
  public static Freed of(Snapshot snapshot, Cut cut) throws IOException {
    return new Removal(snapshot, new BitSet(), cut).freed();
  }

  private Freed freed() throws IOException {
    PackedColumn column = snapshot.joinColumn();
    IntList numbers = new IntList();
    long[] block = new long[64];
    for (long b = 0; b << 6 < column.count(); b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        joins.set((int) block[i]);
        numbers.add((int) block[i]);
      }
    }
    BitSet cutTargets = new BitSet();
    for (int i = 0; i < cut.size(); i++) {
      if (!roots.get(cut.to(i)) && snapshot.depth(cut.to(i)) > 0) {
        cutTargets.set(cut.to(i));
      }
    }
    joins.or(cutTargets);
    BitSet keys = (BitSet) joins.clone();
    keys.or(removed);
    nearest = KeeperTree.nearest(snapshot, keys);
    storedJoins(numbers, cutTargets);
    cutJoins(cutTargets);
    classJoins();
    spread();
    return sum();
  }

  private void storedJoins(IntList numbers, BitSet cutTargets) {
    ListColumn.Cursor cursor = snapshot.joinKeepers().cursor();
    cursor.moveTo(0);
    for (int i = 0; i < numbers.size(); i++) {
      int join = numbers.get(i);
      int size = cursor.next();
      if (!removed.get(join) && !cutTargets.get(join)) {
        int[] keepers = cursor.list();
        for (int k = 0; k < size && !reached.get(join); k++) {
          keeps(keepers[k], join);
        }
      }
    }
  }

  /** One object keeps a join. */
  private void keeps(int keeper, int join) {
    int key = nearest[keeper];
    if (key == KeeperTree.TOP) {
      reached.set(join);
    } else if (key >= 0 && key != join && !removed.get(key)) {
      from.add(key);
      to.add(join);
    }
  }

  /** What cleared references referred to is kept by what else refers to it. */
  private void cutJoins(BitSet targets) throws IOException {
    if (targets.isEmpty()) {
      return;
    }
    java.util.Set<Long> cleared = new java.util.HashSet<>();
    for (int i = 0; i < cut.size(); i++) {
      cleared.add((long) cut.from(i) << 32 | cut.to(i));
    }
    Links links = new Links(snapshot);
    for (int join = targets.nextSetBit(0); join >= 0; join = targets.nextSetBit(join + 1)) {
      IntList referring = snapshot.inbound(join);
      for (int i = 0; i < referring.size() && !reached.get(join); i++) {
        int source = referring.get(i);
        if (source != join
            && snapshot.depth(source) > 0
            && !cleared.contains((long) source << 32 | join)
            && links.via(source, join) != null) {
          keeps(source, join);
        }
      }
    }
  }

  /** A class object is kept by every object of its types. */
  private void classJoins() {
    int[] classOf = new int[snapshot.types().size()];
    boolean any = false;
    for (int t = 0; t < classOf.length; t++) {
      int node = snapshot.types().get(t).classNode();
      boolean open = node >= 0 && joins.get(node) && !removed.get(node) && !reached.get(node);
      classOf[t] = open ? node : -1;
      any |= open;
    }
    if (!any) {
      return;
    }
    PackedColumn types = snapshot.typeColumn();
    long[] block = new long[64];
    int[] lastKey = new int[classOf.length];
    java.util.Arrays.fill(lastKey, -3);
    for (long b = 0; b << 6 < types.count(); b++) {
      int size = types.block(b, block);
      for (int i = 0; i < size; i++) {
        int type = (int) block[i];
        int node = (int) (b << 6) + i;
        // neighbours are often kept alike
        if (classOf[type] >= 0 && nearest[node] != lastKey[type] && !reached.get(classOf[type])) {
          lastKey[type] = nearest[node];
          keeps(node, classOf[type]);
        }
      }
    }
  }

  private void spread() {
    Ranks ranks = new Ranks(joins);
    int[] first = new int[ranks.count() + 1];
    for (int e = 0; e < from.size(); e++) {
      first[ranks.rank(from.get(e)) + 1]++;
    }
    for (int i = 0; i < ranks.count(); i++) {
      first[i + 1] += first[i];
    }
    int[] next = first.clone();
    int[] targets = new int[from.size()];
    for (int e = 0; e < from.size(); e++) {
      targets[next[ranks.rank(from.get(e))]++] = to.get(e);
    }
    IntList pending = new IntList();
    for (int n = reached.nextSetBit(0); n >= 0; n = reached.nextSetBit(n + 1)) {
      pending.add(n);
    }
    while (!pending.isEmpty()) {
      int rank = ranks.rank(pending.removeLast());
      for (int e = first[rank]; e < first[rank + 1]; e++) {
        if (!reached.get(targets[e])) {
          reached.set(targets[e]);
          pending.add(targets[e]);
        }
      }
    }
  }

  private Freed sum() {
    BitSet freed = new BitSet(nearest.length);
    long bytes = 0;
    long count = 0;
    NodeCursor cursor = snapshot.cursor();
    // neighbours are often kept alike
    int last = -1;
    boolean goes = false;
    for (int n = 0; n < nearest.length; n++) {
      int key = nearest[n];
      if (key >= 0) {
        if (key != last) {
          last = key;
          goes = removed.get(key) || !reached.get(key);
        }
        if (goes) {
          freed.set(n);
          count++;
          bytes += cursor.shallowBytes(n);
        }
      }
    }
    return new Freed(freed, count, bytes);
  }
}
