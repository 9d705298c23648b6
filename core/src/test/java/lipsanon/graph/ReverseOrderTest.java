package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Deque;
import java.util.List;
import java.util.Random;
import lipsanon.array.IntArray;
import lipsanon.array.Space;
import org.junit.jupiter.api.Test;

class ReverseOrderTest {
  @Test
  void equalsThePostorderTurnedRound() {
    Random random = new Random(41);
    for (int round = 0; round < 300; round++) {
      int count = random.nextInt(40);
      int[] parent = randomTree(count, random);
      ReverseOrder order = order(parent, count);
      List<Integer> post = new ArrayList<>();
      postorder(parent, 0, post);
      post.remove(Integer.valueOf(0));
      Collections.reverse(post);
      List<Integer> actual = new ArrayList<>();
      for (int place = 0; place < count; place++) {
        actual.add(order.number(place));
      }
      assertThat(actual).isEqualTo(post);
      for (int i = 1; i <= count; i++) {
        List<Integer> below = new ArrayList<>();
        postorder(parent, i, below);
        assertThat(order.after(i) - i).isEqualTo(below.size());
      }
    }
  }

  @Test
  void aMillionInOneLine() {
    int count = 1_000_000;
    int[] parent = new int[count + 1];
    for (int i = 1; i <= count; i++) {
      parent[i] = i - 1;
    }
    ReverseOrder order = order(parent, count);
    assertThat(order.number(0)).isEqualTo(1);
    assertThat(order.number(count - 1)).isEqualTo(count);
    assertThat(order.after(1)).isEqualTo(count + 1);
  }

  private static ReverseOrder order(int[] parent, int count) {
    Space space = Space.heap();
    IntArray parents = space.ints(count + 1);
    for (int i = 1; i <= count; i++) {
      parents.set(i, parent[i]);
    }
    return ReverseOrder.of(parents, count, space);
  }

  /** Numbers in preorder: a node's parent is the node before it or one above that. */
  private static int[] randomTree(int count, Random random) {
    int[] parent = new int[count + 1];
    Deque<Integer> above = new ArrayDeque<>(List.of(0));
    for (int i = 1; i <= count; i++) {
      for (int up = random.nextInt(above.size()); up > 0; up--) {
        above.pop();
      }
      parent[i] = above.peek();
      above.push(i);
    }
    return parent;
  }

  private static void postorder(int[] parent, int node, List<Integer> out) {
    for (int child = node + 1; child < parent.length; child++) {
      if (parent[child] == node) {
        postorder(parent, child, out);
      }
    }
    out.add(node);
  }
}
