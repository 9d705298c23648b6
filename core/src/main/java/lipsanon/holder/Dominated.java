package lipsanon.holder;

import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Tells of objects whether one of a set dominates them. Linear in the objects on the ways, however
 * long these are. One thread.
 */
public final class Dominated {
  private final Snapshot snapshot;
  private final BitSet set;
  private final int least;

  /** Of what a way has led over: whether one of the set stands above. */
  private final BitSet below = new BitSet();

  private final BitSet beside = new BitSet();
  private final IntList way = new IntList();

  /** Those of the set that were met so far. */
  private final IntList met = new IntList();

  /**
   * For a set.
   *
   * @param set must not change
   */
  public Dominated(Snapshot snapshot, BitSet set) {
    this.snapshot = snapshot;
    this.set = set;
    int depth = Integer.MAX_VALUE;
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      depth = Math.min(depth, snapshot.depth(n));
    }
    this.least = depth;
  }

  /** Whether an object is of the set, or one of the set dominates it. */
  public boolean test(int node) {
    way.clear();
    int at = node;
    // what dominates is on every path, the nearest included: it is never deeper
    while (at >= 0
        && !set.get(at)
        && !below.get(at)
        && !beside.get(at)
        && snapshot.depth(at) >= least) {
      way.add(at);
      at = snapshot.dominator(at);
    }
    boolean found = at >= 0 && (set.get(at) || below.get(at));
    if (found && !below.get(at)) {
      below.set(at);
      met.add(at);
    }
    BitSet known = found ? below : beside;
    for (int i = 0; i < way.size(); i++) {
      known.set(way.get(i));
    }
    return found;
  }

  /** Those of the set that the objects tested so far are nearest below. */
  public IntList met() {
    return met;
  }
}
