package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import lipsanon.array.Space;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** References turned round in buckets and bands of any size, against lists filled one by one. */
class InboundTest {
  @TempDir Path folder;

  @Test
  void whateverTheBucketsAndBandsTheListsAreTheSame() throws Exception {
    long base = Long.getLong("lipsanon.seed", 20_261_129L);
    for (int round = 0; round < 400; round++) {
      long seed = base + round;
      Random random = new Random(seed);
      GraphFixture g = GraphFixture.random(random, 1 + random.nextInt(300));
      // an object that many refer to, also several times: more than a band has room for
      int hub = random.nextInt(g.count);
      for (int i = random.nextInt(200); i > 0; i--) {
        g.strong.get(random.nextInt(g.count)).add(hub);
      }
      int shift = random.nextInt(9);
      long room = random.nextBoolean() ? random.nextInt(60) : Long.MAX_VALUE;
      try (Space space = Space.heap()) {
        check(g, (graph, sink) -> Inbound.feed(graph, shift, room, sink), space);
      } catch (AssertionError e) {
        throw new AssertionError("rerun with -Dlipsanon.seed=" + seed, e);
      }
    }
  }

  @Test
  void scratchFilesGiveTheSameLists() throws Exception {
    for (int band = 0; band < 12; band++) {
      GraphFixture g = GraphFixture.random(new Random(band), 90_000);
      try (Space space = Space.mapped(folder, new Space.Spare(1 << band, 0))) {
        check(g, (graph, sink) -> Inbound.feed(graph, space, sink), space);
      }
    }
    assertThat(folder).isEmptyDirectory();
  }

  private interface Feed {
    long to(ObjectGraph graph, Inbound.Sink sink) throws Exception;
  }

  private static void check(GraphFixture g, Feed feed, Space space) throws Exception {
    List<List<Integer>> expected = new ArrayList<>();
    for (int n = 0; n < g.count; n++) {
      expected.add(new ArrayList<>());
    }
    long all = 0;
    for (int n = 0; n < g.count; n++) {
      for (int target : g.strong.get(n)) {
        expected.get(target).add(n);
        all++;
      }
    }
    for (List<int[]> pairs : List.of(g.soft, g.weak, g.finalizer)) {
      for (int[] pair : pairs) {
        expected.get(pair[1]).add(pair[0]);
        all++;
      }
    }
    expected.forEach(list -> list.sort(null));
    List<List<Integer>> actual = new ArrayList<>();
    long told =
        feed.to(
            g.build(space),
            (count, ends, sources) -> {
              for (int i = 0; i < count; i++) {
                int begin = i == 0 ? 0 : ends[i - 1];
                actual.add(Arrays.stream(sources, begin, ends[i]).boxed().toList());
              }
            });
    assertThat(actual).isEqualTo(expected);
    assertThat(told).isEqualTo(all);
  }
}
