package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Working arrays on the heap and in scratch files: the same contents, whoever had them before. */
class SpaceTest {
  private static final int LONG = 1 << 17;

  @TempDir Path folder;

  private Space space(boolean mapped) {
    return mapped ? Space.mapped(folder) : Space.heap();
  }

  private static void assertZeros(IntArray array) {
    for (int i = 0; i < array.length(); i++) {
      if (array.get(i) != 0) {
        assertThat(array.get(i)).as("element %d", i).isZero();
      }
    }
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void arraysHoldWhatIsPutIntoThem(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      assertThat(space.isMapped()).isEqualTo(mapped);
      for (int length : new int[] {0, 1, 7, 4096, LONG + 3}) {
        Random random = new Random(length);
        IntArray ints = space.ints(length);
        LongArray longs = space.longs(length);
        assertThat(ints.length()).isEqualTo(length);
        assertThat(longs.length()).isEqualTo(length);
        assertZeros(ints);
        int[] expected = random.ints(length).toArray();
        for (int i = 0; i < length; i++) {
          ints.set(i, expected[i]);
          assertThat(longs.get(i)).isZero();
          longs.set(i, (long) expected[i] << 31);
          longs.add(i, 5);
        }
        int[] copy = new int[length];
        ints.copyTo(0, copy, length);
        assertThat(copy).isEqualTo(expected);
        for (int i = 0; i < length; i++) {
          assertThat(longs.get(i)).isEqualTo(((long) expected[i] << 31) + 5);
        }
        if (length > 3) {
          int[] middle = new int[2];
          ints.copyTo(1, middle, 2);
          assertThat(middle).containsExactly(expected[1], expected[2]);
          ints.fill(-3);
          assertThat(ints.get(0) + ints.get(length - 1)).isEqualTo(-6);
        }
      }
    }
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void whatIsGivenBackServesAgainAndIsClear(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      IntArray first = space.ints(LONG);
      first.fill(7);
      space.release(first);
      IntArray second = space.ints(LONG - 1000);
      assertThat(second.length()).isEqualTo(LONG - 1000);
      assertThat(second.capacity()).isEqualTo(first.capacity());
      assertZeros(second);
      // the memory is the same: what is written into the one shows in the other
      second.set(11, 42);
      assertThat(first.get(11)).isEqualTo(42);
      IntArray third = space.ints(LONG - 1000);
      third.set(11, 1);
      assertThat(second.get(11)).as("handed out once only").isEqualTo(42);
    }
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void nobodyGetsAnArrayThatIsTooShortOrFarTooLong(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      IntArray large = space.ints(16 * LONG);
      large.fill(9);
      space.release(large);
      IntArray small = space.ints(LONG);
      assertThat(small.capacity()).isLessThan(4 * LONG);
      space.release(space.ints(2 * LONG));
      IntArray more = space.ints(3 * LONG);
      assertThat(more.capacity()).isGreaterThanOrEqualTo(3 * LONG);
      assertZeros(more);
    }
  }

  @Test
  void theSmallestThatIsLongEnoughIsTaken() {
    Space space = Space.heap();
    List<IntArray> arrays = new ArrayList<>();
    for (int factor : new int[] {4, 2, 3}) {
      arrays.add(space.ints(factor * LONG));
    }
    arrays.forEach(space::release);
    assertThat(space.ints(2 * LONG).capacity()).isEqualTo(arrays.get(1).capacity());
    assertThat(space.ints(2 * LONG).capacity()).isEqualTo(arrays.get(2).capacity());
    assertThat(space.ints(2 * LONG).capacity()).isEqualTo(arrays.get(0).capacity());
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void smallValuesTakeHalfTheRoom(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      long most = (1L << 32) - 1;
      LongArray narrow = space.longs(LONG, most);
      assertThat(((PlainLongArray) narrow).narrow()).isNotNull();
      assertThat(narrow.length()).isEqualTo(LONG);
      narrow.set(3, most);
      narrow.set(4, 2_200_000_000L);
      narrow.add(4, 1);
      assertThat(narrow.get(2)).isZero();
      assertThat(narrow.get(3)).isEqualTo(most);
      assertThat(narrow.get(4)).isEqualTo(2_200_000_001L);
      space.release(narrow);
      assertZeros(space.ints(LONG));
      LongArray wide = space.longs(LONG, most + 1);
      wide.set(3, most + 1);
      assertThat(wide.get(3)).isEqualTo(most + 1);
      space.release(wide);
    }
  }

