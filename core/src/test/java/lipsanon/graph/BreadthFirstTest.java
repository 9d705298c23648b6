package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayDeque;
import java.util.Random;
import lipsanon.array.IntArray;
import lipsanon.array.Space;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;

/** Levels as lists and as bits, against a queue. */
class BreadthFirstTest {
  private static int[] depths(GraphFixture g) {
    int[] depths = new int[g.count];
    ArrayDeque<Integer> queue = new ArrayDeque<>();
    for (int root : g.roots) {
      depths[root] = 1;
      queue.add(root);
    }
    while (!queue.isEmpty()) {
      int node = queue.remove();
      for (int target : g.targets(node)) {
        if (depths[target] == 0) {
          depths[target] = depths[node] + 1;
          queue.add(target);
        }
      }
    }
    return depths;
  }

  private static void check(GraphFixture g, int wideFrom) throws Exception {
    Space space = Space.heap();
    ObjectGraph graph = g.build(space);
    IntArray depth = space.ints(g.count);
    BreadthFirst.search(graph, depth, wideFrom, Progress.NONE);
    int[] expected = depths(g);
    for (int n = 0; n < g.count; n++) {
      assertThat(depth.get(n)).as("depth of %d, wide from %d", n, wideFrom).isEqualTo(expected[n]);
    }
  }

  @Test
  void randomGraphsWithLevelsOfEitherKind() throws Exception {
    long seed = Long.getLong("lipsanon.seed", 41);
    Random random = new Random(seed);
    for (int i = 0; i < 1000; i++) {
      GraphFixture g = GraphFixture.random(random);
      for (int wideFrom : new int[] {1, 2, 4, Integer.MAX_VALUE}) {
        try {
          check(g, wideFrom);
        } catch (Throwable e) {
          throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
        }
      }
    }
  }

  /** Levels of one node, of a few and of thousands after each other, with ways back and across. */
  @Test
  void levelsThatGrowAndShrink() throws Exception {
    Random random = new Random(42);
    int[] sizes = {1, 3, 20_000, 1, 17_000, 17_000, 40, 2, 16_384, 16_383, 1, 30_000};
    int count = 0;
    for (int size : sizes) {
      count += size;
    }
    GraphFixture g = new GraphFixture(count + 100, 3);
    int[] order = new int[count];
    for (int i = 0; i < count; i++) {
      order[i] = i;
      g.type[i] = random.nextInt(3);
    }
    // numbers say nothing of levels
    for (int i = count - 1; i > 0; i--) {
      int other = random.nextInt(i + 1);
      int swapped = order[i];
      order[i] = order[other];
      order[other] = swapped;
    }
    // a class object that nothing else refers to, found with the first object of its type
    g.classNode[1] = count + 50;
    int above = 0;
    int from = sizes[0];
    g.roots.add(order[0]);
    for (int level = 1; level < sizes.length; level++) {
      for (int i = 0; i < sizes[level]; i++) {
        g.strong.get(order[above + random.nextInt(sizes[level - 1])]).add(order[from + i]);
        g.strong.get(order[from + i]).add(order[random.nextInt(from + i + 1)]);
      }
      above = from;
      from += sizes[level];
    }
    check(g, 1 << 14);
    check(g, 1);
    check(g, 1000);
    check(g, Integer.MAX_VALUE);
  }
}
