package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import lipsanon.array.IntArray;
import lipsanon.array.Space;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sorting band by band, against sorting at once. */
class BandsTest {
  @TempDir Path folder;

  @Test
  void whateverTheBandsTheOrderIsTheSame() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_261_127L);
    for (int round = 0; round < 300; round++) {
      long seed = base + round;
      Random random = new Random(seed);
      int keys = 1 + random.nextInt(40);
      int[][] pairs = new int[random.nextInt(200)][];
      for (int i = 0; i < pairs.length; i++) {
        // often the same key: a list may be longer than a band
        int key = random.nextBoolean() ? random.nextInt(keys) : keys / 2;
        pairs[i] = new int[] {key, random.nextInt()};
      }
      int band = 1 + random.nextInt(30);
      try (Space space = Space.mapped(folder, new Space.Spare(band, 0))) {
        check(keys, pairs, space);
      } catch (AssertionError e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed + ", band " + band, e);
      }
    }
    assertThat(folder).isEmptyDirectory();
  }

  private static void check(int keys, int[][] pairs, Space space) {
    IntArray place = space.ints(keys + 1);
    List<List<Integer>> expected = new ArrayList<>();
    for (int k = 0; k < keys; k++) {
      expected.add(new ArrayList<>());
    }
    for (int[] pair : pairs) {
      expected.get(pair[0]).add(pair[1]);
      place.set(pair[0] + 1, place.get(pair[0] + 1) + 1);
    }
    for (int k = 1; k <= keys; k++) {
      place.set(k, place.get(k) + place.get(k - 1));
    }
    int[] passes = {0};
    IntArray sorted =
        Bands.sort(
            place,
            keys,
            space,
            (from, to, sink) -> {
              passes[0]++;
              assertThat(to).isGreaterThan(from);
              for (int[] pair : pairs) {
                if (pair[0] >= from && pair[0] < to) {
                  sink.add(pair[0], pair[1]);
                }
              }
            });
    int at = 0;
    for (int k = 0; k < keys; k++) {
      for (int value : expected.get(k)) {
        assertThat(sorted.get(at++)).isEqualTo(value);
      }
      assertThat(place.get(k)).as("the end of key " + k).isEqualTo(at);
    }
    assertThat(at).isEqualTo(pairs.length);
    if (pairs.length > 0) {
      // no more passes than two bands half full, or keys, need
      assertThat(passes[0]).isLessThanOrEqualTo(keys);
    }
  }
}
