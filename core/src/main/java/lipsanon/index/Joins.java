package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.BitSet;
import lipsanon.array.Bits;
import lipsanon.array.IntList;
import lipsanon.graph.Dominators;
import lipsanon.graph.HoldingTypes;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
import lipsanon.graph.Workers;

/**
 * The joins of the retained graph with what keeps each, from the lists of referring objects that
 * were just written: retained objects, no roots, to which their immediate dominator does not refer.
 * All else is freed with its dominator; what several objects free together shows in these alone.
 * They are written as a column of their own, each with the objects that keep it.
 */
final class Joins {
  private final ObjectGraph graph;
  private final ListColumn inbound;

  /** Target and source of edges that are not strong, sorted. */
  private final long[] pairs;

  /** Their targets. */
  private final Bits special;

  /** Objects that are not retained: nearly always none or few, and so a bit is near. */
  private final Bits unretained;

  private final Bits joins;

  private final int count;

  private Joins(ObjectGraph graph, Dominators dominators, ListColumn inbound) {
    this.graph = graph;
    this.inbound = inbound;
    this.pairs = pairs(graph.special);
    this.special = targets(pairs);
    this.unretained = new Bits(dominators.unretained());
    BitSet all = dominators.innerJoinNodes();
    all.or(dominators.leafJoins());
    this.joins = new Bits(all);
    this.count = all.cardinality();
  }

  private static long[] pairs(SpecialEdges special) {
    SpecialEdges.Pairs[] all = {special.soft, special.weak, special.finalizer};
    int size = 0;
    for (SpecialEdges.Pairs some : all) {
      size += some.size();
    }
    long[] sorted = new long[size];
    int at = 0;
    for (SpecialEdges.Pairs some : all) {
      for (int i = 0; i < some.size(); i++) {
        sorted[at++] = (long) some.to(i) << 32 | some.from(i);
      }
    }
    Arrays.sort(sorted);
    return sorted;
  }

  private static Bits targets(long[] sorted) {
    Bits targets = new Bits(sorted.length == 0 ? 0 : (int) (sorted[sorted.length - 1] >>> 32) + 1);
    for (long pair : sorted) {
      targets.set((int) (pair >>> 32));
    }
    return targets;
  }

  /** Finds all, writes them, and lets it be found what types hold them. */
  static void write(
      ObjectGraph graph, Dominators dominators, HoldingTypes types, Path folder, long build)
      throws Exception {
    ListColumn inbound =
        ListColumn.open(
            folder.resolve(IndexFiles.INBOUND_END.file(build)),
            folder.resolve(IndexFiles.INBOUND.file(build)),
            build);
    Joins finder = new Joins(graph, dominators, inbound);
    finder.tell(types, folder, build);
  }

  /** Whether an edge into a node that also has weak ones is one that keeps it. */
  private boolean keeps(int from, int node) {
    if (Arrays.binarySearch(pairs, (long) node << 32 | from) < 0) {
      return true;
    }
    IntList targets = graph.targetsOf(from);
    for (int i = 0; i < targets.size(); i++) {
      if (targets.get(i) == node) {
        return true;
      }
    }
    return false;
  }

  /** Writes the joins on a thread of its own, and finds meanwhile what they say of types. */
  private void tell(HoldingTypes types, Path folder, long build) throws Exception {
    Workers.Task<Void> writing =
        Workers.start(
            "lipsanon-joins",
            () -> {
              write(folder, build);
              return null;
            });
    try {
      settle(types);
    } finally {
      writing.join();
    }
  }

  private void write(Path folder, long build) throws IOException {
    ListColumn.Cursor cursor = inbound.cursor();
    try (PackedWriter nodes =
            new PackedWriter(folder.resolve(IndexFiles.JOIN.file(build)), build, count);
        ListColumn.Writer lists =
            new ListColumn.Writer(
                folder.resolve(IndexFiles.JOIN_END.file(build)),
                folder.resolve(IndexFiles.JOIN_FROM.file(build)),
                build,
                count)) {
      for (int n = joins.next(0); n >= 0; n = joins.next(n + 1)) {
        int size = keepers(cursor, n);
        nodes.add(n);
        lists.add(cursor.list(), size);
      }
      nodes.finish();
      lists.finish();
    }
  }

  private void settle(HoldingTypes types) {
    ListColumn.Cursor cursor = inbound.cursor();
    types.settle();
    for (int n = joins.next(0); n >= 0; n = joins.next(n + 1)) {
      if (!types.isInner(n)) {
        int size = keepers(cursor, n);
        types.addLeaf(n, cursor.list(), size);
      }
    }
  }

  /** Leaves in the cursor's list those that keep the node; their number. */
  private int keepers(ListColumn.Cursor cursor, int node) {
    cursor.moveTo(node);
    int size = cursor.next();
    int[] list = cursor.list();
    boolean weak = special.get(node);
    int kept = 0;
    for (int i = 0; i < size; i++) {
      if (list[i] != node && !unretained.get(list[i]) && (!weak || keeps(list[i], node))) {
        list[kept++] = list[i];
      }
    }
    return kept;
  }
}
