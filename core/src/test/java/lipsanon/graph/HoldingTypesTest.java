package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import java.util.stream.IntStream;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;

/** What types hold, on graphs of some thousand nodes and many types: the search is the oracle. */
class HoldingTypesTest {
  private static final long ANY = Long.MAX_VALUE;

  @Test
  void equalsTheSearchOnThickGraphs() throws Exception {
    for (long seed = 1; seed <= 60; seed++) {
      check(random(new Random(seed)), "seed " + seed);
    }
  }

  /** Two-way chains between a head and a tail, across which other chains run: cycles all over. */
  @Test
  void equalsTheSearchOnLinkedLists() throws Exception {
    for (long seed = 1; seed <= 20; seed++) {
      Random random = new Random(seed);
      GraphFixture g = fixture(2000, 50, random);
      int length = 20 + random.nextInt(60);
      for (int from = 1; from + length < g.count; from += length) {
        int head = from;
        link(g, 0, head);
        for (int i = head + 1; i < head + length; i++) {
          link(g, i, i - 1);
          if (i + 1 < head + length) {
            link(g, i, i + 1);
          }
          if (random.nextInt(9) == 0) {
            link(g, i, 1 + random.nextInt(g.count - 1));
          }
        }
        link(g, head, head + 1);
        link(g, head, head + length - 1);
      }
      g.roots.add(0);
      check(g, "seed " + seed);
    }
  }

  /** References back and forth within a short way: sets shrink one after the other. */
  @Test
  void equalsTheSearchInThickets() throws Exception {
    for (long seed = 1; seed <= 200; seed++) {
      Random random = new Random(seed);
      GraphFixture g = fixture(30 + random.nextInt(400), 4 + random.nextInt(20), random);
      for (int i = 1; i < g.count; i++) {
        link(g, Math.max(0, i - 1 - random.nextInt(4)), i);
      }
      for (int more = random.nextInt(2 * g.count); more > 0; more--) {
        int from = random.nextInt(g.count);
        int to = random.nextBoolean() ? from - random.nextInt(30) : from + random.nextInt(60);
        link(g, from, Math.min(g.count - 1, Math.max(0, to)));
      }
      for (int t = 0; t < g.classNode.length; t++) {
        g.classNode[t] = random.nextInt(3) == 0 ? random.nextInt(g.count) : -1;
      }
      g.roots.add(0);
      g.roots.add(random.nextInt(g.count));
      check(g, "seed " + seed);
    }
  }

  /** Each step of the ladder is held by two types of which neither dominates it. */
  @Test
  void typesBesideEachOther() throws Exception {
    int steps = 400;
    GraphFixture g = new GraphFixture(3 * steps + 1, 3);
    for (int i = 0; i < steps; i++) {
      int top = 3 * i;
      g.type[top + 1] = 1;
      g.type[top + 2] = 1;
      g.type[top + 3] = 2;
      link(g, top, top + 1);
      link(g, top, top + 2);
      link(g, top + 1, top + 3);
      link(g, top + 2, top + 3);
    }
    g.roots.add(0);
    long[] retained = check(g, "ladder");
    assertThat(retained).containsExactly(3L * steps + 1, 3L * steps, 3L * steps - 2);
  }

  private static void link(GraphFixture g, int from, int to) {
    g.strong.get(from).add(to);
  }

  private static GraphFixture fixture(int count, int types, Random random) {
    GraphFixture g = new GraphFixture(count, types);
    for (int i = 0; i < count; i++) {
      // a few types have most objects
      g.type[i] = random.nextInt(3) > 0 ? random.nextInt(4) : random.nextInt(types);
      g.size[i] = 1 + random.nextInt(50);
    }
    return g;
  }

