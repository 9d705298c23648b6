package lipsanon.redact;

import java.util.Arrays;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;

/**
 * Finds out whether any of many texts stands somewhere in other bytes. Texts are known by their
 * first four bytes, their length and a hash of 128 bits, 28 bytes each. One thread.
 */
public final class TextTraces {
  /** Shorter ones are not looked for: they stand everywhere by chance. */
  public static final int SHORTEST = 4;

  /** The end of a longer text is not compared. */
  private static final int LONGEST = 1 << 12;

  private final SipHash hash = new SipHash(new byte[SipHash.KEY_BYTES]);
  private final LongIntMap heads = new LongIntMap();
  private final LongIntMap known = new LongIntMap();
  private final IntList next = new IntList();
  private final IntList lengths = new IntList();
  private long[] firsts = new long[64];

  /** With no texts yet. */
  public TextTraces() {}

  /** Adds a text; what is too short, no text or one letter over and over is left out. */
  public void add(byte[] bytes, int from, int to) {
    if (to - from < SHORTEST || !isText(bytes, from, to)) {
      return;
    }
    int end = Math.min(to, from + LONGEST);
    hash.hash(bytes, from, end);
    long print = hash.first();
    if (known.get(print) >= 0) {
      return;
    }
    int number = lengths.size();
    known.put(print, number);
    if (number == firsts.length) {
      firsts = Arrays.copyOf(firsts, 2 * number);
    }
    firsts[number] = print;
    lengths.add(end - from);
    long start = start(bytes, from);
    next.add(heads.get(start));
    heads.put(start, number);
  }

  /** How many different texts are looked for. */
  public long count() {
    return lengths.size();
  }

  /**
   * Where the first of the texts stands.
   *
   * @return -1 if none does
   */
  public int find(byte[] bytes, int from, int to) {
    for (int i = from; i + SHORTEST <= to; i++) {
      int number = heads.get(start(bytes, i));
      for (; number >= 0; number = next.get(number)) {
        int length = lengths.get(number);
        if (length <= to - i && hash.hash(bytes, i, i + length).first() == firsts[number]) {
          return i;
        }
      }
    }
    return -1;
  }

  private static long start(byte[] bytes, int at) {
    return (bytes[at] & 0xffL) << 24
        | (bytes[at + 1] & 0xffL) << 16
        | (bytes[at + 2] & 0xffL) << 8
        | bytes[at + 3] & 0xffL;
  }

  private static boolean isText(byte[] bytes, int from, int to) {
    boolean letters = false;
    boolean differ = false;
    for (int i = from; i < to; i++) {
      int c = bytes[i] & 0xff;
      if (c < ' ' && c != '\n' && c != '\r' && c != '\t' && c != 0 || c == 0x7f) {
        return false;
      }
      letters |= Character.isLetterOrDigit(c) && c < 0x7f;
      differ |= bytes[i] != bytes[from];
    }
    return letters && differ;
  }
}
