package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Which arrays of a scratch space are on the heap, and for how long. */
class HotArraysTest {
  @TempDir Path folder;

  private static boolean onHeap(IntArray array) {
    return array instanceof HeapIntArray;
  }

  @Test
  void asManyAsWereSpared() throws Exception {
    try (Space space = Space.mapped(folder, new Space.Spare(10, 1000))) {
      assertThat(onHeap(space.ints(10))).isFalse();
      IntArray first = space.hotInts(150);
      assertThat(onHeap(first)).isTrue();
      assertThat(first.length()).isEqualTo(150);
      // 600 of 1000 bytes are gone
      IntArray second = space.hotInts(150);
      assertThat(onHeap(second)).isFalse();
      assertThat(onHeap(space.hotInts(100))).isTrue();
      assertThat(onHeap(space.hotInts(1))).isFalse();
      second.set(149, 7);
      assertThat(second.get(149)).isEqualTo(7);
      space.release(first);
      assertThat(onHeap(space.hotInts(150))).isTrue();
    }
  }

  @Test
  void whatWasGivenBackServesNobodyElse() throws Exception {
    int large = 1 << 17;
    try (Space space = Space.mapped(folder, new Space.Spare(10, 4L * large))) {
      IntArray hot = space.hotInts(large);
      hot.set(3, 5);
      space.release(hot);
      // an array of a file is not replaced by one that the heap must give back
      IntArray next = space.ints(large);
      assertThat(onHeap(next)).isFalse();
      assertThat(next.get(3)).isZero();
    }
  }

  @Test
  void whatHasCooledLeavesTheHeap() throws Exception {
    try (Space space = Space.mapped(folder, new Space.Spare(10, 1000))) {
      IntArray hot = space.hotInts(250);
      hot.set(249, 11);
      IntArray cool = space.cool(hot);
      assertThat(onHeap(cool)).isFalse();
      assertThat(cool.length()).isEqualTo(250);
      assertThat(cool.get(249)).isEqualTo(11);
      assertThat(space.cool(cool)).isSameAs(cool);
      assertThat(onHeap(space.hotInts(250))).isTrue();
    }
    IntArray only = Space.heap().hotInts(10);
    assertThat(Space.heap().cool(only)).isSameAs(only);
  }

  @Test
  void longsTakeTheirShareAndGiveItBack() throws Exception {
    try (Space space = Space.mapped(folder, new Space.Spare(10, 1000))) {
      LongArray first = space.hotLongs(100);
      assertThat(first).isInstanceOf(PlainLongArray.class);
      LongArray second = space.hotLongs(100);
      assertThat(second).isInstanceOf(MappedLongArray.class);
      second.set(99, -5);
      assertThat(second.get(99)).isEqualTo(-5);
      assertThat(onHeap(space.hotInts(51))).isFalse();
      space.release(second);
      assertThat(onHeap(space.hotInts(51))).isFalse();
      space.release(first);
      assertThat(onHeap(space.hotInts(250))).isTrue();
    }
  }

  @Test
  void longsOfTheHeapServeAgainIfTheyAreAsMany() {
    Space space = Space.heap();
    int large = 1 << 17;
    LongArray first = space.hotLongs(large);
    first.set(large - 1, 9);
    space.release(first);
    assertThat(space.longs(large + 1)).isNotSameAs(first);
    LongArray again = space.longs(large);
    assertThat(again).isSameAs(first);
    for (int i = 0; i < large; i++) {
      assertThat(again.get(i)).isZero();
    }
    assertThat(space.longs(large)).isNotSameAs(first);
  }

  @Test
  void onTheHeapAllAre() {
    Space space = Space.heap();
    assertThat(onHeap(space.hotInts(10))).isTrue();
    assertThat(space.bandInts()).isEqualTo(Integer.MAX_VALUE);
  }
}