  /** Mostly a tree, with some edges to what is near and some to anything. */
  private static GraphFixture random(Random random) {
    int count = 200 + random.nextInt(2500);
    int types = 5 + random.nextInt(90);
    GraphFixture g = fixture(count, types, random);
    for (int i = 1; i < count; i++) {
      link(g, Math.max(0, i - 1 - random.nextInt(12)), i);
    }
    int more = random.nextInt(count);
    for (int i = 0; i < more; i++) {
      int from = random.nextInt(count) * 3 / 4;
      int to =
          random.nextInt(4) > 0
              ? Math.min(count - 1, Math.max(0, from + random.nextInt(40) - 15))
              : random.nextInt(count);
      link(g, from, to);
    }
    for (int t = 0; t < types; t++) {
      g.classNode[t] = random.nextInt(4) == 0 ? random.nextInt(count) : -1;
    }
    g.roots.add(0);
    g.roots.add(random.nextInt(count));
    return g;
  }

  private static long[] check(GraphFixture g, String what) throws Exception {
    long[] expected = null;
    HoldingTypes.Limits[] limits = {
      new HoldingTypes.Limits(HoldingTypes.BITS, HoldingTypes.PASSES, ANY),
      new HoldingTypes.Limits(3, 20, ANY),
      new HoldingTypes.Limits(0, 20, ANY),
      new HoldingTypes.Limits(3, 1, ANY),
      new HoldingTypes.Limits(3, 20, 0),
      new HoldingTypes.Limits(3, 20, g.count)
    };
    for (HoldingTypes.Limits limit : limits) {
      Space space = Space.heap();
      Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
      IntArray sizes = g.sizes(space);
      if (expected == null) {
        expected = search(reached, sizes, g.classNode.length);
      }
      long[] actual = holding(g, reached, sizes, limit);
      assertThat(actual).as("%s, %s", what, limit).isEqualTo(expected);
    }
    return expected;
  }

  private static long[] search(Reachability.Result reached, IntArray sizes, int types) {
    long[] sums = new long[types];
    for (int from = 0; from < types; from += 64) {
      int[] some = IntStream.range(from, Math.min(types, from + 64)).toArray();
      long[] found = TypeSearch.retained(reached.graph(), reached.depth(), sizes, some);
      System.arraycopy(found, 0, sums, from, found.length);
    }
    return sums;
  }

  private static long[] holding(
      GraphFixture g, Reachability.Result reached, IntArray sizes, HoldingTypes.Limits limits)
      throws Exception {
    Space space = Space.heap();
    ObjectGraph graph = reached.graph();
    Dominators dominators = Dominators.compute(graph, space, Progress.NONE);
    LongArray innerRetained = dominators.innerRetained(sizes);
    TypeTotals totals = TypeTotals.of(graph, dominators.unretained(), sizes);
    ReverseOrder order = ReverseOrder.of(dominators.numbering(), space);
    HoldingTypes types = new HoldingTypes(graph, dominators, order, totals, sizes, space, limits);
    types.settle();
    for (int leaf : leafJoins(g, graph, dominators)) {
      int[] from = sources(g, dominators, leaf);
      types.addLeaf(leaf, from, from.length);
    }
    types.finish(innerRetained);
    totals.resolve(types.unresolved(), graph, reached.depth(), sizes);
    long[] retained = new long[g.classNode.length];
    for (int t = 0; t < retained.length; t++) {
      retained[t] = totals.retained(t);
    }
    return retained;
  }

  private static List<Integer> leafJoins(GraphFixture g, ObjectGraph graph, Dominators dominators) {
    Set<Integer> roots = new HashSet<>();
    for (int root : graph.roots) {
      roots.add(root);
    }
    List<Integer> joins = new ArrayList<>();
    for (int n = 0; n < g.count; n++) {
      int above = dominators.dominator(n);
      boolean direct = roots.contains(n) || above >= 0 && g.targets(above).contains(n);
      boolean leaf = dominators.isRetained(n) && dominators.number(n) < 0;
      assertThat(dominators.leafJoins().get(n)).isEqualTo(leaf && !direct);
      if (leaf && !direct) {
        joins.add(n);
      }
    }
    return joins;
  }

  private static int[] sources(GraphFixture g, Dominators dominators, int node) {
    return IntStream.range(0, g.count)
        .filter(from -> from != node && dominators.isRetained(from))
        .filter(from -> g.strong.get(from).contains(node))
        .toArray();
  }
}
