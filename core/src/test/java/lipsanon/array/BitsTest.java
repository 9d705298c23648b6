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
        assertThat(copy.next(n)).isEqualTo(expected.nextSetBit(n));
      }
    }
  }

  /** Each place of a word alone, over words without any. */
  @Test
  void theNextNumberWhereFewAre() {
    for (int number = 0; number < 400; number += 7) {
      BitSet one = new BitSet();
      one.set(number);
      Bits bits = new Bits(one);
      for (int from = 0; from < 600; from++) {
        assertThat(bits.next(from)).isEqualTo(one.nextSetBit(from));
      }
    }
    assertThat(new Bits(0).next(0)).isEqualTo(-1);
    assertThat(new Bits(new BitSet()).next(Integer.MAX_VALUE)).isEqualTo(-1);
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