  @Test
  void scratchFilesHaveNoNameAndAreRefusedOnceClosed() throws Exception {
    Space space = Space.mapped(folder);
    space.ints(LONG).set(5, 5);
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files).isEmpty();
    }
    space.close();
    assertThatThrownBy(() -> space.ints(4 * LONG)).isInstanceOf(IllegalStateException.class);
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void pairsComeBackInOrder(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      IntPairList pairs = new IntPairList(space);
      assertThat(pairs.size()).isZero();
      assertThat(pairs.pages()).isZero();
      int count = 3 * (1 << 17) + 5;
      for (int i = 0; i < count; i++) {
        assertThat(pairs.add(i, -2 * i)).isEqualTo(i + 1);
      }
      assertThat(pairs.size()).isEqualTo(count);
      assertThat(pairs.pages()).isEqualTo(4);
      int seen = 0;
      for (int p = 0; p < pairs.pages(); p++) {
        IntArray page = pairs.page(p);
        for (int i = 0; i < pairs.pageSize(p); i++) {
          if (page.get(2 * i) != seen || page.get(2 * i + 1) != -2 * seen) {
            assertThat(page.get(2 * i)).isEqualTo(seen);
          }
          seen++;
        }
      }
      assertThat(seen).isEqualTo(count);
      assertThat(pairs.first(count - 1)).isEqualTo(count - 1);
      assertThat(pairs.second(1 << 17)).isEqualTo(-2 << 17);
      pairs.release();
      assertThat(pairs.size()).isZero();
      assertThat(pairs.add(4, 5)).isEqualTo(1);
      assertThat(pairs.second(0)).isEqualTo(5);
    }
  }

  @ParameterizedTest
  @ValueSource(booleans = {false, true})
  void pagesFollowEachOther(boolean mapped) throws Exception {
    try (Space space = space(mapped)) {
      IntPages pages = new IntPages(space);
      int first = pages.allocate(1);
      int second = pages.allocate(2);
      assertThat(first).isZero();
      assertThat(second).isEqualTo(first + IntPages.PAGE);
      pages.page(0).set(IntPages.PAGE - 1, 1);
      pages.page(1).set(0, 2);
      pages.page(2).set(IntPages.PAGE - 1, 3);
      IntPages.Cursor cursor = pages.cursor();
      assertThat(cursor.get(second - 1)).isEqualTo(1);
      assertThat(cursor.get(second)).isEqualTo(2);
      assertThat(pages.get(second + 2 * IntPages.PAGE - 1)).isEqualTo(3);
      assertThat(pages.bytes()).isEqualTo(3L * IntPages.PAGE * Integer.BYTES);
      assertThatThrownBy(() -> pages.allocate(1 << 11))
          .isInstanceOf(TooManyElementsException.class);
    }
  }

  @Test
  void stepsCoverEachElementOnce() {
    for (int[] range : new int[][] {{0, 0}, {0, 1}, {5, 8191}, {0, 8192}, {3, 50_000}}) {
      List<int[]> up = new ArrayList<>();
      Steps.up(range[0], range[1], (from, to) -> up.add(new int[] {from, to}));
      int at = range[0];
      for (int[] step : up) {
        assertThat(step[0]).isEqualTo(at);
        assertThat(step[1]).isGreaterThan(at);
        at = step[1];
      }
      assertThat(at).isEqualTo(range[1]);
      List<int[]> down = new ArrayList<>();
      Steps.down(range[0], range[1], (from, to) -> down.add(new int[] {from, to}));
      at = range[1];
      for (int[] step : down) {
        assertThat(step[1]).isEqualTo(at);
        at = step[0];
      }
      assertThat(at).isEqualTo(range[0]);
    }
    int[] last = new int[1];
    Steps.up(Integer.MAX_VALUE - 10_000, Integer.MAX_VALUE, (from, to) -> last[0] = to);
    assertThat(last[0]).as("no overflow").isEqualTo(Integer.MAX_VALUE);
  }

  @Test
  void listsGrowAndShrink() {
    IntList list = new IntList(0);
    for (int i = 0; i < 1000; i++) {
      list.add(i * i);
    }
    assertThat(list.size()).isEqualTo(1000);
    assertThat(list.removeLast()).isEqualTo(999 * 999);
    list.set(0, -1);
    assertThat(Arrays.stream(list.toArray()).sum())
        .isEqualTo(java.util.stream.IntStream.range(0, 999).map(i -> i * i).sum() - 1);
    list.clear();
    assertThat(list.isEmpty()).isTrue();
    list.release();
    list.add(3);
    assertThat(list.toArray()).containsExactly(3);
  }

  @Test
  void mapsFindWhatWasPut() {
    Random random = new Random(8);
    java.util.Map<Long, Integer> expected = new java.util.HashMap<>();
    LongIntMap map = new LongIntMap();
    for (int i = 0; i < 5000; i++) {
      long key = i % 3 == 0 ? random.nextLong() : random.nextInt(2000) * 8L;
      map.put(key, i);
      expected.put(key, i);
    }
    assertThat(map.size()).isEqualTo(expected.size());
    expected.forEach((key, value) -> assertThat(map.get(key)).isEqualTo(value));
    assertThat(map.get(3)).isEqualTo(-1);
    assertThatThrownBy(() -> map.put(1, -1)).isInstanceOf(IllegalArgumentException.class);
  }
}
