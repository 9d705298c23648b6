package lipsanon.array;

import java.nio.IntBuffer;

/** Ints in a mapped scratch file of at most 2 GiB less one page a piece. */
final class MappedIntArray extends IntArray {
  private static final int SHIFT = 28;
  private static final int MASK = (1 << SHIFT) - 1;

  private final IntBuffer[] pieces;
  private final int length;

  /** Pieces hold 2^28 elements each, but for the last one. */
  MappedIntArray(IntBuffer[] pieces, int length) {
    this.pieces = pieces;
    this.length = length;
  }

  @Override
  int capacity() {
    int last = pieces.length - 1;
    return last < 0 ? 0 : last * pieceLength() + pieces[last].capacity();
  }

  @Override
  IntArray withLength(int newLength) {
    return new MappedIntArray(pieces, newLength);
  }

  static int pieceLength() {
    return 1 << SHIFT;
  }

  @Override
  public int length() {
    return length;
  }

  @Override
  public int get(int index) {
    return pieces[index >>> SHIFT].get(index & MASK);
  }

  @Override
  public void set(int index, int value) {
    pieces[index >>> SHIFT].put(index & MASK, value);
  }
}
