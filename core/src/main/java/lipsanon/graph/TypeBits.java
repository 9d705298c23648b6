package lipsanon.graph;

import java.util.Arrays;
import java.util.PriorityQueue;

/**
 * Gives the types with the most objects a bit of a word each: nearly all objects are of these. A
 * type of one object needs none, since what that retains is what its type does.
 */
final class TypeBits {
  /** The type has one retained object, or none. */
  static final int SINGLE = -2;

  /** The type is one of the others. */
  static final int RARE = -1;

  private final int[] bit;
  private final int[] type;

  private TypeBits(int[] bit, int[] type) {
    this.bit = bit;
    this.type = type;
  }

  /** Chooses among the types of a graph. */
  static TypeBits of(TypeTotals totals, int types, int bits) {
    int[] bit = new int[types];
    PriorityQueue<Integer> most =
        new PriorityQueue<>((a, b) -> Long.compare(retained(totals, a), retained(totals, b)));
    for (int t = 0; t < types; t++) {
      bit[t] = retained(totals, t) < 2 ? SINGLE : RARE;
      if (bit[t] == RARE) {
        most.add(t);
        if (most.size() > bits) {
          most.poll();
        }
      }
    }
    int[] chosen = most.stream().mapToInt(Integer::intValue).toArray();
    Arrays.sort(chosen);
    for (int b = 0; b < chosen.length; b++) {
      bit[chosen[b]] = b;
    }
    return new TypeBits(bit, chosen);
  }

  private static long retained(TypeTotals totals, int type) {
    return totals.count(type) - totals.unretained(type);
  }

  /** The bit of a type, or one of the constants. */
  int of(int type) {
    return bit[type];
  }

  /** The type of a bit. */
  int type(int ofBit) {
    return type[ofBit];
  }
}
