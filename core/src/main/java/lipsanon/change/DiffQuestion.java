package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeCounts;
import lipsanon.index.TypeInfo;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.select.Identities;

/** What changed between two snapshots. */
public final class DiffQuestion {
  /** References of a type that are counted in each snapshot: about a second of work. */
  public static final int REFERENCES = 300_000;

  private static final int MOST_KEEPERS = 8;
  private static final int DETAILED_TYPES = 3;
  private static final int ROWS_A_TYPE = 4;

  private DiffQuestion() {}

  /** What rows are sorted by, the most growth first. */
  public enum Sort {
    /** By the difference of retained sizes. */
    RETAINED,
    /** By the difference of shallow sizes. */
    SHALLOW,
    /** By the difference of counts. */
    COUNT
  }

  /** Answers. */
  public static DiffAnswer ask(
      Snapshot before, Snapshot after, TypeFilter filter, Sort sort, int limit) throws IOException {
    Identities identities = Identities.of(before, after);
    Map<String, Long> added = byName(after, identities == null ? null : identities.addedByType);
    Map<String, Long> gone = byName(before, identities == null ? null : identities.goneByType);
    Map<String, long[]> sums = new TreeMap<>();
    add(before, filter, sums, 0);
    add(after, filter, sums, 3);
    List<DiffAnswer.TypeChange> changes = new ArrayList<>();
    sums.forEach(
        (type, s) -> {
          if (s[0] != s[3] || s[1] != s[4] || s[2] != s[5]) {
            String status = s[0] == 0 ? "new" : s[3] == 0 ? "gone" : "kept";
            changes.add(
                new DiffAnswer.TypeChange(
                    type,
                    status,
                    s[0],
                    s[3],
                    s[3] - s[0],
                    s[1],
                    s[4],
                    s[4] - s[1],
                    s[2],
                    s[5],
                    s[5] - s[2],
                    identities == null ? -1 : added.getOrDefault(type, 0L),
                    identities == null ? -1 : gone.getOrDefault(type, 0L)));
          }
        });
    changes.sort(order(sort));
    return new DiffAnswer(
        SnapshotSummary.of(before),
        SnapshotSummary.of(after),
        List.copyOf(changes.subList(0, Math.min(limit, changes.size()))),
        changes.size(),
        KeeperChanges.of(before, after, Math.min(limit, MOST_KEEPERS)),
        references(before, after, filter, changes),
        identities == null
            ? new DiffAnswer.ObjectChange(-1, -1, -1)
            : new DiffAnswer.ObjectChange(
                identities.addedCount, identities.keptCount, identities.goneCount));
  }

  private static Map<String, Long> byName(Snapshot snapshot, long[] byType) {
    Map<String, Long> sums = new TreeMap<>();
    for (int t = 0; byType != null && t < byType.length; t++) {
      sums.merge(snapshot.types().get(t).name(), byType[t], Long::sum);
    }
    return sums;
  }

  /** For the types that grew most: the user's own first, since they say most. */
  private static List<DiffAnswer.ReferenceChange> references(
      Snapshot before, Snapshot after, TypeFilter filter, List<DiffAnswer.TypeChange> changes)
      throws IOException {
    Map<String, TypeInfo> infos = new TreeMap<>();
    after.types().forEach(type -> infos.putIfAbsent(type.name(), type));
    List<DiffAnswer.ReferenceChange> rows = new ArrayList<>();
    int left = DETAILED_TYPES;
    for (DiffAnswer.TypeChange change : changes) {
      TypeInfo info = infos.get(change.type());
      boolean wanted = info != null && (filter.match() != null || filter.isMine(info));
      if (wanted && change.countDifference() > 0 && left-- > 0) {
        rows.addAll(ReferenceChanges.of(before, after, change.type(), ROWS_A_TYPE));
      }
    }
    return rows;
  }

  private static Comparator<DiffAnswer.TypeChange> order(Sort sort) {
    return switch (sort) {
      case RETAINED ->
          Comparator.comparingLong(DiffAnswer.TypeChange::retainedBytesDifference).reversed();
      case SHALLOW ->
          Comparator.comparingLong(DiffAnswer.TypeChange::shallowBytesDifference).reversed();
      case COUNT -> Comparator.comparingLong(DiffAnswer.TypeChange::countDifference).reversed();
    };
  }

  private static void add(Snapshot snapshot, TypeFilter filter, Map<String, long[]> sums, int at) {
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo type = snapshot.types().get(t);
      TypeCounts counts = snapshot.counts(t);
      if (counts.count() > 0 && filter.accepts(type)) {
        long[] s = sums.computeIfAbsent(type.name(), key -> new long[6]);
        s[at] += counts.count();
        s[at + 1] += counts.shallowBytes();
        s[at + 2] += counts.retainedBytes();
      }
    }
  }
}
