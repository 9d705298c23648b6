package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class TrendTest {
  @ParameterizedTest
  @CsvSource({
    "10 20 30, STEADY",
    "10 20 31 39 50, STEADY",
    "5 105 135 215, STEADY",
    "0 1000 1000 2000 2000 3000, STEADY",
    "10 20, TWO_POINTS",
    "20 10, NONE",
    "7 7 7, NONE",
    "0 100 110 111, LEVELLED",
    "0 100 100, LEVELLED",
    "0 160 240 280, LEVELLED",
    "0 180 252 281 292, LEVELLED",
    "4 9 2 7 6, SWINGS",
    "10 60 12 61 13, SWINGS"
  })
  void tellsSteadyFromTheRest(String series, Trend.Kind kind) {
    assertThat(Trend.of(values(series), 0).kind()).isEqualTo(kind);
  }

  private static long[] values(String series) {
    return Arrays.stream(series.split(" ")).mapToLong(Long::parseLong).toArray();
  }

  @Test
  void findsExactMultiplesOfTheActions() {
    assertThat(Trend.of(values("3 24 45"), 7).exactPerAction()).isEqualTo(3);
    assertThat(Trend.of(values("3 24 46"), 7).exactPerAction()).isZero();
    assertThat(Trend.of(values("3 23 43"), 7).exactPerAction()).isZero();
    assertThat(Trend.of(values("3 24 45"), 0).exactPerAction()).isZero();
  }

  @Test
  void theSlopeIsTheMedianOne() {
    assertThat(Trend.of(values("0 10 20 30 1000"), 0).slope()).isBetween(10.0, 250.0);
    assertThat(Trend.of(values("0 10 20 30"), 0).slope()).isEqualTo(10);
  }

  /** A last interval of four times the actions: what goes on, what stops, and what only begins. */
  @ParameterizedTest
  @CsvSource({
    "0 10 20 60, STEADY",
    "0 10 20 25, LEVELLED",
    "0 0 0 30, LATE",
    "1105 1110 1110 1217, LATE",
    "0 10 40 200, STEADY",
    "0 30 10 50, SWINGS"
  })
  void aLongLastIntervalIsATest(String series, Trend.Kind kind) {
    assertThat(Trend.of(values(series), new int[] {100, 100, 400}).kind()).isEqualTo(kind);
  }
}
