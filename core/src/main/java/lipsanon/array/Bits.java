package lipsanon.array;

import java.util.BitSet;

/**
 * A set of numbers below a bound, a bit each. For loops over all objects: it has none of the checks
 * of {@link BitSet}, which the quick compiler leaves as calls, and does not grow.
 */
public final class Bits {
  private static final int DE_BRUIJN = 0x077cb531;
  private static final byte[] PLACES = places();

  private final long[] words;

  private static byte[] places() {
    byte[] places = new byte[Integer.SIZE];
    for (int i = 0; i < places.length; i++) {
      places[(1 << i) * DE_BRUIJN >>> 27] = (byte) i;
    }
    return places;
  }

  /**
   * The place of the lowest bit of a word other than 0, by a sequence of de Bruijn: any five bits
   * of it are others. The library's method is a call under the quick compiler.
   */
  public static int lowest(int word) {
    return PLACES[(word & -word) * DE_BRUIJN >>> 27];
  }

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

  /** The least number of the set that is not below {@code from}; -1 if there is none. */
  public int next(int from) {
    final long[] words = this.words;
    int at = from >>> 6;
    long word = at < words.length ? words[at] & -1L << from : 0;
    while (word == 0) {
      if (++at >= words.length) {
        return -1;
      }
      word = words[at];
    }
    int low = (int) word;
    return at * Long.SIZE
        + (low != 0 ? lowest(low) : Integer.SIZE + lowest((int) (word >>> Integer.SIZE)));
  }

  /** Puts a number into the set. */
  public void set(int number) {
    words[number >>> 6] |= 1L << number;
  }
}
