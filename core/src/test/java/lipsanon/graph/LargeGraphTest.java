package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.io.Progress;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Shapes that break recursion and bad bounds: chains of a million, wide levels, shared leaves. */
class LargeGraphTest {
  private static final int MANY = 1_000_000;

  @TempDir Path folder;

  @Test
  void aChainOfAMillion() throws Exception {
    GraphFixture g = new GraphFixture(MANY, 1);
    for (int i = 0; i + 1 < MANY; i++) {
      g.strong.get(i).add(i + 1);
    }
    g.roots.add(0);
    assertChain(g, Space.heap());
  }

  @Test
  void aDoublyLinkedChainInScratchFiles() throws Exception {
    GraphFixture g = new GraphFixture(MANY, 1);
    for (int i = 0; i + 1 < MANY; i++) {
      g.strong.get(i).add(i + 1);
      g.strong.get(i + 1).add(i);
    }
    g.roots.add(0);
    try (Space space = Space.mapped(folder)) {
      assertChain(g, space);
    }
    assertThat(folder).isEmptyDirectory();
  }

  private static void assertChain(GraphFixture g, Space space) throws Exception {
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    assertThat(reached.depth().get(MANY - 1)).isEqualTo(MANY);
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
    IntArray sizes = g.sizes(space);
    LongArray inner = dominators.innerRetained(sizes);
    assertThat(dominators.dominator(0)).isEqualTo(-1);
    assertThat(dominators.dominator(MANY - 1)).isEqualTo(MANY - 2);
    assertThat(dominators.retained(0, inner, sizes)).isEqualTo(MANY);
    assertThat(dominators.retained(MANY - 1, inner, sizes)).isEqualTo(1);
    assertThat(dominators.retained(MANY / 2, inner, sizes)).isEqualTo(MANY / 2);
  }

  @Test
  void leavesSharedFarDownADeepChain() throws Exception {
    // leaf k hangs on chain nodes k and n - 1 - k: the nearest common ancestor is the upper one
    int chain = 300_000;
    GraphFixture g = new GraphFixture(2 * chain, 1);
    for (int i = 0; i < chain; i++) {
      if (i + 1 < chain) {
        g.strong.get(i).add(i + 1);
      }
      g.strong.get(i).add(chain + i);
      g.strong.get(chain - 1 - i).add(chain + i);
    }
    g.roots.add(0);
    Space space = Space.heap();
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
    for (int i = 0; i < chain; i += 997) {
      assertThat(dominators.dominator(chain + i)).isEqualTo(Math.min(i, chain - 1 - i));
    }
  }

  /** The sums of small heaps are kept in 32 bits; these do not fit. */
  @Test
  void sumsBeyondFourBillionUnits() throws Exception {
    int chain = 40;
    GraphFixture g = new GraphFixture(2 * chain, 1);
    for (int i = 0; i < chain; i++) {
      if (i + 1 < chain) {
        g.strong.get(i).add(i + 1);
      }
      g.strong.get(i).add(chain + i);
      // read as unsigned: three billion units
      g.size[i] = (int) 3_000_000_000L;
      g.size[chain + i] = 7;
    }
    g.roots.add(0);
    Space space = Space.heap();
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
    IntArray sizes = g.sizes(space);
    LongArray inner = dominators.innerRetained(sizes);
    for (int i = 0; i < chain; i++) {
      assertThat(dominators.retained(i, inner, sizes)).isEqualTo((chain - i) * 3_000_000_007L);
    }
    assertThat(inner.get(0)).isEqualTo(chain * 3_000_000_007L);
  }

  @Test
  void aWideLevelIsSearchedByAllThreads() throws Exception {
    int wide = 400_000;
    GraphFixture g = new GraphFixture(2 * wide + 2, 1);
    for (int i = 0; i < wide; i++) {
      g.strong.get(0).add(1 + i);
      g.strong.get(1 + i).add(1 + wide + i);
      g.strong.get(1 + i).add(1 + wide + (i + 1) % wide);
      g.strong.get(1 + wide + i).add(2 * wide + 1);
    }
    g.roots.add(0);
    Space space = Space.heap();
    Reachability.Result reached = Reachability.compute(g.build(space), space, Progress.NONE);
    assertThat(reached.depth().get(2 * wide + 1)).isEqualTo(4);
    Dominators dominators = Dominators.compute(reached.graph(), space, Progress.NONE);
    assertThat(dominators.unretained().cardinality()).isZero();
    for (int i = 0; i < wide; i += 1009) {
      assertThat(dominators.dominator(1 + i)).isEqualTo(0);
      assertThat(dominators.dominator(1 + wide + i)).isEqualTo(0);
    }
    assertThat(dominators.dominator(2 * wide + 1)).isEqualTo(0);
  }
}
