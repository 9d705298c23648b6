package lipsanon.array;

import java.util.Arrays;

/** Ints on the heap, in the first part of an array that may be longer. */
final class HeapIntArray extends IntArray {
  /** Elements that are copied at once. */
  private static final int BLOCK = 1 << 12;

  private final int[] values;
  private final int length;

  HeapIntArray(int[] values, int length) {
    this.values = values;
    this.length = length;
  }

  @Override
  public int length() {
    return length;
  }

  @Override
  int capacity() {
    return values.length;
  }

  @Override
  IntArray withLength(int newLength) {
    return new HeapIntArray(values, newLength);
  }

  @Override
  int[] heap() {
    return values;
  }

  @Override
  public int get(int index) {
    return values[index];
  }

  @Override
  public void set(int index, int value) {
    values[index] = value;
  }

  @Override
  public int getAndIncrement(int index) {
    return values[index]++;
  }

  @Override
  public void copyTo(int from, int[] target, int count) {
    System.arraycopy(values, from, target, 0, count);
  }

  @Override
  public void fill(int value) {
    // copying is done by the processor's widest instructions under either compiler
    int block = Math.min(length, BLOCK);
    Arrays.fill(values, 0, block, value);
    for (int done = block; done < length; done += block) {
      System.arraycopy(values, 0, values, done, Math.min(block, length - done));
    }
  }
}
