package lipsanon.array;

import java.util.Arrays;

/** Ints on the heap, in the first part of an array that may be longer. */
final class HeapIntArray extends IntArray {
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
  public int get(int index) {
    return values[index];
  }

  @Override
  public void set(int index, int value) {
    values[index] = value;
  }

  @Override
  public void copyTo(int from, int[] target, int count) {
    System.arraycopy(values, from, target, 0, count);
  }

  @Override
  public void fill(int value) {
    Arrays.fill(values, 0, length, value);
  }
}
