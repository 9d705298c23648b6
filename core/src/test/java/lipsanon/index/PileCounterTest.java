package lipsanon.index;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

/** Children of large objects, counted by type. */
class PileCounterTest {
  @Test
  void pilesOfFiftyAndMoreByWhatTheyRetain() {
    PileCounter counter = new PileCounter();
    Random random = new Random(3);
    long[][] counts = new long[4][3];
    long[][] units = new long[4][3];
    for (int i = 0; i < 1000; i++) {
      int holder = random.nextInt(4);
      int type = random.nextInt(3);
      long retained = random.nextInt(100);
      counts[holder][type]++;
      units[holder][type] += retained;
      counter.add(holder, type, i, retained);
    }
    for (int i = 0; i < 49; i++) {
      counter.add(9, 0, 5000 + i, 1_000_000);
    }
    List<Pile> piles = counter.largest(8);
    assertThat(piles).noneMatch(pile -> pile.holder() == 9);
    long before = Long.MAX_VALUE;
    for (Pile pile : piles) {
      assertThat(pile.count()).isEqualTo(counts[pile.holder()][pile.type()]);
      assertThat(pile.bytes()).isEqualTo(8 * units[pile.holder()][pile.type()]);
      assertThat(pile.bytes()).isLessThanOrEqualTo(before);
      before = pile.bytes();
    }
    counter.add(9, 0, 6000, 1);
    assertThat(counter.largest(8).get(0).holder()).isEqualTo(9);
    assertThat(counter.largest(8).get(0).count()).isEqualTo(50);
    assertThat(counter.largest(8).get(0).example()).isEqualTo(6000);
  }

  @Test
  void noMoreThanSixtyFour() {
    PileCounter counter = new PileCounter();
    for (int holder = 0; holder < 200; holder++) {
      for (int i = 0; i < 50; i++) {
        counter.add(holder, 1, i, holder);
      }
    }
    assertThat(counter.largest(1)).hasSize(64);
    assertThat(counter.largest(1).get(0).holder()).isEqualTo(199);
  }
}
