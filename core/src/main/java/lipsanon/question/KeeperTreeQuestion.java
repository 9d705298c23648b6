package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.PriorityQueue;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.label.ObjectRows;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/**
 * Finds the upper part of the dominator tree in one pass over the column of retained sizes: what
 * retains much is kept by what retains more, so the objects above a threshold are a tree by
 * themselves. Costs 12 bytes for each of these and nothing for the others.
 */
public final class KeeperTreeQuestion {
  private static final int DEEPEST = 40;
  private static final int MOST_CANDIDATES = 1 << 20;
  private static final int FIRST_SHARE = 4096;

  private final Snapshot snapshot;
  private final IntList heavy = new IntList();
  private final LongIntMap places = new LongIntMap();

  private KeeperTreeQuestion(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /**
   * Asks.
   *
   * @param mine what counts as the user's own
   * @param limit nodes at most: those that retain most
   */
  public static KeeperTree ask(Snapshot snapshot, TypeFilter mine, int limit) throws IOException {
    return new KeeperTreeQuestion(snapshot).answer(new Ownership(snapshot, mine), limit);
  }

  private KeeperTree answer(Ownership ownership, int limit) throws IOException {
    long heap = snapshot.totals().retainedBytes();
    long least = Math.max(1, heap / FIRST_SHARE);
    while (!collect(least)) {
      least *= 4;
    }
    int[][] children = children();
    PriorityQueue<int[]> next =
        new PriorityQueue<>(
            (a, b) -> Long.compare(retained(heavy.get(b[0])), retained(heavy.get(a[0]))));
    for (int i = 0; i < heavy.size(); i++) {
      if (parent(heavy.get(i)) < 0) {
        next.add(new int[] {i, -1, 1});
      }
    }
    ObjectRows rows = new ObjectRows(snapshot);
    List<KeeperTree.Node> nodes = new ArrayList<>();
    while (!next.isEmpty() && nodes.size() < limit) {
      int[] one = next.remove();
      int node = heavy.get(one[0]);
      ObjectRow row = rows.row(node);
      nodes.add(
          new KeeperTree.Node(
              one[1],
              row.id(),
              row.type(),
              row.label(),
              Kinds.of(snapshot.types().get(snapshot.type(node)), ownership),
              row.heldBy(),
              row.shallowBytes(),
              row.retainedBytes()));
      if (one[2] < DEEPEST) {
        for (int child : children[one[0]]) {
          next.add(new int[] {child, nodes.size() - 1, one[2] + 1});
        }
      }
    }
    return new KeeperTree(heap, least, List.copyOf(nodes));
  }

  private long retained(int node) {
    return snapshot.retainedBytes(node);
  }

  private int parent(int node) {
    return snapshot.dominator(node);
  }

  /** Finds all that retain so much; false if these are too many to go on with. */
  private boolean collect(long least) {
    heavy.clear();
    PackedColumn column = snapshot.retainedColumn();
    long units = Math.max(1, least / snapshot.unitBytes());
    long[] block = new long[64];
    long blocks = column.count() + 63 >> 6;
    for (long b = 0; b < blocks; b++) {
      if (column.bound(b) < units) {
        continue;
      }
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        if (block[i] >= units) {
          if (heavy.size() >= MOST_CANDIDATES) {
            return false;
          }
          heavy.add((int) (b << 6) + i);
        }
      }
    }
    return true;
  }

  private int[][] children() {
    for (int i = 0; i < heavy.size(); i++) {
      places.put(heavy.get(i), i);
    }
    int[] count = new int[heavy.size()];
    for (int i = 0; i < heavy.size(); i++) {
      int above = parent(heavy.get(i));
      if (above >= 0) {
        count[places.get(above)]++;
      }
    }
    int[][] children = new int[heavy.size()][];
    for (int i = 0; i < children.length; i++) {
      children[i] = new int[count[i]];
    }
    Arrays.fill(count, 0);
    for (int i = 0; i < heavy.size(); i++) {
      int above = parent(heavy.get(i));
      if (above >= 0) {
        int place = places.get(above);
        children[place][count[place]++] = i;
      }
    }
    return children;
  }
}
