package lipsanon.select;

import java.util.BitSet;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/**
 * The dominator tree upwards, for all objects at once: which object of a set is the nearest at or
 * above each. One array of 4 bytes an object, in which the ways up are shortened as they are
 * walked; nothing recurses. Linear time.
 */
public final class KeeperTree {
  /** Nothing of the set is above: only the super-root. */
  public static final int TOP = -1;

  /** The object is not retained. */
  public static final int UNRETAINED = -2;

  /** Settled values are negative: this plus the result. */
  private static final int SETTLED = Integer.MIN_VALUE + 2;

  private static final int AT_TOP = Integer.MAX_VALUE;

  private KeeperTree() {}

  /** By object: the nearest object of a set, itself included; or {@link #TOP} and so on. */
  public static int[] nearest(Snapshot snapshot, BitSet set) {
    int[] up = dominators(snapshot);
    for (int n = 0; n < up.length; n++) {
      int above = up[n];
      if (above >= 0) {
        if (set.get(n)) {
          up[n] = SETTLED + n;
        } else if (above == AT_TOP) {
          up[n] = SETTLED + TOP;
        } else if (up[above] < 0) {
          // mostly the one above is settled already
          up[n] = up[above];
        } else {
          settle(n, up, set);
        }
      }
    }
    for (int n = 0; n < up.length; n++) {
      up[n] -= SETTLED;
    }
    return up;
  }

  private static void settle(int node, int[] up, BitSet set) {
    int at = node;
    int result;
    while (true) {
      if (up[at] < 0) {
        result = up[at];
        break;
      }
      if (set.get(at)) {
        result = SETTLED + at;
        break;
      }
      if (up[at] == AT_TOP) {
        result = SETTLED + TOP;
        break;
      }
      at = up[at];
    }
    at = node;
    while (up[at] >= 0) {
      int above = up[at];
      up[at] = set.get(at) ? SETTLED + at : result;
      if (above == AT_TOP || set.get(at)) {
        break;
      }
      at = above;
    }
  }

  /** The objects that have one of a set above them. */
  public static BitSet below(Snapshot snapshot, BitSet set) {
    int[] nearest = nearest(snapshot, set);
    BitSet below = new BitSet(nearest.length);
    for (int n = 0; n < nearest.length; n++) {
      if (nearest[n] >= 0 && nearest[n] != n) {
        below.set(n);
      }
    }
    // members of the set that lie below others of it
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      int above = snapshot.depth(n) == 0 ? -1 : snapshot.dominator(n);
      if (above >= 0 && nearest[above] >= 0) {
        below.set(n);
      }
    }
    return below;
  }

  private static int[] dominators(Snapshot snapshot) {
    int[] up = new int[snapshot.objectCount()];
    PackedColumn dominators = snapshot.dominatorColumn();
    PackedColumn depths = snapshot.depthColumn();
    long[] differences = new long[64];
    long[] depth = new long[64];
    for (int from = 0, b = 0; from < up.length; from += 64, b++) {
      int size = dominators.block(b, differences);
      depths.block(b, depth);
      for (int i = 0; i < size; i++) {
        up[from + i] =
            depth[i] == 0
                ? SETTLED + UNRETAINED
                : differences[i] == 0 ? AT_TOP : (int) (from + i - differences[i]);
      }
    }
    return up;
  }
}
