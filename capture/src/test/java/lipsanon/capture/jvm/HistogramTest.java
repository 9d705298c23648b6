package lipsanon.capture.jvm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import lipsanon.capture.CaptureException;
import lipsanon.capture.TypeCounts;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Class histograms as the VM writes them. */
class HistogramTest {
  private static final String TEXT =
      """
       num     #instances         #bytes  class name (module)
      -------------------------------------------------------
         1:          7823         557456  [B (java.base@17.0.15)
         2:           400          12800  portmerrow.VesselCall
         3:             2             48  portmerrow.Berth$$Lambda$14/0x00007f6a3c001000
      Total          8225         570304
      """;

  @Test
  void rowsAndSums() throws Exception {
    TypeCounts counts = Histogram.parse(TEXT, 5, 7, true);
    assertThat(counts.count()).isEqualTo(8225);
    assertThat(counts.bytes()).isEqualTo(570_304);
    assertThat(counts.costMillis()).isEqualTo(7);
    assertThat(counts.types())
        .containsExactly(
            new TypeCounts.TypeCount("byte[]", 7823, 557_456),
            new TypeCounts.TypeCount("portmerrow.VesselCall", 400, 12_800),
            new TypeCounts.TypeCount("portmerrow.Berth$$Lambda$14+0x00007f6a3c001000", 2, 48));
  }

  @ParameterizedTest
  @CsvSource({
    "[B, byte[]",
    "[[J, long[][]",
    "[Lportmerrow.Berth;, portmerrow.Berth[]",
    "[[Ljava.lang.String;, java.lang.String[][]",
    "portmerrow.Berth, portmerrow.Berth"
  })
  void namesAreThoseOfHeapDumps(String raw, String name) {
    assertThat(Histogram.typeName(raw)).isEqualTo(name);
  }

  @Test
  void cutOffItIsRefused() {
    String cut = TEXT.substring(0, TEXT.indexOf("Total"));
    assertThatThrownBy(() -> Histogram.parse(cut, 0, 0, true))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("cut off");
    assertThatThrownBy(() -> Histogram.parse("", 0, 0, true)).isInstanceOf(CaptureException.class);
  }
}
