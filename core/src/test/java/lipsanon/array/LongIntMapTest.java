package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import java.math.BigInteger;
import java.time.Duration;
import java.util.HashMap;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;

class LongIntMapTest {
  private static final int MANY = 600_000;

  @Test
  void likeTheMapOfTheLibrary() {
    for (int seed = 0; seed < 60; seed++) {
      Random random = new Random(seed);
      LongIntMap map = new LongIntMap();
      Map<Long, Integer> expected = new HashMap<>();
      // small keys come again, wide ones hardly ever; -1 and 0 are keys like others
      int shift = random.nextInt(Long.SIZE);
      for (int i = random.nextInt(3000); i > 0; i--) {
        long key = (random.nextLong() >>> shift) - 1;
        int value = random.nextInt(5) == 0 ? 0 : random.nextInt() >>> 1;
        map.put(key, value);
        expected.put(key, value);
        long asked = (random.nextLong() >>> shift) - 1;
        assertThat(map.get(asked)).isEqualTo(expected.getOrDefault(asked, -1));
      }
      assertThat(map.size()).isEqualTo(expected.size());
      expected.forEach((key, value) -> assertThat(map.get(key)).isEqualTo(value));
    }
  }

  @Test
  void negativeValuesAreRefused() {
    LongIntMap map = new LongIntMap();
    assertThatThrownBy(() -> map.put(7, -1)).isInstanceOf(IllegalArgumentException.class);
    assertThat(map.size()).isZero();
    assertThat(map.get(7)).isEqualTo(-1);
  }

  /** A file chooses its keys. These all go to one place where keys are but multiplied. */
  @Test
  void keysThatWereMadeToMeetCostNoMoreThanOthers() {
    BigInteger word = BigInteger.ONE.shiftLeft(Long.SIZE);
    for (String multiplier :
        new String[] {"9e3779b97f4a7c15", "bf58476d1ce4e5b9", "94d049bb133111eb", "1"}) {
      long inverse = new BigInteger(multiplier, 16).modInverse(word).longValue();
      assertTimeoutPreemptively(
          Duration.ofSeconds(60),
          () -> {
            LongIntMap map = new LongIntMap();
            for (int i = 0; i < MANY; i++) {
              map.put(i * inverse, i);
              map.put((long) i << 40, i);
            }
            for (int i = 0; i < MANY; i++) {
              assertThat(map.get(i * inverse)).isEqualTo(i);
            }
          });
    }
  }
}
