package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.BitSet;
import java.util.Random;
import org.junit.jupiter.api.Test;

class BitsTest {
  @Test
  void likeTheSetOfTheLibrary() {
    Random random = new Random(7);
    for (int bound : new int[] {1, 63, 64, 65, 1000}) {
      Bits bits = new Bits(bound);
      BitSet expected = new BitSet();
      for (int i = 0; i < 5000; i++) {
        int number = random.nextInt(bound);
        // few, so that many are left out
        if (i % 20 == 0 && expected.cardinality() < bound / 2) {
          bits.set(number);
          expected.set(number);
        }
        int asked = random.nextInt(2 * bound + 200);
        assertThat(bits.get(asked)).isEqualTo(asked < bound && expected.get(asked));
      }
      Bits copy = new Bits(expected);
      for (int n = 0; n < 2 * bound + 200; n++) {
        assertThat(copy.get(n)).isEqualTo(expected.get(n));
      }
    }
  }

  @Test
  void theLowestBitOfAnyWord() {
    Random random = new Random(8);
    for (int place = 0; place < Integer.SIZE; place++) {
      assertThat(Bits.lowest(1 << place)).isEqualTo(place);
      assertThat(Bits.lowest(-1 << place)).isEqualTo(place);
      int above = place == 31 ? 0 : random.nextInt() << place + 1;
      assertThat(Bits.lowest(above | 1 << place)).isEqualTo(place);
    }
  }
}
