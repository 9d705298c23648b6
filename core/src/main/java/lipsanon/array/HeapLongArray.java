package lipsanon.array;

/** Longs on the heap. */
final class HeapLongArray extends LongArray {
  private final long[] values;

  HeapLongArray(int length) {
    values = new long[length];
  }

  @Override
  public int length() {
    return values.length;
  }

  @Override
  public long get(int index) {
    return values[index];
  }

  @Override
  public void set(int index, long value) {
    values[index] = value;
  }

  @Override
  public void add(int index, long value) {
    values[index] += value;
  }
}
