package lipsanon.change;

import java.util.Arrays;

/**
 * How what survives collections moves over time: a series of uneven instants. The slope is Theil
 * and Sen's (the median of the slopes of all pairs), whether it rises is told by Mann and Kendall's
 * statistic. A rise must also go on in its later half (a cache that fills does not), outweigh what
 * fell between (a pool that swings does not), and be large enough to matter.
 *
 * @param verdict what the series does
 * @param bytesPerSecond the slope; 0 where there are too few points
 * @param spanMillis from the first point to the last
 * @param points how many there are
 * @param waitMillis while it cannot be told: for how long it should be watched yet, a guess
 */
public record SurvivalTrend(
    Verdict verdict, double bytesPerSecond, long spanMillis, int points, long waitMillis) {
  /** What a series does. */
  public enum Verdict {
    /** It rises steadily. */
    RISING("rising"),
    /** It stays, or moves too little to matter. */
    FLAT("flat"),
    /** It goes up and down, or has levelled off. */
    UNSTEADY("up and down"),
    /** It falls. */
    FALLING("falling"),
    /** It was not watched for long enough. */
    UNKNOWN("cannot tell yet");

    private final String words;

    Verdict(String words) {
      this.words = words;
    }

    /** As users read it. */
    public String words() {
      return words;
    }
  }

  /** Shorter series may be half of a swing. */
  private static final long LEAST_SPAN_MILLIS = 60_000;

  private static final int LEAST_POINTS = 5;
  private static final int PARTS = 12;

  /** More points are thinned out: pairs are compared. */
  private static final int MOST_POINTS = 400;

  /** Below so much an hour, as a share of the level, nothing matters. */
  private static final double SHARE_AN_HOUR = 0.02;

  /** The statistic's value that chance reaches in 2 of 100 series that do not rise. */
  private static final double SURE = 2.05;

  /** The later half must go on at this share of the whole slope. */
  private static final double GOES_ON = 0.35;

  /** Judges a series whose points were taken at these instants, ascending; the first {@code n}. */
  public static SurvivalTrend of(long[] millis, long[] bytes, int n) {
    if (n < 2) {
      return new SurvivalTrend(Verdict.UNKNOWN, 0, 0, n, LEAST_SPAN_MILLIS);
    }
    if (n > MOST_POINTS) {
      return thinned(millis, bytes, n);
    }
    long span = millis[n - 1] - millis[0];
    double slope = slope(millis, bytes, 0, n);
    if (span < LEAST_SPAN_MILLIS || n < LEAST_POINTS) {
      long each = Math.max(1, span / (n - 1));
      long wait = Math.max(LEAST_SPAN_MILLIS - span, (LEAST_POINTS - n) * each);
      return new SurvivalTrend(Verdict.UNKNOWN, slope, span, n, Math.max(1000, wait));
    }
    return new SurvivalTrend(verdict(millis, bytes, n, slope, span), slope, span, n, 0);
  }

  private static SurvivalTrend thinned(long[] millis, long[] bytes, int n) {
    long[] at = new long[MOST_POINTS];
    long[] some = new long[MOST_POINTS];
    for (int i = 0; i < MOST_POINTS; i++) {
      int from = (int) ((long) i * (n - 1) / (MOST_POINTS - 1));
      at[i] = millis[from];
      some[i] = bytes[from];
    }
    SurvivalTrend trend = of(at, some, MOST_POINTS);
    return new SurvivalTrend(
        trend.verdict(), trend.bytesPerSecond(), trend.spanMillis(), n, trend.waitMillis());
  }

  private static Verdict verdict(long[] millis, long[] bytes, int n, double slope, long span) {
    double level = Math.max(1, Arrays.stream(bytes, 0, n).average().orElse(1));
    double grown = slope * span / 1000;
    double z = kendall(bytes, n);
    boolean matters = Math.abs(slope) * 3600 > SHARE_AN_HOUR * level;
    double[] smooth = smooth(millis, bytes, n);
    double fell = 0;
    double rose = 0;
    for (int i = 1; i < smooth.length; i++) {
      fell += Math.max(0, smooth[i - 1] - smooth[i]);
      rose += Math.max(0, smooth[i] - smooth[i - 1]);
    }
    // how far the values stray from their middle: a swing is no flat line
    double stray = (fell + rose - Math.abs(smooth[smooth.length - 1] - smooth[0])) / level;
    if (Math.abs(z) < SURE || !matters) {
      return stray > 0.1 ? Verdict.UNSTEADY : Verdict.FLAT;
    }
    if (z < 0) {
      return Verdict.FALLING;
    }
    boolean goesOn = slope(millis, bytes, n / 2, n) > GOES_ON * slope;
    return goesOn && fell * 3 <= rose && grown > 0
        ? Verdict.RISING
        : fell * 3 > rose ? Verdict.UNSTEADY : Verdict.FLAT;
  }

  /** Averages over equal parts of the time, so that noise from value to value is no swing. */
  private static double[] smooth(long[] millis, long[] bytes, int n) {
    double[] sums = new double[PARTS];
    int[] counts = new int[PARTS];
    long span = millis[n - 1] - millis[0] + 1;
    for (int i = 0; i < n; i++) {
      int part = (int) ((millis[i] - millis[0]) * PARTS / span);
      sums[part] += bytes[i];
      counts[part]++;
    }
    int filled = 0;
    for (int part = 0; part < PARTS; part++) {
      if (counts[part] > 0) {
        sums[filled++] = sums[part] / counts[part];
      }
    }
    return Arrays.copyOf(sums, filled);
  }

  /** Theil and Sen's slope of a part of the series, bytes a second. */
  private static double slope(long[] millis, long[] bytes, int from, int to) {
    int n = to - from;
    double[] slopes = new double[n * (n - 1) / 2];
    int at = 0;
    for (int i = from; i < to; i++) {
      for (int j = i + 1; j < to; j++) {
        if (millis[j] > millis[i]) {
          slopes[at++] = (bytes[j] - bytes[i]) * 1000.0 / (millis[j] - millis[i]);
        }
      }
    }
    if (at == 0) {
      return 0;
    }
    Arrays.sort(slopes, 0, at);
    return at % 2 == 1 ? slopes[at / 2] : (slopes[at / 2 - 1] + slopes[at / 2]) / 2;
  }

  /** Mann and Kendall's statistic in standard deviations. */
  private static double kendall(long[] bytes, int n) {
    long sum = 0;
    for (int i = 0; i < n; i++) {
      for (int j = i + 1; j < n; j++) {
        sum += Long.signum(bytes[j] - bytes[i]);
      }
    }
    double deviation = Math.sqrt(n * (n - 1.0) * (2.0 * n + 5) / 18);
    return (sum - Long.signum(sum)) / deviation;
  }
}
