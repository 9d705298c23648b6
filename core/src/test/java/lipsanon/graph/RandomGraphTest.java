package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;

/** Every figure of thousands of random graphs against its definition. */
class RandomGraphTest {
  private static final int GRAPHS = 4000;

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

  private static void check(GraphFixture g) throws Exception {
    BruteForce expected = new BruteForce(g);
    Space space = Space.heap();
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    int[] depths = expected.depths();
    long retainedCount = 0;
    for (int n = 0; n < g.count; n++) {
      assertThat(reached.strength(n)).as("strength of %d", n).isEqualTo(expected.strength[n]);
      assertThat(reached.depth().get(n)).as("depth of %d", n).isEqualTo(depths[n]);
      retainedCount += depths[n] > 0 ? 1 : 0;
    }
    assertThat(reached.retained()).isEqualTo(retainedCount);
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
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
    checkTypes(g, expected, reached, dominators, sizes, inner);
    checkInbound(g, reached);
  }

  private static void checkTypes(
      GraphFixture g,
      BruteForce expected,
      Reachability.Result reached,
      Dominators dominators,
      IntArray sizes,
      LongArray inner) {
    int types = g.classNode.length;
    TypeTotals totals =
        TypeTotals.compute(reached.graph(), dominators, sizes, inner, types, Space.heap());
    for (int t = 0; t < types; t++) {
      long bytes = 0;
      Set<Integer> members = new HashSet<>();
      for (int n = 0; n < g.count; n++) {
        if (g.type[n] == t) {
          members.add(n);
        }
      }
      for (int n : members) {
        boolean outermost =
            members.stream().noneMatch(m -> m != n && expected.dominated(m).contains(n));
        bytes += outermost ? expected.dominated(n).stream().mapToLong(d -> g.size[d]).sum() : 0;
      }
      assertThat(totals.count(t)).isEqualTo(members.size());
      assertThat(totals.retainedAtLeast(t)).as("type %d", t).isEqualTo(bytes);
      Set<Integer> lost = new HashSet<>(expected.reachedWithout(Set.of()));
      lost.removeAll(expected.reachedWithout(members));
      assertThat(totals.retainedAtLeast(t))
          .isLessThanOrEqualTo(lost.stream().mapToLong(d -> g.size[d]).sum());
    }
  }

  private static void checkInbound(GraphFixture g, Reachability.Result reached) {
    Inbound inbound = Inbound.of(reached.graph(), Space.heap());
    for (int n = 0; n < g.count; n++) {
      Set<Integer> expected = new HashSet<>();
      for (int m = 0; m < g.count; m++) {
        if (g.strong.get(m).contains(n)) {
          expected.add(m);
        }
      }
      for (var pairs : java.util.List.of(g.soft, g.weak, g.finalizer)) {
        for (int[] e : pairs) {
          if (e[1] == n) {
            expected.add(e[0]);
          }
        }
      }
      Set<Integer> actual = new HashSet<>();
      for (int i = inbound.begin(n); i < inbound.end(n); i++) {
        actual.add(inbound.source(i));
      }
      assertThat(actual).as("inbound of %d", n).isEqualTo(expected);
    }
  }
}
