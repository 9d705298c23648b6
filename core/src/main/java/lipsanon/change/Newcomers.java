package lipsanon.change;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.select.SameRun;

/**
 * Which objects of the last snapshot of a series were not there in the first one, where identifiers
 * tell: of what piles up those are meant, and others of their kind may be held elsewhere.
 */
final class Newcomers {
  /** More objects are not looked up one by one. */
  private static final int MOST = 1 << 20;

  private final Snapshot first;
  private final Snapshot last;
  private final boolean told;

  Newcomers(List<Snapshot> snapshots) throws IOException {
    this.first = snapshots.get(0);
    this.last = snapshots.get(snapshots.size() - 1);
    this.told = SameRun.of(first, last);
  }

  /**
   * Those of some objects of the last snapshot that came.
   *
   * @param grown by how many they are more, of which most must have come
   * @return null if all did, or it cannot be told
   */
  IntList of(IntList objects, long grown) {
    if (!told || objects.size() <= grown || objects.size() > MOST) {
      return null;
    }
    IntList came = new IntList();
    for (int i = 0; i < objects.size(); i++) {
      if (first.nodeOf(last.rawId(objects.get(i))) < 0) {
        came.add(objects.get(i));
      }
    }
    return came.size() < objects.size() && came.size() * 2L > grown ? came : null;
  }
}
