package lipsanon.label;

import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;

/**
 * Which objects lie below one in the dominator tree. A way up that was gone once is not gone again:
 * thousands may hang one below the other, and all of them refer to the same object. Takes memory
 * for what was met only, since thousands are asked for; for a set, or many objects at once, see
 * {@code Dominated}. One thread.
 */
final class WaysUp {
  private static final int YES = 1;
  private static final int NO = 0;

  /** Steps up for each object that is asked about, and for all of them. */
  private static final long STEPS = 20_000;

  private static final long MOST_STEPS = 2_000_000;

  private final Snapshot snapshot;
  private final int above;
  private final int depth;
  private final LongIntMap known = new LongIntMap();
  private long left;

  /**
   * Nothing is known yet of what lies below {@code above}.
   *
   * @param asked how many will be asked about: so many steps are granted, and beyond them nothing
   *     more is found to lie below
   */
  WaysUp(Snapshot snapshot, int above, int asked) {
    this.snapshot = snapshot;
    this.above = above;
    this.left = Math.min(MOST_STEPS, STEPS * asked);
    // what dominates is on every path, the nearest included: it is never deeper
    this.depth = snapshot.depth(above);
  }

  /** Whether an object is dominated by the one above; that one is itself. */
  boolean has(int node) {
    IntList way = new IntList();
    int at = node;
    int answer = -1;
    while (answer < 0) {
      if (at == above) {
        answer = YES;
      } else if (at < 0 || snapshot.depth(at) < depth || left-- <= 0) {
        answer = NO;
      } else {
        answer = known.get(at);
        if (answer < 0) {
          way.add(at);
          at = snapshot.dominator(at);
        }
      }
    }
    for (int i = 0; i < way.size(); i++) {
      known.put(way.get(i), answer);
    }
    return answer == YES;
  }
}
