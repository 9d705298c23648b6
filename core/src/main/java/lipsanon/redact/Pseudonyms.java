package lipsanon.redact;

import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.HashMap;
import java.util.Map;

/**
 * What stands in place of contents, of the same length. Either one filler for all, or (where
 * equality is kept) something that is the same for the same contents and another for others, and
 * that tells nothing of them to whoever lacks the key:
 *
 * <ul>
 *   <li>up to 3 bytes: a permutation of all values of that length, chosen by the key;
 *   <li>4 to 16 bytes: a number given out in the order of appearance, in digits from 0x80 to 0xbf;
 *   <li>beyond: digits drawn from a keyed hash of 128 bits.
 * </ul>
 *
 * Such digits never form a text of plain letters, nor half a character where two bytes make one.
 * Keeps some 60 bytes for each different content of 4 to 16 bytes. One thread.
 */
public final class Pseudonyms {
  /** What fills texts, one byte a character or two. */
  public static final char FILLER = '*';

  private static final int SHORT = 3;
  private static final int NUMBERED = 16;
  private static final int DIGIT_BITS = 6;
  private static final int DIGITS = (1 << DIGIT_BITS) - 1;
  private static final int HIGH = 0x80;
  private static final long GOLDEN = 0x9e3779b97f4a7c15L;

  private final SipHash hash;

  /** By length: how often a number was given out, and to what. */
  private final Map<String, Long> numbers = new HashMap<>();

  private final long[] given = new long[NUMBERED + 1];

  /**
   * Of one kind or the other.
   *
   * @param key of {@link SipHash#KEY_BYTES}; null for a filler
   */
  public Pseudonyms(byte[] key) {
    this.hash = key == null ? null : new SipHash(key);
  }

  /** Whether equal contents get equal pseudonyms, and others other ones. */
  public boolean keepEquality() {
    return hash != null;
  }

  /** Replaces contents that are no text by zeros, or by what keeps equality. */
  public void values(byte[] bytes, int from, int to) {
    if (hash == null) {
      Arrays.fill(bytes, from, to, (byte) 0);
    } else {
      keyed(bytes, from, to);
    }
  }

  /** Replaces contents that may be a text. */
  public void text(byte[] bytes, int from, int to) {
    if (hash == null) {
      Arrays.fill(bytes, from, to, (byte) FILLER);
    } else {
      keyed(bytes, from, to);
    }
  }

  /** Replaces a number of up to 8 bytes: any other number of that width may come out. */
  public long number(long value, int bytes) {
    if (hash == null) {
      return 0;
    }
    int bits = 8 * bytes;
    return bits >= 64 ? permuted(value, 64) : permuted(value & (1L << bits) - 1, bits);
  }

  /** Replaces the letters of a text; the rest of its length stays. */
  public String text(String text) {
    if (hash == null) {
      return String.valueOf(FILLER).repeat(text.length());
    }
    if (text.isEmpty()) {
      return text;
    }
    if (text.length() == 1) {
      return String.valueOf((char) permuted(text.charAt(0), Character.SIZE));
    }
    byte[] bytes = text.getBytes(StandardCharsets.UTF_16LE);
    if (text.length() <= 2 * SHORT) {
      // few digits: numbers are enough for all that can differ
      return digits(number(text, text.length()), text.length());
    }
    hash.hash(bytes, 0, bytes.length);
    return drawn(text.length());
  }

  private void keyed(byte[] bytes, int from, int to) {
    int length = to - from;
    if (length <= SHORT) {
      long value = 0;
      for (int i = from; i < to; i++) {
        value = value << 8 | bytes[i] & 0xff;
      }
      value = length == 0 ? 0 : permuted(value, 8 * length);
      for (int i = to - 1; i >= from; i--) {
        bytes[i] = (byte) value;
        value >>>= 8;
      }
      return;
    }
    if (length <= NUMBERED) {
      String key = new String(bytes, from, length, StandardCharsets.ISO_8859_1);
      long number = number(key, length);
      for (int i = to - 1; i >= from; i--) {
        bytes[i] = (byte) (HIGH | number & DIGITS);
        number >>>= DIGIT_BITS;
      }
      return;
    }
    hash.hash(bytes, from, to);
    long state = hash.first();
    long other = hash.second();
    for (int i = from; i < to; i++) {
      state += GOLDEN;
      bytes[i] = (byte) (mixed(state ^ Long.rotateLeft(other, i - from)) & DIGITS | HIGH);
    }
  }

  private long number(String contents, int length) {
    Long known = numbers.get(contents);
    if (known == null) {
      known = given[length]++;
      numbers.put(contents, known);
    }
    return known;
  }

  /** Characters that no script uses: the private ones of Unicode's first plane. */
  private static String digits(long number, int length) {
    char[] text = new char[length];
    long rest = number;
    for (int i = length - 1; i >= 0; i--) {
      text[i] = (char) ('\ue000' + (int) (rest & 0xfff));
      rest >>>= 12;
    }
    return new String(text);
  }

  private String drawn(int length) {
    char[] text = new char[length];
    long state = hash.first();
    long other = hash.second();
    for (int i = 0; i < length; i++) {
      state += GOLDEN;
      text[i] = (char) ('\ue000' + (int) (mixed(state ^ Long.rotateLeft(other, i)) & 0xfff));
    }
    return new String(text);
  }

  /** A permutation of the numbers of some bits, chosen by the key: four Feistel-like rounds. */
  private long permuted(long value, int bits) {
    long mask = bits == 64 ? -1L : (1L << bits) - 1;
    int half = Math.max(1, bits / 2);
    byte[] round = new byte[2];
    long x = value;
    for (int r = 0; r < 4; r++) {
      round[0] = (byte) r;
      round[1] = (byte) bits;
      hash.hash(round, 0, round.length);
      // each step can be undone: adding, multiplying by an odd number, folding the upper half in
      x = x + hash.first() & mask;
      x = x * (hash.second() | 1) & mask;
      x ^= x >>> half;
    }
    return x;
  }

  /** The finalizer of SplitMix64 (G. Steele, D. Lea, C. Flood, 2014). */
  private static long mixed(long state) {
    long z = (state ^ state >>> 30) * 0xbf58476d1ce4e5b9L;
    z = (z ^ z >>> 27) * 0x94d049bb133111ebL;
    return z ^ z >>> 31;
  }
}
