package lipsanon.array;

/** Values from 0 to 2^32 - 1, in half the room. */
final class UnsignedIntArray extends LongArray {
  private final IntArray values;

  UnsignedIntArray(IntArray values) {
    this.values = values;
  }

  IntArray values() {
    return values;
  }

  @Override
  public int length() {
    return values.length();
  }

  @Override
  public long get(int index) {
    return Integer.toUnsignedLong(values.get(index));
  }

  @Override
  public void set(int index, long value) {
    values.set(index, (int) value);
  }
}
