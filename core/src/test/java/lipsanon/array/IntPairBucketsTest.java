package lipsanon.array;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Pairs that are sorted roughly while they are added. */
class IntPairBucketsTest {
  @TempDir Path folder;

  @Test
  void eachBucketKeepsTheOrder() throws Exception {
    check(Space.heap());
    try (Space space = Space.mapped(folder)) {
      check(space);
    }
  }

  private static void check(Space space) {
    Random random = new Random(20_261_128L);
    int keys = 100_000;
    IntPairBuckets buckets = new IntPairBuckets(space, keys);
    List<List<int[]>> expected = new ArrayList<>();
    for (int b = 0; b < buckets.buckets(); b++) {
      expected.add(new ArrayList<>());
    }
    assertThat(buckets.buckets()).isEqualTo(7);
    assertThat(buckets.firstKey(6)).isLessThan(keys);
    assertThat(buckets.size(3)).isZero();
    // more than a slab, most of them in one bucket; another one ends with a full page
    for (int i = 0; i < 300_000; i++) {
      int key = i < 1024 ? 2 << 14 : random.nextInt(8) > 0 ? 17_000 : random.nextInt(32_000);
      key = i == 5000 ? keys - 1 : key;
      buckets.add(key, i);
      expected.get(key >>> 14).add(new int[] {key, i});
    }
    assertThat(buckets.size(2)).isEqualTo(1024);
    for (int b = 0; b < buckets.buckets(); b++) {
      int[][] pairs = expected.get(b).toArray(int[][]::new);
      assertThat(read(buckets, b)).as("bucket " + b).isDeepEqualTo(pairs);
    }
    buckets.release();
    assertThat(buckets.size(1)).isZero();
    buckets.add(5, 6);
    assertThat(read(buckets, 0)).isDeepEqualTo(new int[][] {{5, 6}});
  }

  private static int[][] read(IntPairBuckets buckets, int bucket) {
    List<int[]> found = new ArrayList<>();
    buckets.each(
        bucket,
        (pairs, from, to) -> {
          assertThat(to).isGreaterThan(from);
          for (int i = from; i < to; i++) {
            found.add(new int[] {pairs.get(2 * i), pairs.get(2 * i + 1)});
          }
        });
    return found.toArray(int[][]::new);
  }

  @Test
  void fewKeysMakeOneBucket() {
    assertThat(new IntPairBuckets(Space.heap(), 1).buckets()).isEqualTo(1);
    assertThat(new IntPairBuckets(Space.heap(), 1 << 14).buckets()).isEqualTo(1);
    assertThat(new IntPairBuckets(Space.heap(), (1 << 14) + 1).buckets()).isEqualTo(2);
  }

  @Test
  void neverMoreBucketsThanTheCacheHolds() {
    for (int keys : new int[] {1 << 24, (1 << 24) + 1, 300_000_000, Integer.MAX_VALUE}) {
      IntPairBuckets buckets = new IntPairBuckets(Space.heap(), keys);
      assertThat(buckets.buckets()).isLessThanOrEqualTo(1024);
      int last = buckets.buckets() - 1;
      assertThat(buckets.firstKey(last)).isBetween(0, keys - 1);
      buckets.add(keys - 1, 7);
      assertThat(buckets.size(last)).isEqualTo(1);
    }
  }
}
