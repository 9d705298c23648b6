package lipsanon.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.stream.LongStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Which series of a place grow. */
class PlaceSeriesTest {
  private static PlaceSeries of(long... counts) {
    return new PlaceSeries(counts, Arrays.stream(counts).map(count -> count * 100).toArray());
  }

  @ParameterizedTest
  @CsvSource({
    "'10 20 30', true",
    "'0 15 30 45', true",
    "'1000 1040 1080', true",
    "'100000 100110 100220', true",
    // too few snapshots
    "'10 20', false",
    "'10', false",
    // less than a fiftieth, and not many
    "'10000 10020 10040', false",
    // levels off
    "'10 400 400 400', false",
    "'10 300 400 420 425', false",
    // goes up and down
    "'10 90 20 80 30', false",
    "'30 20 10', false",
    "'30 30 30', false"
  })
  void asOneSeriesIsJudged(String counts, boolean grows) {
    long[] series = Arrays.stream(counts.split(" ")).mapToLong(Long::parseLong).toArray();
    assertThat(of(series).grows()).isEqualTo(grows);
  }

  @Test
  void moreObjectsThatRetainNoMoreDoNotGrow() {
    assertThat(new PlaceSeries(new long[] {10, 20, 30}, new long[] {100, 100, 100}).grows())
        .isFalse();
  }

  @Test
  void veryLongSeriesAreThinnedOut() {
    assertThat(of(LongStream.range(0, 5_000).map(i -> 100 + 7 * i).toArray()).grows()).isTrue();
    assertThat(of(LongStream.range(0, 5_000).map(i -> 100 + 700 * (i % 2)).toArray()).grows())
        .isFalse();
    assertThat(of(LongStream.range(0, 5_000).map(i -> Math.min(i, 900)).toArray()).grows())
        .isFalse();
  }

  @Test
  void whatComesWithEachSnapshot() {
    PlaceSeries series = of(10, 25, 40);
    assertThat(series.countPerSnapshot()).isEqualTo(15);
    assertThat(series.bytesPerSnapshot()).isEqualTo(1500);
    assertThat(PlaceSeries.tells(2)).isFalse();
    assertThat(PlaceSeries.tells(3)).isTrue();
  }
}
