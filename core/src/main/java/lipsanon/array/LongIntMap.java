package lipsanon.array;

import java.util.Arrays;
import java.util.SplittableRandom;

/**
 * Longs to non-negative ints, by open addressing. Reads are safe for use by several threads.
 *
 * <p>Keys come from files: where they go depends on a number that each process draws anew, so that
 * no file can be made whose keys all go to one place. They are mixed as by SplitMix64 (Steele, Lea
 * and Flood, "Fast splittable pseudorandom number generators").
 */
public final class LongIntMap {
  private static final long DRAWN = new SplittableRandom().nextLong();

  private long[] keys = new long[32];
  private int[] values = new int[32];
  private int size;

  /** Empty. */
  public LongIntMap() {
    Arrays.fill(values, -1);
  }

  /** The value of a key, or -1. */
  public int get(long key) {
    int mask = keys.length - 1;
    int slot = slot(key, mask);
    while (values[slot] >= 0) {
      if (keys[slot] == key) {
        return values[slot];
      }
      slot = slot + 1 & mask;
    }
    return -1;
  }

  /** Sets the value of a key; the value must not be negative. */
  public void put(long key, int value) {
    if (value < 0) {
      throw new IllegalArgumentException("negative value " + value);
    }
    if (2 * (size + 1) > keys.length) {
      grow();
    }
    int mask = keys.length - 1;
    int slot = slot(key, mask);
    while (values[slot] >= 0 && keys[slot] != key) {
      slot = slot + 1 & mask;
    }
    if (values[slot] < 0) {
      size++;
    }
    keys[slot] = key;
    values[slot] = value;
  }

  /** The number of keys. */
  public int size() {
    return size;
  }

  private void grow() {
    long[] oldKeys = keys;
    int[] oldValues = values;
    keys = new long[oldKeys.length * 2];
    values = new int[oldKeys.length * 2];
    Arrays.fill(values, -1);
    size = 0;
    for (int i = 0; i < oldKeys.length; i++) {
      if (oldValues[i] >= 0) {
        put(oldKeys[i], oldValues[i]);
      }
    }
  }

  private static int slot(long key, int mask) {
    long mixed = key ^ DRAWN;
    mixed = (mixed ^ mixed >>> 30) * 0xbf58476d1ce4e5b9L;
    mixed = (mixed ^ mixed >>> 27) * 0x94d049bb133111ebL;
    return (int) (mixed >>> 31) & mask;
  }
}
