package lipsanon.cli.term;

import static org.assertj.core.api.Assertions.assertThat;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Figures as people read them, at the borders of their units. */
class FormatTest {
  private final Format format = new Format(false);
  private final Format exact = new Format(true);

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "0; 0 B",
        "1; 1 B",
        "999; 999 B",
        "1000; 1.00 kB",
        "9994; 9.99 kB",
        "9995; 10.0 kB",
        "99949; 99.9 kB",
        "999949; 999.9 kB",
        "999950; 1.00 MB",
        "1500000; 1.50 MB",
        "123456789; 123.5 MB",
        "2184065084; 2.18 GB",
        "5000000000000; 5.00 TB",
        "9223372036854775807; 9223.4 PB",
        "-1; -1 B",
        "-1500; -1.50 kB",
        "-9223372036854775808; -9,223,372,036,854,775,808 B"
      })
  void sizes(long bytes, String shown) {
    assertThat(format.size(bytes)).isEqualTo(shown);
  }

  @Test
  void exactSizesAreCounts() {
    assertThat(exact.size(1_234_567)).isEqualTo("1,234,567");
    assertThat(exact.size(-5)).isEqualTo("-5");
    assertThat(exact.cell(4096)).isEqualTo(new Table.Cell("4,096", "4096"));
    assertThat(format.cell(4096)).isEqualTo(new Table.Cell("4.10 kB", "4096"));
  }

  @Test
  void differencesHaveSigns() {
    assertThat(format.difference(2000)).isEqualTo("+2.00 kB");
    assertThat(format.difference(0)).isEqualTo("0 B");
    assertThat(format.difference(-2000)).isEqualTo("-2.00 kB");
    assertThat(Format.countDifference(1200)).isEqualTo("+1,200");
    assertThat(Format.countDifference(0)).isEqualTo("0");
    assertThat(Format.countDifference(-1)).isEqualTo("-1");
  }

  @Test
  void shares() {
    assertThat(Format.percent(0)).isEqualTo("0.0 %");
    assertThat(Format.percent(0.12345)).isEqualTo("12.3 %");
    assertThat(Format.percent(1)).isEqualTo("100.0 %");
    assertThat(Format.share(1 / 3.0)).isEqualTo(new Table.Cell("33.3 %", "0.333333"));
  }

  @ParameterizedTest
  @CsvSource({
    "-1, ?",
    "0, 0.0 s",
    "1234, 1.2 s",
    "9999, 10.0 s",
    "10000, 10 s",
    "99999, 99 s",
    "100000, 1 min",
    "5999000, 99 min",
    "6000000, 1 h 40 min",
    "172740000, 47 h 59 min",
    "172800000, 2 days",
    "864000000, 10 days"
  })
  void timeSpans(long millis, String shown) {
    assertThat(Format.duration(millis)).isEqualTo(shown);
  }
}
