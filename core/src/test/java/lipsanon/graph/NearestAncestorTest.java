package lipsanon.graph;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.HashSet;
import java.util.Random;
import java.util.Set;
import lipsanon.array.IntArray;
import lipsanon.array.Space;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;

/** Common ancestors in trees of every shape, before and after jump pointers are made. */
class NearestAncestorTest {
  private enum Shape {
    CHAIN,
    STAR,
    BUSH,
    DEEP,
    TWO_CHAINS
  }

  private static int parent(Shape shape, int node, Random random) {
    return switch (shape) {
      case CHAIN -> node - 1;
      case STAR -> 0;
      case BUSH -> random.nextInt(node);
      case DEEP -> Math.max(0, node - 1 - random.nextInt(3));
      case TWO_CHAINS -> Math.max(0, node - 2);
    };
  }

  private static int slow(IntArray parent, int a, int b) {
    Set<Integer> above = new HashSet<>();
    for (int at = a; ; at = parent.get(at)) {
      above.add(at);
      if (at == 0) {
        break;
      }
    }
    int at = b;
    while (!above.contains(at)) {
      at = parent.get(at);
    }
    return at;
  }

  @ParameterizedTest
  @EnumSource
  void equalsTheDefinition(Shape shape) {
    Space space = Space.heap();
    Random random = new Random(shape.ordinal());
    int count = 3000;
    IntArray parent = space.ints(count + 1);
    for (int node = 1; node <= count; node++) {
      parent.set(node, parent(shape, node, random));
    }
    NearestAncestor ancestor = new NearestAncestor(parent, count, space);
    // long climbs use up the patience for them: later answers come from jump pointers
    for (int i = 0; i < 3000; i++) {
      int a = i % 10 == 0 ? count : random.nextInt(count + 1);
      int b = i % 10 == 0 ? 1 : random.nextInt(count + 1);
      assertThat(ancestor.common(a, b))
          .as("%s: %d and %d, question %d", shape, a, b, i)
          .isEqualTo(slow(parent, a, b));
    }
    ancestor.release();
  }
}
