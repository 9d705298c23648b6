package lipsanon.array;

import java.util.Arrays;

/**
 * Longs on the heap, or, if none is above 2^32 - 1, unsigned ints wherever those live: half the
 * room. One class for both, since in most runs it is then the only one that is loaded, and its
 * methods cost what an array access costs.
 */
final class PlainLongArray extends LongArray {
  /** Elements that are cleared at once. */
  private static final int BLOCK = 1 << 11;

  private final long[] values;
  private final IntArray narrow;

  PlainLongArray(int length) {
    this.values = new long[length];
    this.narrow = null;
  }

  /** Values from 0 to 2^32 - 1. */
  PlainLongArray(IntArray narrow) {
    this.values = null;
    this.narrow = narrow;
  }

  /** Sets all to zero; longs only. */
  void clear() {
    // copying is done by the processor's widest instructions under either compiler
    int block = Math.min(values.length, BLOCK);
    Arrays.fill(values, 0, block, 0);
    for (int done = block; done < values.length; done += block) {
      System.arraycopy(values, 0, values, done, Math.min(block, values.length - done));
    }
  }

  /** The ints that the values are kept in; null if they are longs. */
  IntArray narrow() {
    return narrow;
  }

  @Override
  public int length() {
    return values != null ? values.length : narrow.length();
  }

  @Override
  public long get(int index) {
    return values != null ? values[index] : narrow.get(index) & 0xffff_ffffL;
  }

  @Override
  public void set(int index, long value) {
    if (values != null) {
      values[index] = value;
    } else {
      narrow.set(index, (int) value);
    }
  }

  @Override
  public void add(int index, long value) {
    set(index, get(index) + value);
  }
}
