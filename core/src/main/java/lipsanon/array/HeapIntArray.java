package lipsanon.array;

import java.util.Arrays;

/** Ints on the heap. */
final class HeapIntArray extends IntArray {
  private final int[] values;

  HeapIntArray(int length) {
    values = new int[length];
  }

  @Override
  public int length() {
    return values.length;
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
  public void fill(int value) {
    Arrays.fill(values, value);
  }
}
