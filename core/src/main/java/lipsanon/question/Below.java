package lipsanon.question;

import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/** Counts objects that another one dominates: linear time, however long the ways to them are. */
final class Below {
  /** Objects of one type are counted one by one up to so many. */
  static final int MOST_COUNTED = 300_000;

  private Below() {}

  /** How many of some objects {@code top} dominates; it does so itself. */
  static long count(Snapshot snapshot, int top, IntList members) {
    // by object, once a way has led over it: whether the top stands above
    BitSet below = new BitSet();
    BitSet beside = new BitSet();
    IntList way = new IntList();
    int least = snapshot.depth(top);
    long count = 0;
    for (int i = 0; i < members.size(); i++) {
      way.clear();
      int at = members.get(i);
      // what dominates is on every path, the nearest included: it is never deeper
      while (at >= 0
          && at != top
          && !below.get(at)
          && !beside.get(at)
          && snapshot.depth(at) >= least) {
        way.add(at);
        at = snapshot.dominator(at);
      }
      boolean found = at >= 0 && (at == top || below.get(at));
      BitSet known = found ? below : beside;
      for (int w = 0; w < way.size(); w++) {
        known.set(way.get(w));
      }
      count += found ? 1 : 0;
    }
    return count;
  }
}
