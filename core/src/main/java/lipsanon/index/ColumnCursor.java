package lipsanon.index;

import java.util.Arrays;

/**
 * Reads a column at places that mostly lie near the last ones: blocks that are come back to are
 * kept unpacked. A place far from the last is read alone, which costs no more than without a
 * cursor. Keeps eight blocks of 64 values. One cursor serves one thread.
 */
final class ColumnCursor {
  private static final int BLOCKS = 8;

  private final PackedColumn column;
  private final long[][] values = new long[BLOCKS][];
  private final long[] held = new long[BLOCKS];
  private long last = -2;

  ColumnCursor(PackedColumn column) {
    this.column = column;
    Arrays.fill(held, -1);
  }

  long get(long index) {
    long block = index >>> ColumnFormat.BLOCK_SHIFT;
    int slot = (int) block & BLOCKS - 1;
    return held[slot] == block
        ? values[slot][(int) index & ColumnFormat.BLOCK - 1]
        : fetch(index, block, slot);
  }

  private long fetch(long index, long block, int slot) {
    boolean near = block >= last - 1 && block <= last + 1;
    last = block;
    if (!near) {
      return column.get(index);
    }
    if (values[slot] == null) {
      values[slot] = new long[ColumnFormat.BLOCK];
    }
    held[slot] = -1;
    column.block(block, values[slot]);
    held[slot] = block;
    return values[slot][(int) index & ColumnFormat.BLOCK - 1];
  }
}
