package lipsanon.index;

/**
 * Puts the 64 values of a block side by side into words ({@link ColumnFormat}): each as its
 * difference to the least one, in {@code width} bits, lowest first. Where the differences are small
 * two or four are joined before a word is touched: of all that a snapshot's index takes to write
 * this is the innermost loop, and so it costs half of what one by one does.
 */
final class Packing {
  private static final long LOW = 0xffff_ffffL;

  private Packing() {}

  /**
   * Packs ints.
   *
   * @param width 1 to 32, enough for each difference
   * @param at where the first of {@code width} words goes
   */
  static void pack(int[] values, int from, int least, int width, long[] target, int at) {
    if (width <= 16) {
      fours(values, from, least, width, target, at);
    } else {
      pairs(values, from, least, width, target, at);
    }
  }

  /**
   * Packs longs.
   *
   * @param width 1 to 64, enough for each difference
   * @param at where the first of {@code width} words goes
   */
  static void pack(long[] values, int from, long least, int width, long[] target, int at) {
    if (width <= 16) {
      fours(values, from, least, width, target, at);
    } else if (width <= 32) {
      pairs(values, from, least, width, target, at);
    } else {
      singles(values, from, least, width, target, at);
    }
  }

  private static void fours(
      int[] values, int from, int least, int width, long[] target, int first) {
    final int end = from + ColumnFormat.BLOCK;
    final int size = 4 * width;
    int at = first;
    long word = 0;
    int used = 0;
    for (int i = from; i < end; i += 4) {
      // two differences are 32 bits at most
      long low = values[i] - least | values[i + 1] - least << width;
      long high = values[i + 2] - least | values[i + 3] - least << width;
      long value = low & LOW | (high & LOW) << 2 * width;
      word |= value << used;
      used += size;
      if (used >= Long.SIZE) {
        target[at++] = word;
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (size - used);
      }
    }
  }

  private static void pairs(
      int[] values, int from, int least, int width, long[] target, int first) {
    final int end = from + ColumnFormat.BLOCK;
    final int size = 2 * width;
    int at = first;
    long word = 0;
    int used = 0;
    for (int i = from; i < end; i += 2) {
      // as unsigned numbers the differences are right even if they overflow
      long value = values[i] - least & LOW | (values[i + 1] - least & LOW) << width;
      word |= value << used;
      used += size;
      if (used >= Long.SIZE) {
        target[at++] = word;
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (size - used);
      }
    }
  }

  private static void fours(
      long[] values, int from, long least, int width, long[] target, int first) {
    final int end = from + ColumnFormat.BLOCK;
    final int size = 4 * width;
    int at = first;
    long word = 0;
    int used = 0;
    for (int i = from; i < end; i += 4) {
      long low = values[i] - least | values[i + 1] - least << width;
      long high = values[i + 2] - least | values[i + 3] - least << width;
      long value = low | high << 2 * width;
      word |= value << used;
      used += size;
      if (used >= Long.SIZE) {
        target[at++] = word;
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (size - used);
      }
    }
  }

  private static void pairs(
      long[] values, int from, long least, int width, long[] target, int first) {
    final int end = from + ColumnFormat.BLOCK;
    final int size = 2 * width;
    int at = first;
    long word = 0;
    int used = 0;
    for (int i = from; i < end; i += 2) {
      long value = values[i] - least | values[i + 1] - least << width;
      word |= value << used;
      used += size;
      if (used >= Long.SIZE) {
        target[at++] = word;
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (size - used);
      }
    }
  }

  private static void singles(
      long[] values, int from, long least, int width, long[] target, int first) {
    final int end = from + ColumnFormat.BLOCK;
    int at = first;
    long word = 0;
    int used = 0;
    for (int i = from; i < end; i++) {
      long value = values[i] - least;
      word |= value << used;
      used += width;
      if (used >= Long.SIZE) {
        target[at++] = word;
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (width - used);
      }
    }
  }
}
