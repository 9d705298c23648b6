package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.Space;

/**
 * The second half of a counting sort, band by band. Written all over a scratch file, each value
 * would cost a page fault, and another one whenever the operating system has just saved the page.
 * So the keys are cut into bands whose values fit an array on the heap; for each band the input is
 * read once more, in order, and the band goes to the file in one piece. Memory: {@link
 * Space#bandInts()} ints. For arrays on the heap there is no need of it.
 */
final class Bands {
  private Bands() {}

  /** Goes through all input, in its order. */
  interface Input {
    /** Hands over each pair of a key and a value whose key is in the band. */
    void feed(int fromKey, int toKey, Sink sink);
  }

  /** Takes a value. */
  interface Sink {
    void add(int key, int value);
  }

  /**
   * Sorts.
   *
   * @param place by key: where its values begin; afterwards where they end
   * @param keys the number of keys; {@code place} has one element more, the number of all values
   */
  static IntArray sort(IntArray place, int keys, Space space, Input input) {
    int all = place.get(keys);
    IntArray sorted = space.ints(Math.max(1, all));
    int[] band = new int[Math.min(space.bandInts(), Math.max(1, all))];
    int from = 0;
    while (from < keys) {
      int base = place.get(from);
      int to = end(place, from, keys, base, band.length);
      int size = place.get(to) - base;
      if (size > band.length) {
        // the values of a single key
        band = new int[size];
      }
      fill(place, from, to, base, band, input);
      for (int i = 0; i < size; i++) {
        sorted.set(base + i, band[i]);
      }
      from = to;
    }
    return sorted;
  }

  /** The last key, exclusive, of a band that begins with a key: at least one key. */
  private static int end(IntArray place, int from, int keys, int base, int room) {
    int low = from + 1;
    int high = keys;
    // places ascend: those from here on are still beginnings
    while (low < high) {
      int middle = low + (high - low + 1) / 2;
      if (place.get(middle) - base <= room) {
        low = middle;
      } else {
        high = middle - 1;
      }
    }
    return low;
  }

  private static void fill(IntArray place, int from, int to, int base, int[] band, Input input) {
    // the place behind the band is the beginning of the next one, and is not moved
    input.feed(
        from,
        to,
        (key, value) -> {
          int slot = place.get(key);
          place.set(key, slot + 1);
          band[slot - base] = value;
        });
  }
}
