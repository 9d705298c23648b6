package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.Space;

/**
 * Nearest common ancestors in a tree whose parents have smaller numbers. Climbs step by step, until
 * the steps taken exceed a budget: then jump pointers are made, and each further answer takes
 * logarithmic time.
 */
final class NearestAncestor {
  private final IntArray parent;
  private final int count;
  private final Space space;
  private long budget;
  private IntArray level;
  private IntArray jump;

  NearestAncestor(IntArray parent, int count, Space space) {
    this.parent = parent;
    this.count = count;
    this.space = space;
    this.budget = 1000 + 4L * count;
  }

  /** Gives the memory back. */
  void release() {
    if (level != null) {
      space.release(level);
      space.release(jump);
    }
  }

  int common(int a, int b) {
    if (level != null) {
      return byJumps(a, b);
    }
    int left = 64;
    while (a != b) {
      if (a > b) {
        a = parent.get(a);
      } else {
        b = parent.get(b);
      }
      if (--left == 0) {
        left = 64;
        budget -= 64;
        if (budget < 0) {
          makeJumps();
          return byJumps(a, b);
        }
      }
    }
    return a;
  }

  private void makeJumps() {
    level = space.ints(count + 1);
    jump = space.ints(count + 1);
    for (int i = 1; i <= count; i++) {
      int up = parent.get(i);
      int far = jump.get(up);
      level.set(i, level.get(up) + 1);
      boolean even = level.get(up) - level.get(far) == level.get(far) - level.get(jump.get(far));
      jump.set(i, even ? jump.get(far) : up);
    }
  }

  private int byJumps(int a, int b) {
    int high = a;
    int low = b;
    if (level.get(high) > level.get(low)) {
      high = b;
      low = a;
    }
    int goal = level.get(high);
    while (level.get(low) > goal) {
      int far = jump.get(low);
      low = level.get(far) >= goal ? far : parent.get(low);
    }
    while (low != high) {
      int farLow = jump.get(low);
      int farHigh = jump.get(high);
      if (farLow != farHigh) {
        low = farLow;
        high = farHigh;
      } else {
        low = parent.get(low);
        high = parent.get(high);
      }
    }
    return low;
  }
}
