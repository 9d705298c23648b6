package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** Which objects retain most, level by level. */
public final class KeepersQuestion {
  /** From so many children on they are grouped by type as well. */
  private static final int MANY = 12;

  private KeepersQuestion() {}

  /**
   * Answers for the objects that one object dominates immediately.
   *
   * @param under the object, or -1 for the super-root
   * @param limit rows at most
   */
  public static KeepersAnswer ask(Snapshot snapshot, int under, TypeFilter filter, int limit)
      throws IOException {
    Level level = new Level(snapshot, filter, limit);
    level.scan(under);
    ObjectRows rows = new ObjectRows(snapshot);
    List<ObjectRow> keepers = new ArrayList<>();
    for (int node : level.largest()) {
      keepers.add(rows.row(node));
    }
    return new KeepersAnswer(
        SnapshotSummary.of(snapshot),
        under < 0 ? null : rows.row(under),
        keepers,
        level.children >= MANY ? level.groups(rows) : List.of(),
        level.children,
        level.retainedBytes);
  }

  private static final class Level {
    private final Snapshot snapshot;
    private final TypeFilter filter;
    private final int limit;
    private final PriorityQueue<long[]> largest =
        new PriorityQueue<>(Comparator.comparingLong(entry -> entry[0]));
    private final Map<Integer, long[]> byType = new HashMap<>();
    private long children;
    private long retainedBytes;

    Level(Snapshot snapshot, TypeFilter filter, int limit) {
      this.snapshot = snapshot;
      this.filter = filter;
      this.limit = limit;
    }

    void scan(int under) {
      if (under >= 0) {
        scanBelow(under);
        return;
      }
      PackedColumn top = snapshot.topColumn();
      for (long i = 0; i < top.count(); i++) {
        add(top.getInt(i));
      }
    }

    private void scanBelow(int under) {
      PackedColumn dominators = snapshot.dominatorColumn();
      long[] block = new long[64];
      long blocks = dominators.count() + 63 >> 6;
      for (long b = 0; b < blocks; b++) {
        int base = (int) (b << 6);
        if (dominators.bound(b) < base - under || dominators.least(b) > base + 63 - under) {
          continue;
        }
        int size = dominators.block(b, block);
        for (int i = 0; i < size; i++) {
          if (block[i] != 0 && base + i - block[i] == under) {
            add(base + i);
          }
        }
      }
    }

    private void add(int node) {
      if (snapshot.depth(node) == 0) {
        return;
      }
      int type = snapshot.type(node);
      if (!filter.accepts(snapshot.types().get(type))) {
        return;
      }
      long retained = snapshot.retainedBytes(node);
      children++;
      retainedBytes += retained;
      long[] sums = byType.computeIfAbsent(type, key -> new long[] {0, 0, 0, -1, -1});
      sums[0]++;
      sums[1] += snapshot.shallowBytes(node);
      sums[2] += retained;
      if (retained > sums[3]) {
        sums[3] = retained;
        sums[4] = node;
      }
      if (largest.size() < limit || retained > largest.peek()[0]) {
        largest.add(new long[] {retained, node});
        if (largest.size() > limit) {
          largest.poll();
        }
      }
    }

    List<Integer> largest() {
      List<Integer> nodes = new ArrayList<>();
      while (!largest.isEmpty()) {
        nodes.add(0, (int) largest.poll()[1]);
      }
      return nodes;
    }

    List<KeepersAnswer.GroupRow> groups(ObjectRows rows) {
      List<KeepersAnswer.GroupRow> groups = new ArrayList<>();
      byType.forEach(
          (type, sums) ->
              groups.add(
                  new KeepersAnswer.GroupRow(
                      snapshot.types().get(type).name(),
                      rows.loader(type),
                      sums[0],
                      sums[1],
                      sums[2],
                      rows.share(sums[2]),
                      snapshot.id((int) sums[4]))));
      groups.sort(Comparator.comparingLong(KeepersAnswer.GroupRow::retainedBytes).reversed());
      return List.copyOf(groups.subList(0, Math.min(limit, groups.size())));
    }
  }
}
