package lipsanon.array;

import java.util.Arrays;
import java.util.BitSet;

/** A growing row of ints on the heap. Not safe for use by several threads. */
public final class IntList {
  private int[] values;
  private int size;

  /** Empty. */
  public IntList() {
    this(16);
  }

  /** Empty, with room for so many. */
  public IntList(int capacity) {
    values = new int[Math.max(4, capacity)];
  }

  /** The numbers of a set, ascending. */
  public static IntList of(BitSet set) {
    IntList list = new IntList(set.cardinality());
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      list.add(n);
    }
    return list;
  }

  /** Appends. */
  public void add(int value) {
    if (size == values.length) {
      grow();
    }
    values[size++] = value;
  }

  private void grow() {
    if (size > Integer.MAX_VALUE - 8 - size / 2) {
      throw new TooManyElementsException();
    }
    values = Arrays.copyOf(values, size + size / 2 + 8);
  }

  /** The element at {@code index}. */
  public int get(int index) {
    return values[index];
  }

  /** Replaces the element at {@code index}. */
  public void set(int index, int value) {
    values[index] = value;
  }

  /** The number of elements. */
  public int size() {
    return size;
  }

  /** Whether a value is among the elements. */
  public boolean contains(int value) {
    for (int i = 0; i < size; i++) {
      if (values[i] == value) {
        return true;
      }
    }
    return false;
  }

  /** Whether nothing was added. */
  public boolean isEmpty() {
    return size == 0;
  }

  /** Forgets all elements and keeps the room. */
  public void clear() {
    size = 0;
  }

  /** Forgets all elements and gives the room back. */
  public void release() {
    size = 0;
    values = new int[4];
  }

  /** Removes and returns the last element. */
  public int removeLast() {
    return values[--size];
  }

  /** A copy of the elements. */
  public int[] toArray() {
    return Arrays.copyOf(values, size);
  }
}
