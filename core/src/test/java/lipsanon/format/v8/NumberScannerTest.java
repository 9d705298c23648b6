package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import lipsanon.io.ByteSource;
import lipsanon.io.BytesSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NumberScannerTest {
  private static ByteSource source(String text) {
    return new BytesSource("numbers", text.getBytes(StandardCharsets.US_ASCII));
  }

  private static List<Long> all(NumberScanner in) throws IOException {
    List<Long> values = new ArrayList<>();
    for (long value = in.next(); value != NumberScanner.END; value = in.next()) {
      values.add(value);
    }
    return values;
  }

  /** Buffers so small that every number is cut somewhere. */
  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 7, 19, 20, 21, 64, 4096})
  void anyBufferReadsTheSame(int buffer) throws IOException {
    Random random = new Random(buffer);
    List<Long> values = new ArrayList<>();
    StringBuilder text = new StringBuilder();
    String[] gaps = {",", ", ", "\n,", ",\n", " ,\t"};
    for (int i = 0; i < 3000; i++) {
      long value = random.nextLong(1L << random.nextInt(1, 59));
      value = random.nextInt(9) == 0 ? -value : value;
      values.add(value);
      text.append(i == 0 ? "" : gaps[random.nextInt(gaps.length)]).append(value);
    }
    text.append("\n]");
    assertThat(all(new NumberScanner(source(text.toString()), 0, buffer))).isEqualTo(values);
  }

  /** Rows of any width, in buffers that hold many, one, or a part of one. */
  @ParameterizedTest
  @ValueSource(ints = {1, 3, 21, 100, 141, 700, 4096})
  void rowsReadTheSame(int buffer) throws IOException {
    Random random = new Random(buffer);
    String[] gaps = {",", ",", ",", "\n,", ",\n", ", "};
    for (int width = 1; width <= 7; width++) {
      List<Long> values = new ArrayList<>();
      StringBuilder text = new StringBuilder();
      for (int i = 0; i < 200 * width; i++) {
        long value = random.nextLong(1L << random.nextInt(1, 59));
        value = random.nextInt(20) == 0 ? -value : value;
        values.add(value);
        text.append(i == 0 ? "" : gaps[random.nextInt(gaps.length)]).append(value);
      }
      NumberScanner in = new NumberScanner(source(text.append("\n]").toString()), 0, buffer);
      List<Long> actual = new ArrayList<>();
      long[] row = new long[width];
      while (actual.size() < values.size()) {
        in.row(row);
        for (long value : row) {
          actual.add(value);
        }
      }
      assertThat(actual).isEqualTo(values);
      assertThat(in.next()).isEqualTo(NumberScanner.END);
      assertThatThrownBy(() -> in.row(row)).isInstanceOf(CorruptInputException.class);
    }
  }

  /** Far enough from the buffer's end, so that it is not only the careful way that refuses. */
  @ParameterizedTest
  @ValueSource(strings = {"1.5", "1e9", "x", "--1", "-", "1234567890123456789012", "1 2x", "]"})
  void rowsOfWhatIsNoWholeNumber(String text) {
    String padded = "7,8,9,1," + text + ",1".repeat(300) + "]";
    NumberScanner in = new NumberScanner(source(padded), 0);
    assertThatThrownBy(
            () -> {
              long[] row = new long[3];
              for (int i = 0; i < 100; i++) {
                in.row(row);
              }
            })
        .isInstanceOf(CorruptInputException.class);
  }

  /** More commas than the buffer holds: nothing is read behind its end. */
  @Test
  void rowsWithAVeryLongGap() throws IOException {
    String gap = ",".repeat(600_000);
    NumberScanner in = new NumberScanner(source("1,2" + gap + "3,4" + gap + "5,6]"), 0);
    long[] row = new long[2];
    for (long first = 1; first <= 5; first += 2) {
      in.row(row);
      assertThat(row).containsExactly(first, first + 1);
    }
  }

  @Test
  void placesAndEnds() throws IOException {
    NumberScanner in = new NumberScanner(source("11,\n22,33]"), 0, 8);
    assertThat(in.next()).isEqualTo(11);
    in.toNumber();
    assertThat(in.position()).isEqualTo(4);
    in.seek(0);
    in.toComma();
    assertThat(in.next()).isEqualTo(22);
    assertThat(in.need()).isEqualTo(33);
    assertThat(in.next()).isEqualTo(NumberScanner.END);
    assertThat(in.next()).isEqualTo(NumberScanner.END);
    assertThatThrownBy(in::need).isInstanceOf(CorruptInputException.class);
    assertThat(all(new NumberScanner(source("]"), 0))).isEmpty();
  }

  @ParameterizedTest
  @ValueSource(strings = {"1.5,2]", "1e9]", "x]", "--1]", "-]", "1234567890123456789012]", "1 2x]"})
  void whatIsNoWholeNumber(String text) {
    assertThatThrownBy(() -> all(new NumberScanner(source(text), 0)))
        .isInstanceOf(CorruptInputException.class)
        .hasMessageContaining("whole number");
  }

  @ParameterizedTest
  @ValueSource(strings = {"", "1", "1,", "1,2", "1,2,\n"})
  void cutOff(String text) {
    assertThatThrownBy(() -> all(new NumberScanner(source(text), 0)))
        .isInstanceOf(TruncatedInputException.class);
  }
}
