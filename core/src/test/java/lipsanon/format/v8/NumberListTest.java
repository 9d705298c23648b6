package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.Random;
import lipsanon.io.BytesSource;
import lipsanon.io.TruncatedInputException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class NumberListTest {
  private static String numbers(Random random, int bytes) {
    StringBuilder text = new StringBuilder();
    String[] gaps = {",", ",", "\n,", " , ", ",\t"};
    while (text.length() < bytes) {
      text.append(random.nextInt(1 << random.nextInt(1, 30)));
      text.append(gaps[random.nextInt(gaps.length)]);
    }
    return text.append('7').toString();
  }

  /** Lengths around those that are counted at once, and around one and two pieces. */
  @ParameterizedTest
  @ValueSource(ints = {0, 1, 7, 8, 1015, 1016, 1017, 1023, 1024, 1031, 5000, 524_280, 1_100_000})
  void placesAreWhereTheCommasSay(int bytes) throws IOException {
    Random random = new Random(bytes);
    String list = numbers(random, bytes);
    String file = "[[" + list + "],\"text, with a comma\"]";
    NumberList read =
        NumberList.scan(new BytesSource("numbers", file.getBytes(StandardCharsets.US_ASCII)), 2);
    assertThat(read.end()).isEqualTo(2 + list.length());
    assertThat(read.pieces()).isEqualTo(list.length() / NumberList.PIECE + 1);
    for (int piece = 0; piece < read.pieces(); piece++) {
      NumberList.Place place = read.place(piece);
      assertThat(place.position()).isGreaterThanOrEqualTo(2 + (long) piece * NumberList.PIECE);
      assertThat(place.number())
          .isEqualTo(
              file.substring(2, (int) place.position()).chars().filter(c -> c == ',').count());
      assertThat(read.pieceBefore(place.number() - (piece == 0 ? 0 : 1))).isEqualTo(piece);
    }
  }

  /** What is no number is passed over up to the bracket; its commas count as well. */
  @Test
  void otherTextIsLookedAtByteByByte() throws IOException {
    String list = "1,".repeat(2000) + "{\"ü\",\u0080,\"}".repeat(300) + ",1".repeat(2000);
    byte[] file = (list + "]").getBytes(StandardCharsets.UTF_8);
    assertThat(NumberList.scan(new BytesSource("numbers", file), 0).end())
        .isEqualTo(file.length - 1);
  }

  @Test
  void withoutItsEndItIsCutOff() {
    byte[] file = "1,2,3".repeat(1000).getBytes(StandardCharsets.US_ASCII);
    assertThatThrownBy(() -> NumberList.scan(new BytesSource("numbers", file), 0))
        .isInstanceOf(TruncatedInputException.class)
        .hasMessageContaining("numbers: ");
  }
}
