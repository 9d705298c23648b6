package lipsanon.array;

/**
 * A long row of ints, on the heap or in a mapped scratch file: {@link Space} decides. Within one
 * run nearly always one of the two subclasses is loaded, so that the calls cost what an array
 * access costs.
 */
public abstract class IntArray {
  IntArray() {}

  /** The number of elements. */
  public abstract int length();

  /** Elements that there is room for: at least {@link #length}. */
  abstract int capacity();

  /** The same memory with another length, up to the capacity. */
  abstract IntArray withLength(int newLength);

  /** The elements, if they are on the heap; else null. */
  int[] heap() {
    return null;
  }

  /** The element at {@code index}. */
  public abstract int get(int index);

  /** Sets the element at {@code index}. */
  public abstract void set(int index, int value);

  /** Adds one to the element at {@code index}; the value before. */
  public int getAndIncrement(int index) {
    int value = get(index);
    set(index, value + 1);
    return value;
  }

  /** Copies the elements from {@code from} on to the beginning of {@code target}. */
  public void copyTo(int from, int[] target, int count) {
    for (int i = 0; i < count; i++) {
      target[i] = get(from + i);
    }
  }

  /** Sets all elements. */
  public void fill(int value) {
    int length = length();
    for (int i = 0; i < length; i++) {
      set(i, value);
    }
  }
}
