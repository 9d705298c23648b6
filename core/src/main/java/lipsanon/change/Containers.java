package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;
import lipsanon.select.SameRun;

/**
 * Arrays, maps, sets and objects used as tables that hold more from snapshot to snapshot: the same
 * object each time, told by its identifier.
 */
final class Containers {
  private static final int MOST = 8;
  private static final int LEAST_SIZE = 4;

  private Containers() {}

  /** The containers that grew most; empty where identifiers are not stable. */
  static List<Series> grown(List<Snapshot> snapshots, TypeFilter mine) throws IOException {
    for (int s = 1; s < snapshots.size(); s++) {
      if (!SameRun.of(snapshots.get(s - 1), snapshots.get(s))) {
        return List.of();
      }
    }
    Snapshot last = snapshots.get(snapshots.size() - 1);
    List<Series> grown = new ArrayList<>();
    IntList candidates = last.objects().containers(LEAST_SIZE);
    for (int i = 0; i < candidates.size(); i++) {
      int node = candidates.get(i);
      Series series = series(snapshots, node);
      if (series != null && series.rises() && series.growth() >= snapshots.size() - 1) {
        grown.add(series);
      }
    }
    grown.sort(Comparator.comparingLong(Series::growth).reversed());
    HolderSearch search = new HolderSearch(last, new Ownership(last, mine));
    List<Series> rows = new ArrayList<>();
    for (Series series : grown) {
      if (rows.size() == MOST) {
        break;
      }
      Holding holding = search.searchOne(last.nodeOf(series.id()));
      // what nobody of the user's holds is the runtime's own bookkeeping
      if (holding.whose() == Ownership.Whose.OWN) {
        rows.add(new Series(series.what(), series.id(), holding.text(), series.counts()));
      }
    }
    return rows;
  }

  /** The sizes of an object over the series; null if it was not there all the time. */
  private static Series series(List<Snapshot> snapshots, int node) throws IOException {
    Snapshot last = snapshots.get(snapshots.size() - 1);
    List<Long> counts = new ArrayList<>();
    for (Snapshot snapshot : snapshots) {
      int same = snapshot == last ? node : snapshot.nodeOf(last.rawId(node));
      if (same < 0 || !snapshot.typeName(same).equals(last.typeName(node))) {
        return null;
      }
      counts.add(snapshot.objects().size(same));
      if (counts.get(0) >= last.objects().size(node)) {
        return null;
      }
    }
    return new Series(last.typeName(node), last.id(node), "", counts);
  }
}
