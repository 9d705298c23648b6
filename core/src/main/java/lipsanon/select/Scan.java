package lipsanon.select;

import java.util.BitSet;
import java.util.function.LongPredicate;
import lipsanon.index.PackedColumn;

/** Goes through a whole column: a block of 64 values makes a word of the set. */
final class Scan {
  private Scan() {}

  /** The numbers of the values that pass. */
  static BitSet of(PackedColumn column, LongPredicate passes) {
    int words = (int) (column.count() + 63 >> 6);
    long[] set = new long[words];
    long[] block = new long[64];
    for (int b = 0; b < words; b++) {
      int size = column.block(b, block);
      long word = 0;
      for (int i = 0; i < size; i++) {
        word |= passes.test(block[i]) ? 1L << i : 0;
      }
      set[b] = word;
    }
    return BitSet.valueOf(set);
  }

  /** The numbers of the values from {@code least} to {@code most}; whole blocks are skipped. */
  static BitSet range(PackedColumn column, long least, long most) {
    int words = (int) (column.count() + 63 >> 6);
    long[] set = new long[words];
    long[] block = new long[64];
    for (int b = 0; b < words; b++) {
      if (column.least(b) > most || column.bound(b) < least) {
        continue;
      }
      int size = column.block(b, block);
      long word = 0;
      for (int i = 0; i < size; i++) {
        word |= block[i] >= least && block[i] <= most ? 1L << i : 0;
      }
      set[b] = word;
    }
    return BitSet.valueOf(set);
  }
}
