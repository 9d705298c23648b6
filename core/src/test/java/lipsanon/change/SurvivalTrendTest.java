package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Random;
import java.util.function.LongUnaryOperator;
import lipsanon.change.SurvivalTrend.Verdict;
import org.junit.jupiter.api.Test;

/** Series of what survives, made up: steady, bounded, swinging, noisy, short. */
class SurvivalTrendTest {
  private static final long LEVEL = 200_000_000;

  /** A series each so many seconds for so long, as a function of the seconds. */
  private static SurvivalTrend of(int each, int seconds, LongUnaryOperator bytes) {
    int n = seconds / each + 1;
    long[] millis = new long[n];
    long[] values = new long[n];
    for (int i = 0; i < n; i++) {
      millis[i] = 1_000_000 + i * each * 1000L;
      values[i] = bytes.applyAsLong((long) i * each);
    }
    return SurvivalTrend.of(millis, values, n);
  }

  @Test
  void aSteadyLeakIsCalledRisingWithItsSlope() {
    for (int each : new int[] {1, 5, 8, 15, 20}) {
      Random random = new Random(each);
      SurvivalTrend trend =
          of(each, 120, s -> LEVEL + s * 100_000 + (long) (random.nextGaussian() * 300_000));
      assertThat(trend.verdict()).as("each " + each).isEqualTo(Verdict.RISING);
      assertThat(trend.bytesPerSecond()).isBetween(80_000.0, 120_000.0);
    }
  }

  @Test
  void whatIsBoundedOrSwingsIsNot() {
    Random random = new Random(3);
    assertThat(of(5, 240, s -> LEVEL + Math.min(s, 40) * 500_000).verdict())
        .isEqualTo(Verdict.FLAT);
    assertThat(of(5, 180, s -> LEVEL + (long) (random.nextGaussian() * 200_000)).verdict())
        .isEqualTo(Verdict.FLAT);
    assertThat(of(5, 240, s -> LEVEL + (long) (40_000_000 * Math.sin(s / 9.0))).verdict())
        .isEqualTo(Verdict.UNSTEADY);
    // a sawtooth that ends high
    assertThat(of(5, 200, s -> LEVEL + s % 40 * 2_000_000).verdict()).isNotEqualTo(Verdict.RISING);
    assertThat(of(5, 200, s -> LEVEL).verdict()).isEqualTo(Verdict.FLAT);
    assertThat(of(5, 200, s -> LEVEL - s * 300_000).verdict()).isEqualTo(Verdict.FALLING);
  }

  @Test
  void tooShortASeriesSaysHowLongYet() {
    SurvivalTrend none = SurvivalTrend.of(new long[0], new long[0], 0);
    assertThat(none.verdict()).isEqualTo(Verdict.UNKNOWN);
    SurvivalTrend shorter = of(5, 40, s -> LEVEL + s * 100_000);
    assertThat(shorter.verdict()).isEqualTo(Verdict.UNKNOWN);
    assertThat(shorter.waitMillis()).isBetween(15_000L, 25_000L);
    SurvivalTrend seldom = of(40, 80, s -> LEVEL + s * 100_000);
    assertThat(seldom.verdict()).isEqualTo(Verdict.UNKNOWN);
    assertThat(seldom.waitMillis()).isBetween(70_000L, 90_000L);
  }

  @Test
  void aLongSeriesIsThinnedOut() {
    long begun = System.nanoTime();
    SurvivalTrend trend = of(1, 19_000, s -> LEVEL + s * 100_000);
    assertThat(trend.verdict()).isEqualTo(Verdict.RISING);
    assertThat(trend.points()).isEqualTo(19_001);
    assertThat(trend.bytesPerSecond()).isBetween(99_000.0, 101_000.0);
    assertThat((System.nanoTime() - begun) / 1_000_000).isLessThan(20_000);
  }
}
