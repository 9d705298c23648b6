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
  /** With fewer snapshots too much else may have come and gone of the runtime's types. */
  private static final int SERIES = 3;

  /** Others of the family may have become fewer or more by such a part. */
  private static final int TOLERANCE = 5;

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
    boolean tooFew = n < SERIES && place.library;
    if (tooFew || zeros == 0 || zeros == n || all == null) {
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
    if (before[0] >= place.counts[n - 1]) {
      // there are no more of them: if it grew, that is by what they hold
      return;
    }
    place.countedByType = true;
    double bytes = place.bytes[zeros] / (double) place.counts[zeros];
    double shallow = place.shallow[zeros] / (double) place.counts[zeros];
    for (int s = 0; s < zeros; s++) {
      place.counts[s] = before[s];
      place.bytes[s] = Math.round(before[s] * bytes);
      place.shallow[s] = Math.round(before[s] * shallow);
    }
  }

  /**
   * Gives a place the counts of snapshots between others in which its objects seem to be gone,
   * though there are as many of the family as before and after let expect: for a while something
   * else held them as well, such as a handle of code that was being compiled.
   */
  void heldElsewhereMeanwhile(Place place) {
    int last = place.counts.length - 1;
    long[] all = counts.get(place.type);
    if (all == null || place.counts[0] == 0 || place.counts[last] == 0) {
      return;
    }
    long others = all[last] - place.counts[last];
    for (int s = 1; s < last; s++) {
      if (place.counts[s] > 0) {
        continue;
      }
      int next = s + 1;
      while (place.counts[next] == 0) {
        next++;
      }
      long count = all[s] - others;
      long least = Math.min(place.counts[s - 1], place.counts[next]);
      long most = Math.max(place.counts[s - 1], place.counts[next]);
      if (count > 0 && count >= least - least / TOLERANCE && count <= most + most / TOLERANCE) {
        fill(place, s, Math.max(least, Math.min(most, count)), next);
      }
    }
  }

  /** Sizes as those of the snapshots around let expect. */
  private static void fill(Place place, int s, long count, int next) {
    double objects = place.counts[s - 1] + (double) place.counts[next];
    place.countedByType = true;
    place.counts[s] = count;
    place.bytes[s] = Math.round(count * ((place.bytes[s - 1] + place.bytes[next]) / objects));
    place.shallow[s] = Math.round(count * ((place.shallow[s - 1] + place.shallow[next]) / objects));
  }
}
