package lipsanon.cli.command.live;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.util.List;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.watch.Watched;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Conditions of captures, and the spans and sizes in them. */
class ConditionTest {
  private static final Format FORMAT = new Format(false);

  private static Watched watched(long used, long max, int counts, long each) {
    Watched watched = new Watched(true, true);
    for (int i = 0; i <= counts; i++) {
      watched.add(new HeapReading(i * 6000L, used, used, max, 0, 0, -1, List.of()));
      long bytes = 100_000_000 + each * i;
      watched.add(new TypeCounts(i * 6000L, 1, true, List.of(), 1, bytes));
    }
    return watched;
  }

  @Test
  void levels() {
    Condition share = Condition.parse("heap > 80%");
    assertThat(share.holds(watched(81, 100, 0, 0), FORMAT)).isEqualTo("the heap is 81 B");
    assertThat(share.holds(watched(80, 100, 0, 0), FORMAT)).isEmpty();
    Condition size = Condition.parse(" heap>500MB ");
    assertThat(size.holds(watched(500_000_001, 0, 0, 0), FORMAT)).isNotEmpty();
    assertThat(size.holds(watched(500_000_000, 0, 0, 0), FORMAT)).isEmpty();
    Condition survivors = Condition.parse("survivors > 99 MB");
    assertThat(survivors.holds(watched(5, 100, 6, 0), FORMAT)).contains("survives");
    assertThat(survivors.needsSurvivors()).isTrue();
    assertThatThrownBy(() -> share.holds(watched(5, -1, 0, 0), FORMAT))
        .isInstanceOf(UsageException.class);
  }

  @Test
  void aRiseMustLast() {
    Condition rise = Condition.parse("survivors rise > 1MB/min for 2m");
    // 6 MB a minute
    assertThat(rise.holds(watched(1, 2, 15, 600_000), FORMAT)).isEmpty();
    assertThat(rise.holds(watched(1, 2, 21, 600_000), FORMAT)).contains("a minute for");
    // 0.6 MB a minute
    assertThat(rise.holds(watched(1, 2, 30, 60_000), FORMAT)).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "",
        "heap",
        "heap > ",
        "heap > 120%",
        "heap > 0%",
        "heap > x",
        "heap < 5MB",
        "survivors rise > 1MB for 10m",
        "survivors rise > 1MB/min",
        "stack > 5MB",
        "survivors rise > 1MB/min for ever"
      })
  void whatIsNoConditionIsTold(String text) {
    assertThatThrownBy(() -> Condition.parse(text))
        .isInstanceOf(UsageException.class)
        .hasMessageContaining("--when");
  }

  @ParameterizedTest
  @CsvSource({
    "500ms, 500",
    "30, 30000",
    "30s, 30000",
    "10m, 600000",
    "2h, 7200000",
    "1d, 86400000"
  })
  void spans(String text, long millis) {
    assertThat(Spans.millis(text, "--for")).isEqualTo(millis);
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "x", "-5s", "5 parsecs", "0s", "99999999d"})
  void noSpans(String text) {
    assertThatThrownBy(() -> Spans.millis(text, "--for"))
        .isInstanceOf(UsageException.class)
        .hasMessageContaining("--for");
  }

  @Test
  void sizes() {
    assertThat(Spans.bytes("1.5 MB")).isEqualTo(1_500_000);
    assertThat(Spans.bytes("3kB")).isEqualTo(3000);
    assertThat(Spans.bytes("7")).isEqualTo(7);
    assertThat(Spans.bytes("2G")).isEqualTo(2_000_000_000);
    assertThat(Spans.bytes("much")).isEqualTo(-1);
  }
}
