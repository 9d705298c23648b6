package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Random;
import java.util.concurrent.Callable;
import java.util.stream.IntStream;
import lipsanon.array.IntPages;
import lipsanon.array.Space;
import org.junit.jupiter.api.Test;

/** Lists as they were appended, whatever pages they lie on. */
class EdgeAppenderTest {
  /** What stands at the beginning of a list, read as the graph's loops do. */
  private static int[] read(IntPages edges, int first) {
    IntPages.Cursor cursor = edges.cursor();
    IntPages.Runner runner = edges.runner();
    int[] list = new int[8];
    int size = 0;
    for (int at = first; at >= 0; at++) {
      int edge = cursor.get(at);
      assertThat(runner.get(at)).isEqualTo(edge);
      list = size == list.length ? Arrays.copyOf(list, 2 * size) : list;
      list[size++] = edge < 0 ? ~edge : edge;
      if (edge < 0) {
        break;
      }
    }
    return Arrays.copyOf(list, size);
  }

  @Test
  void listsOfAnyLength() {
    Random random = new Random(4);
    IntPages edges = new IntPages(Space.heap());
    EdgeAppender appender = new EdgeAppender(edges);
    int[] lengths = {
      0, 1, 2, IntPages.PAGE - 3, 1, 1, 5, IntPages.PAGE, 0, IntPages.PAGE + 1, 7, 3 * IntPages.PAGE
    };
    List<int[]> lists = new ArrayList<>();
    int[] first = new int[lengths.length];
    for (int i = 0; i < lengths.length; i++) {
      // fewer may come than were announced
      int[] list = random.ints(lengths[i], 0, Integer.MAX_VALUE).toArray();
      lists.add(list);
      appender.begin(lengths[i] + random.nextInt(3));
      for (int target : list) {
        appender.add(target);
      }
      first[i] = appender.end();
    }
    for (int i = 0; i < lengths.length; i++) {
      if (lengths[i] == 0) {
        assertThat(first[i]).isEqualTo(ObjectGraph.NO_EDGES);
      } else {
        assertThat(read(edges, first[i])).as("list %d", i).isEqualTo(lists.get(i));
      }
    }
  }

  /** Each thread fills pages of its own. */
  @Test
  void severalAppendSideBySide() throws Exception {
    int nodes = 60_000;
    IntPages edges = new IntPages(Space.heap());
    int[] first = new int[nodes];
    List<Callable<Void>> works = new ArrayList<>();
    for (int part = 0; part < 4; part++) {
      int mine = part;
      works.add(
          () -> {
            EdgeAppender appender = new EdgeAppender(edges);
            for (int node = mine; node < nodes; node += 4) {
              appender.begin(node % 50);
              for (int i = 0; i < node % 50; i++) {
                appender.add(node + i);
              }
              first[node] = appender.end();
            }
            return null;
          });
    }
    Workers.all(works);
    for (int node = 0; node < nodes; node++) {
      int from = node;
      assertThat(first[node] == ObjectGraph.NO_EDGES ? new int[0] : read(edges, first[node]))
          .isEqualTo(IntStream.range(0, node % 50).map(i -> from + i).toArray());
    }
  }
}
