package lipsanon.holder;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;

/**
 * How many objects of each family of types there are in each snapshot of a series, wherever they
 * are held. Objects are matched from snapshot to snapshot by how they are held; where that changes
 * (a table is rebuilt, a tree becomes one level deeper, another reference comes or goes), the same
 * objects would seem to vanish here and to appear there: the totals tell better.
 */
public final class FamilyTotals {
  private static final int LATE = 2;

  private final Map<String, long[]> counts = new HashMap<>();

  private FamilyTotals() {}

  static FamilyTotals of(List<Snapshot> snapshots) {
    FamilyTotals totals = new FamilyTotals();
    for (int s = 0; s < snapshots.size(); s++) {
      List<TypeInfo> types = snapshots.get(s).types();
      for (int t = 0; t < types.size(); t++) {
        long count = snapshots.get(s).counts(t).count() - snapshots.get(s).counts(t).unretained();
        totals
                .counts
                .computeIfAbsent(
                    Families.of(types.get(t).name()), key -> new long[snapshots.size()])[s] +=
            count;
      }
    }
    return totals;
  }

  /** The counts of a family, by snapshot; null if there is none. */
  public long[] of(String family) {
    return counts.get(family);
  }

  /**
   * Gives a place that appears late the counts that its objects had elsewhere before: those of its
   * family, less what is not in this place at the end. Left alone where that is no plausible
   * series.
   */
  void heldElsewhere(Place place) {
    int n = place.counts.length;
    int zeros = 0;
    while (zeros < n && place.counts[zeros] == 0) {
      zeros++;
    }
    long[] all = counts.get(place.type);
    if (zeros < LATE || zeros == n || all == null) {
      return;
    }
    long others = all[n - 1] - place.counts[n - 1];
    long[] before = place.counts.clone();
    for (int s = 0; s < zeros; s++) {
      before[s] = all[s] - others;
      boolean falls = s > 0 && before[s] < before[s - 1];
      if (before[s] < 0 || falls || before[s] > place.counts[zeros]) {
        return;
      }
    }
    double bytes = place.bytes[zeros] / (double) place.counts[zeros];
    double shallow = place.shallow[zeros] / (double) place.counts[zeros];
    for (int s = 0; s < zeros; s++) {
      place.counts[s] = before[s];
      place.bytes[s] = Math.round(before[s] * bytes);
      place.shallow[s] = Math.round(before[s] * shallow);
    }
  }
}
