package lipsanon.array;

/** A long row of longs, on the heap or in a mapped scratch file: {@link Space} decides. */
public abstract class LongArray {
  LongArray() {}

  /** The number of elements. */
  public abstract int length();

  /** The element at {@code index}. */
  public abstract long get(int index);

  /** Sets the element at {@code index}. */
  public abstract void set(int index, long value);

  /** Adds to the element at {@code index}. */
  public void add(int index, long value) {
    set(index, get(index) + value);
  }
}
