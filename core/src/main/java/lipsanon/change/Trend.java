package lipsanon.change;

import java.util.Arrays;

/**
 * How a series moves. Mann-Kendall's statistic (H. Mann 1945, M. Kendall 1975) says whether later
 * values tend to be higher, Theil and Sen's slope (H. Theil 1950, P. K. Sen 1968) by how much a
 * snapshot; the differences tell a steady rise from one that levels off. Where the last interval is
 * much longer than the others, it is a test: what is bounded stops in it, what leaks goes on in
 * proportion.
 *
 * @param kind what the series does
 * @param slope the median of the slopes between all pairs, a snapshot
 * @param rising the share of pairs that rise, less those that fall: -1 to 1
 * @param slows whether each rise is smaller than the one before
 * @param exactPerAction if every difference is the same multiple of the actions: that multiple,
 *     else 0
 * @param confirmed whether it went on in proportion in a last interval that was much longer
 */
public record Trend(
    Kind kind, double slope, double rising, long exactPerAction, boolean slows, boolean confirmed) {
  /** What a series does. */
  public enum Kind {
    /** It rises and goes on rising. */
    STEADY,
    /** It rose, and has nearly stopped. */
    LEVELLED,
    /** It goes up and down. */
    SWINGS,
    /** It came nearly all in a last interval that was much longer, and hardly before. */
    LATE,
    /** It rises, but there are too few values to tell a trend. */
    TWO_POINTS,
    /** It does not rise. */
    NONE
  }

  /** Below this share of the largest rise, a last rise counts as the end of it. */
  private static final double NEARLY_STOPPED = 0.3;

  /** From this share of the earlier rate on, a long last interval confirms a rise. */
  private static final double IN_PROPORTION = 0.5;

  /**
   * From so many times the earlier rate on, a long last interval shows another thing than those
   * before: what grows with its own size rises at less than this, as intervals go here.
   */
  private static final double OUT_OF_PROPORTION = 8;

  /** A last interval with so many times the actions of any other is a test. */
  private static final int MUCH_LONGER = 2;

  /** Why what moves so is no growth, in words; null if it may be. */
  String noGrowth() {
    return switch (kind) {
      case STEADY, TWO_POINTS -> null;
      case LEVELLED -> "grew, but levelled off: a cache that filled, or warm-up";
      case SWINGS -> "goes up and down";
      case LATE -> "came nearly all in the last, long round: something first used there";
      case NONE -> "did not grow from first to last";
    };
  }

  /** Judges a series whose intervals are alike, with so many actions each; 0 if not known. */
  public static Trend of(long[] series, int actions) {
    int[] each = new int[Math.max(0, series.length - 1)];
    Arrays.fill(each, actions);
    return of(series, each);
  }

  /**
   * Judges a series.
   *
   * @param actions how often the action was done in each interval; zeros if that is not known
   */
  static Trend of(long[] series, int[] actions) {
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
    boolean tested = isTested(actions);
    Kind kind = tested ? tested(series, actions, grown, rising) : kind(series, grown, rising);
    boolean confirmed = tested && kind == Kind.STEADY && lastRate(series, actions) >= IN_PROPORTION;
    return new Trend(
        kind, slope, rising, exact(series, actions), !tested && slowing(series), confirmed);
  }

  /** Whether the last interval is a test of what the others showed. */
  static boolean isTested(int[] actions) {
    int n = actions.length;
    int most = 0;
    for (int i = 0; i < n - 1; i++) {
      most = Math.max(most, actions[i]);
    }
    return n > 1 && most > 0 && actions[n - 1] >= MUCH_LONGER * most;
  }

  /** The rise an action in the last interval, as a share of that in all before. */
  private static double lastRate(long[] series, int[] actions) {
    int n = series.length;
    long before = 0;
    for (int i = 0; i < n - 2; i++) {
      before += actions[i];
    }
    double early = (series[n - 2] - series[0]) / (double) Math.max(1, before);
    double late = (series[n - 1] - series[n - 2]) / (double) actions[n - 2];
    return early <= 0 ? 0 : late / early;
  }

  private static Kind tested(long[] series, int[] actions, long grown, double rising) {
    int n = series.length;
    long falls = 0;
    for (int i = 1; i < n; i++) {
      falls += Math.max(0, series[i - 1] - series[i]);
    }
    if (grown <= 0) {
      return Kind.NONE;
    }
    if (falls * 3 > grown) {
      return Kind.SWINGS;
    }
    double rate = lastRate(series, actions);
    if (series[n - 2] <= series[0] || rate > OUT_OF_PROPORTION) {
      // what came in the long round alone is no rise that was there before
      return Kind.LATE;
    }
    if (rising < 0.5) {
      return Kind.SWINGS;
    }
    return rate < NEARLY_STOPPED ? Kind.LEVELLED : Kind.STEADY;
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

  private static long exact(long[] series, int[] actions) {
    long each = 0;
    for (int i = 1; i < series.length; i++) {
      long rise = series[i] - series[i - 1];
      int done = actions[i - 1];
      if (done <= 0 || rise <= 0 || rise % done != 0 || each != 0 && rise / done != each) {
        return 0;
      }
      each = rise / done;
    }
    return each;
  }
}
