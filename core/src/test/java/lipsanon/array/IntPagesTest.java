package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Pages of ints, and the arrays that they consist of, on the heap and in scratch files. */
class IntPagesTest {
  @TempDir Path folder;

  @Test
  void everyViewReadsTheSame() throws Exception {
    try (Space mapped = Space.mapped(folder)) {
      for (Space space : new Space[] {Space.heap(), mapped}) {
        IntPages pages = new IntPages(space);
        int first = pages.allocate(1);
        int second = pages.allocate(2);
        int all = 3 * IntPages.PAGE;
        assertThat(first).isZero();
        assertThat(second).isEqualTo(IntPages.PAGE);
        for (int i = 0; i < all; i++) {
          pages.page(i >>> IntPages.PAGE_SHIFT).set(i & IntPages.PAGE - 1, i * 31);
        }
        IntPages.Cursor cursor = pages.cursor();
        IntPages.Runner runner = pages.runner();
        Random random = new Random(1);
        for (int i = 0; i < 100_000; i++) {
          // runs, jumps, and runs over the end of a page
          int from = i % 3 == 0 ? IntPages.PAGE - 2 : random.nextInt(all - 4);
          for (int at = from; at < from + 4; at++) {
            int value = at * 31;
            if (pages.get(at) != value || cursor.get(at) != value || runner.get(at) != value) {
              throw new AssertionError("at " + at);
            }
          }
        }
        assertThat(pages.bytes()).isEqualTo(4L * all);
      }
    }
  }

  @Test
  void arraysCountAndAreFilled() throws Exception {
    try (Space mapped = Space.mapped(folder)) {
      for (Space space : new Space[] {Space.heap(), mapped}) {
        for (int length : new int[] {1, 4095, 4096, 4097, 100_000}) {
          IntArray array = space.ints(length);
          array.fill(7);
          for (int i = 0; i < length; i++) {
            assertThat(array.getAndIncrement(i)).isEqualTo(7);
          }
          int[] copy = new int[length];
          array.copyTo(0, copy, length);
          assertThat(Arrays.stream(copy)).containsOnly(8);
          space.release(array);
          // what was given back comes again as zeros, of any length
          IntArray again = space.ints(Math.max(1, length - 3));
          again.copyTo(0, copy, again.length());
          assertThat(Arrays.stream(copy, 0, again.length())).containsOnly(0);
        }
      }
    }
  }

  @Test
  void ranksKnowWhatIsInTheirSet() {
    BitSet set = new BitSet();
    Random random = new Random(2);
    for (int i = 0; i < 500; i++) {
      set.set(random.nextInt(3000));
    }
    Ranks ranks = new Ranks(set);
    int rank = 0;
    for (int n = 0; n < 3200; n++) {
      assertThat(ranks.contains(n)).isEqualTo(set.get(n));
      if (set.get(n)) {
        assertThat(ranks.rank(n)).isEqualTo(rank++);
      }
    }
    assertThat(ranks.count()).isEqualTo(rank);
  }
}
