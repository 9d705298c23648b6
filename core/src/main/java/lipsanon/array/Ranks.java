package lipsanon.array;

import java.util.BitSet;

/** The position of each number of a set among the numbers of the set, in constant time. */
public final class Ranks {
  private final long[] words;
  private final int[] before;
  private final int count;

  /** Of a set, which must not change afterwards. */
  public Ranks(BitSet set) {
    words = set.toLongArray();
    before = new int[words.length];
    int sum = 0;
    for (int i = 0; i < words.length; i++) {
      before[i] = sum;
      sum += Long.bitCount(words[i]);
    }
    count = sum;
  }

  /** How many numbers the set has. */
  public int count() {
    return count;
  }

  /** Whether a number is in the set. */
  public boolean contains(int number) {
    int word = number >> 6;
    return word < words.length && (words[word] >>> number & 1) != 0;
  }

  /** The position of a number, which must be in the set. */
  public int rank(int number) {
    int word = number >> 6;
    return before[word] + Long.bitCount(words[word] & (1L << number) - 1);
  }
}
