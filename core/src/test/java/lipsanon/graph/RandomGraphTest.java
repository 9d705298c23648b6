package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Every figure of a thousand random graphs against its definition. */
class RandomGraphTest {
  private static final int GRAPHS = 1000;

  /** Each takes some megabytes of scratch files. */
  private static final int IN_FILES = 25;

  @TempDir Path folder;

  @Test
  void figuresEqualTheirDefinitions() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_260_101L);
    for (int i = 0; i < GRAPHS; i++) {
      long seed = base + i;
      try {
        check(GraphFixture.random(new Random(seed)));
      } catch (Throwable e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
      }
    }
  }

  /** The same in scratch files that are written in bands of a few ints. */
  @Test
  void figuresInScratchFilesEqualTheirDefinitions() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_260_101L);
    for (int i = 0; i < IN_FILES; i++) {
      long seed = base + i;
      Random random = new Random(seed);
      GraphFixture graph = GraphFixture.random(random);
      try (Space space = Space.mapped(folder, spare(random))) {
        check(graph, space);
      } catch (Throwable e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
      }
    }
    assertThat(folder).isEmptyDirectory();
  }

  /**
   * Bands of a few ints, and room for none, some or all of the arrays that are written all over.
   */
  private static Space.Spare spare(Random random) {
    return new Space.Spare(1 + random.nextInt(12), random.nextInt(3) * 200L);
  }

  private static void check(GraphFixture g) throws Exception {
    check(g, Space.heap());
  }

  private static void check(GraphFixture g, Space space) throws Exception {
    BruteForce expected = new BruteForce(g);
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    int[] depths = expected.depths();
    int retainedCount = 0;
    for (int n = 0; n < g.count; n++) {
      assertThat(reached.strength(n)).as("strength of %d", n).isEqualTo(expected.strength[n]);
      assertThat(reached.depth().get(n)).as("depth of %d", n).isEqualTo(depths[n]);
      retainedCount += depths[n] > 0 ? 1 : 0;
    }
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
    assertThat(dominators.unretained().cardinality()).isEqualTo(g.count - retainedCount);
    IntArray sizes = g.sizes(space);
    LongArray inner = dominators.innerRetained(sizes);
    for (int n = 0; n < g.count; n++) {
      Set<Integer> dominated = expected.dominated(n);
      long bytes = dominated.stream().mapToLong(d -> g.size[d]).sum();
      assertThat(dominators.retained(n, inner, sizes)).as("retained by %d", n).isEqualTo(bytes);
      if (depths[n] > 0) {
        assertThat(dominators.dominator(n))
            .as("dominator of %d", n)
            .isEqualTo(expected.immediateDominator(n));
      }
    }
    for (int[] limits : new int[][] {{0, 0}, {1, 1}, {2, 20}, {32, 0}, {32, 20}}) {
      Reachability.Result again = Reachability.compute(g.build(space), space, Progress.NONE);
      Dominators anew = Dominators.compute(again.graph(), space, Progress.NONE);
      checkTypes(g, expected, again, anew, limits[0], limits[1]);
    }
    checkInbound(expected, reached, space);
  }

  private static void checkTypes(
      GraphFixture g,
      BruteForce expected,
      Reachability.Result reached,
      Dominators dominators,
      int bits,
      int passes)
      throws Exception {
    Space space = Space.heap();
    IntArray sizes = g.sizes(space);
    TypeTotals totals = TypeTotals.of(reached.graph(), dominators.unretained(), sizes);
    LongArray innerRetained = dominators.innerRetained(sizes);
    BitSet inner = dominators.innerJoinNodes();
    HoldingTypes joint =
        new HoldingTypes(
            reached.graph(),
            dominators,
            ReverseOrder.of(dominators.numbering(), space),
            totals,
            sizes,
            space,
            new HoldingTypes.Limits(bits, passes, Long.MAX_VALUE));
    joint.settle();
    for (int n = 0; n < g.count; n++) {
      int[] keepers = expected.joinKeepers(n);
      if (keepers != null && !joint.isInner(n)) {
        joint.addLeaf(n, keepers, keepers.length);
      }
      assertThat(dominators.leafJoins().get(n))
          .as("node %d, a leaf that is a join", n)
          .isEqualTo(keepers != null && !joint.isInner(n));
      assertThat(inner.get(n)).isEqualTo(keepers != null && joint.isInner(n));
    }
    joint.finish(innerRetained);
    totals.resolve(joint.unresolved(), reached.graph(), reached.depth(), sizes);
    for (int t = 0; t < g.classNode.length; t++) {
      Set<Integer> members = new HashSet<>();
      for (int n = 0; n < g.count; n++) {
        if (g.type[n] == t) {
          members.add(n);
        }
      }
      assertThat(totals.count(t)).isEqualTo(members.size());
      Set<Integer> lost = new HashSet<>(expected.reachedWithout(Set.of()));
      lost.removeAll(expected.reachedWithout(members));
      assertThat(totals.retained(t))
          .as("all of type %d, %d bits, %d passes", t, bits, passes)
          .isEqualTo(lost.stream().mapToLong(d -> g.size[d]).sum());
    }
  }

  private static void checkInbound(BruteForce expected, Reachability.Result reached, Space space)
      throws Exception {
    List<Set<Integer>> lists = new ArrayList<>();
    Inbound.feed(
        reached.graph(),
        space,
        (count, ends, sources) -> {
          for (int i = 0; i < count; i++) {
            Set<Integer> list = new HashSet<>();
            for (int at = i == 0 ? 0 : ends[i - 1]; at < ends[i]; at++) {
              list.add(sources[at]);
            }
            lists.add(list);
          }
        });
    assertThat(lists).hasSize(expected.g.count);
    for (int n = 0; n < expected.g.count; n++) {
      assertThat(lists.get(n)).as("inbound of %d", n).isEqualTo(expected.inbound(n));
    }
  }
}
