package lipsanon.question;

import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.holder.Dominated;
import lipsanon.index.Snapshot;

/** Counts objects that another one dominates: linear time, however long the ways to them are. */
final class Below {
  /** Objects of one type are counted one by one up to so many. */
  static final int MOST_COUNTED = 300_000;

  private Below() {}

  /** How many of some objects {@code top} dominates; it does so itself. */
  static long count(Snapshot snapshot, int top, IntList members) {
    BitSet one = new BitSet();
    one.set(top);
    Dominated dominated = new Dominated(snapshot, one);
    long count = 0;
    for (int i = 0; i < members.size(); i++) {
      count += dominated.test(members.get(i)) ? 1 : 0;
    }
    return count;
  }
}
