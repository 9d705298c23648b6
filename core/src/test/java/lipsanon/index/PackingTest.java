package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;

import java.math.BigInteger;
import java.util.Arrays;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Blocks against the format's definition: a row of bits, the first value's lowest one first. */
class PackingTest {
  private static final BigInteger WORD = BigInteger.ONE.shiftLeft(Long.SIZE);

  /** Differences of a width, the greatest among them, and the one of the least value: 0. */
  private static long[] differences(int width, Random random) {
    long[] values = new long[64];
    for (int i = 0; i < values.length; i++) {
      values[i] = random.nextLong() >>> Long.SIZE - width;
    }
    values[random.nextInt(32)] = -1L >>> Long.SIZE - width;
    values[32 + random.nextInt(32)] = 0;
    return values;
  }

  private static long[] defined(long[] differences, int width) {
    BigInteger bits = BigInteger.ZERO;
    for (int i = 0; i < differences.length; i++) {
      BigInteger value = BigInteger.valueOf(differences[i]).mod(WORD);
      bits = bits.or(value.shiftLeft(i * width));
    }
    long[] words = new long[width];
    for (int i = 0; i < width; i++) {
      words[i] = bits.shiftRight(i * Long.SIZE).longValue();
    }
    return words;
  }

  /** The words from {@code at} on; what stands around them must not have been touched. */
  private static long[] words(long[] target, int at, int width) {
    assertThat(target[at - 1]).isEqualTo(-7);
    assertThat(target[at + width]).isEqualTo(-7);
    return Arrays.copyOfRange(target, at, at + width);
  }

  private static long[] target() {
    long[] target = new long[100];
    Arrays.fill(target, -7);
    return target;
  }

  @Test
  void longsOfEveryWidth() {
    Random random = new Random(17);
    for (int round = 0; round < 20; round++) {
      for (int width = 1; width <= 64; width++) {
        long[] differences = differences(width, random);
        long least = random.nextLong() >> random.nextInt(Long.SIZE);
        long[] values = new long[5 + 64];
        for (int i = 0; i < 64; i++) {
          values[5 + i] = least + differences[i];
        }
        long[] target = target();
        Packing.pack(values, 5, least, width, target, 9);
        assertThat(words(target, 9, width))
            .as("width %d", width)
            .isEqualTo(defined(differences, width));
      }
    }
  }

  @Test
  void intsOfEveryWidth() {
    Random random = new Random(18);
    for (int round = 0; round < 20; round++) {
      for (int width = 1; width <= 32; width++) {
        long[] differences = differences(width, random);
        // the least one that leaves room for the greatest
        int least = width == 32 ? Integer.MIN_VALUE : (int) (random.nextInt() & -1L << width);
        int[] values = new int[3 + 64];
        for (int i = 0; i < 64; i++) {
          values[3 + i] = (int) (least + differences[i]);
        }
        long[] target = target();
        Packing.pack(values, 3, least, width, target, 30);
        assertThat(words(target, 30, width))
            .as("width %d", width)
            .isEqualTo(defined(differences, width));
      }
    }
  }
}
