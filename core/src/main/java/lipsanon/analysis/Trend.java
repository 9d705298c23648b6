package lipsanon.analysis;

import java.util.Arrays;

/**
 * How a series moves. Mann-Kendall's statistic (H. Mann 1945, M. Kendall 1975) says whether later
 * values tend to be higher, Theil and Sen's slope (H. Theil 1950, P. K. Sen 1968) by how much a
 * snapshot; the differences tell a steady rise from one that levels off.
 *
 * @param kind what the series does
 * @param slope the median of the slopes between all pairs
 * @param rising the share of pairs that rise, less those that fall: -1 to 1
 * @param slows whether each rise is smaller than the one before
 * @param exactPerAction if every difference is the same multiple of the actions: that multiple,
 *     else 0
 */
record Trend(Kind kind, double slope, double rising, long exactPerAction, boolean slows) {
  /** What a series does. */
  enum Kind {
    /** It rises and goes on rising. */
    STEADY,
    /** It rose, and has nearly stopped. */
    LEVELLED,
    /** It goes up and down. */
    SWINGS,
    /** It rises, but there are too few values to tell a trend. */
    TWO_POINTS,
    /** It does not rise. */
    NONE
  }

  /** Below this share of the largest rise, a last rise counts as the end of it. */
  private static final double NEARLY_STOPPED = 0.3;

  /**
   * Judges a series.
   *
   * @param actions how often the action was done between two values, or 0 if that is not known
   */
  static Trend of(long[] series, int actions) {
    int n = series.length;
    long grown = series[n - 1] - series[0];
    double[] slopes = new double[n * (n - 1) / 2];
    int at = 0;
    int sum = 0;
    for (int i = 0; i < n; i++) {
      for (int j = i + 1; j < n; j++) {
        slopes[at++] = (series[j] - series[i]) / (double) (j - i);
        sum += Long.signum(series[j] - series[i]);
      }
    }
    Arrays.sort(slopes);
    double slope = slopes.length == 0 ? 0 : slopes[slopes.length / 2];
    double rising = slopes.length == 0 ? 0 : sum / (double) slopes.length;
    return new Trend(
        kind(series, grown, rising), slope, rising, exact(series, actions), slowing(series));
  }

  private static Kind kind(long[] series, long grown, double rising) {
    int n = series.length;
    if (grown <= 0) {
      return Kind.NONE;
    }
    if (n == 2) {
      return Kind.TWO_POINTS;
    }
    long largest = 0;
    long falls = 0;
    for (int i = 1; i < n; i++) {
      largest = Math.max(largest, series[i] - series[i - 1]);
      falls += Math.max(0, series[i - 1] - series[i]);
    }
    if (falls * 3 > grown || rising < 0.5) {
      return Kind.SWINGS;
    }
    long last = series[n - 1] - series[n - 2];
    // arrays grow in steps: then it is the later half that must have grown
    long laterHalf = series[n - 1] - series[(n - 1) / 2];
    boolean stopped = last < NEARLY_STOPPED * largest && (last <= 0 || laterHalf * 3 < grown);
    boolean slowing = slowing(series) && last < 0.5 * largest;
    if (n == 3 && last < NEARLY_STOPPED * largest) {
      stopped = true;
    }
    if (last <= 0 && n > 3 && laterHalf * 3 >= grown && series[n - 2] > series[n - 3]) {
      stopped = false;
    }
    return stopped || slowing ? Kind.LEVELLED : Kind.STEADY;
  }

  /** Whether each rise is smaller than the one before: how caches fill. */
  private static boolean slowing(long[] series) {
    for (int i = 2; i < series.length; i++) {
      if (series[i] - series[i - 1] >= series[i - 1] - series[i - 2]) {
        return false;
      }
    }
    return series.length > 2;
  }

  private static long exact(long[] series, int actions) {
    if (actions <= 0) {
      return 0;
    }
    long first = series[1] - series[0];
    if (first <= 0 || first % actions != 0) {
      return 0;
    }
    for (int i = 2; i < series.length; i++) {
      if (series[i] - series[i - 1] != first) {
        return 0;
      }
    }
    return first / actions;
  }
}
