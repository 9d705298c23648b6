package lipsanon.array;

import java.nio.LongBuffer;

/** Longs in a mapped scratch file. */
final class MappedLongArray extends LongArray {
  private static final int SHIFT = 27;
  private static final int MASK = (1 << SHIFT) - 1;

  private final LongBuffer[] pieces;
  private final int length;

  /** Pieces hold 2^27 elements each, but for the last one. */
  MappedLongArray(LongBuffer[] pieces, int length) {
    this.pieces = pieces;
    this.length = length;
  }

  static int pieceLength() {
    return 1 << SHIFT;
  }

  @Override
  public int length() {
    return length;
  }

  @Override
  public long get(int index) {
    return pieces[index >>> SHIFT].get(index & MASK);
  }

  @Override
  public void set(int index, long value) {
    pieces[index >>> SHIFT].put(index & MASK, value);
  }
}
