package lipsanon.array;

import java.util.BitSet;

/**
 * A set of numbers below a bound, a bit each. For loops over all objects: it has none of the checks
 * of {@link BitSet}, which the quick compiler leaves as calls, and does not grow.
 */
public final class Bits {
  private final long[] words;

  /** Empty; for numbers from 0 up to {@code bound}, that one not included. */
  public Bits(int bound) {
    words = new long[(int) ((long) bound + Long.SIZE - 1 >>> 6)];
  }

  /** A copy of a set, bounded by its greatest number. */
  public Bits(BitSet numbers) {
    words = numbers.toLongArray();
  }

  /** Whether a number is in the set; false beyond the bound. */
  public boolean get(int number) {
    int word = number >>> 6;
    return word < words.length && (words[word] >>> number & 1) != 0;
  }

  /** Puts a number into the set. */
  public void set(int number) {
    words[number >>> 6] |= 1L << number;
  }

  /** Puts a number into the set or takes it out. */
  public void set(int number, boolean in) {
    if (in) {
      set(number);
    } else {
      words[number >>> 6] &= ~(1L << number);
    }
  }
}
