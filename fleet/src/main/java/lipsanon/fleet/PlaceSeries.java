package lipsanon.fleet;

import lipsanon.change.Trend;

/**
 * How many objects a place has in the snapshots of one host and build, in the order of time.
 *
 * @param counts objects; 0 where the place is not among those that were told
 * @param bytes what they retain
 */
record PlaceSeries(long[] counts, long[] bytes) {
  /** With more snapshots than this every so many are looked at. */
  private static final int MOST = 120;

  private static final int LEAST = 3;

  /** As for the growth of one series: a rise of a fiftieth, or of so many. */
  private static final int FIFTIETH = 50;

  private static final int MANY = 100;

  /** Whether there are enough snapshots to tell. */
  static boolean tells(long snapshots) {
    return snapshots >= LEAST;
  }

  /** Whether it rises steadily: the same rule as for the growth of one series. */
  boolean grows() {
    if (!tells(counts.length)) {
      return false;
    }
    long[] some = thinned(counts);
    long grown = some[some.length - 1] - some[0];
    return Trend.of(some, 0).kind() == Trend.Kind.STEADY
        && (grown * FIFTIETH >= some[0] || grown >= MANY)
        && grown >= some.length - 1
        && bytes[bytes.length - 1] > bytes[0];
  }

  private static long[] thinned(long[] all) {
    if (all.length <= MOST) {
      return all;
    }
    long[] some = new long[MOST];
    for (int i = 0; i < MOST; i++) {
      some[i] = all[(int) ((long) i * (all.length - 1) / (MOST - 1))];
    }
    return some;
  }

  double countPerSnapshot() {
    return (counts[counts.length - 1] - counts[0]) / (double) (counts.length - 1);
  }

  double bytesPerSnapshot() {
    return (bytes[bytes.length - 1] - bytes[0]) / (double) (bytes.length - 1);
  }
}
