package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import lipsanon.array.IntPairBuckets;
import lipsanon.array.Space;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Edges by target, against lists that are filled one by one. */
class SourceListsTest {
  @TempDir Path folder;

  @Test
  void listsKeepTheOrderOfTheirEdges() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_261_128L);
    for (int round = 0; round < 60; round++) {
      long seed = base + round;
      Random random = new Random(seed);
      // some are of several buckets; bands hold no bucket, some or all of them
      int targets = 1 + random.nextInt(random.nextBoolean() ? 30 : 70_000);
      int edges = random.nextInt(5000);
      try (Space space =
          round % 3 == 0
              ? Space.heap()
              : Space.mapped(folder, new Space.Spare(1 + random.nextInt(3000), 0))) {
        check(random, targets, edges, space);
      } catch (AssertionError e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
      }
    }
    assertThat(folder).isEmptyDirectory();
  }

  private static void check(Random random, int targets, int edges, Space space) throws Exception {
    // there may be room for more targets than there are
    IntPairBuckets noted = new IntPairBuckets(space, targets + 1 + random.nextInt(40_000));
    List<List<Integer>> expected = new ArrayList<>();
    for (int t = 0; t <= targets; t++) {
      expected.add(new ArrayList<>());
    }
    int hub = 1 + random.nextInt(targets);
    for (int i = 0; i < edges; i++) {
      int target = random.nextBoolean() ? hub : 1 + random.nextInt(targets);
      int source = random.nextInt();
      noted.add(target, source);
      expected.get(target).add(source);
    }
    SourceLists lists = SourceLists.of(noted, targets, space);
    int at = 0;
    for (int t = 0; t <= targets; t++) {
      for (int source : expected.get(t)) {
        assertThat(lists.sources.get(at++)).isEqualTo(source);
      }
      assertThat(lists.ends.get(t)).as("the end of target " + t).isEqualTo(at);
    }
    assertThat(at).isEqualTo(edges);
    assertThat(noted.size(0)).isZero();
  }
}
