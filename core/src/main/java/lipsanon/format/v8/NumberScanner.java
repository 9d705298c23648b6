package lipsanon.format.v8;

import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;

/**
 * Reads the whole numbers of a flat JSON array one after another: what most of a snapshot consists
 * of. A general parser takes more than twice as long for them. One thread.
 */
final class NumberScanner {
  /** The array has ended. Elements may be negative, but not that small. */
  static final long END = Long.MIN_VALUE;

  private static final int BUFFER = 1 << 18;
  private static final int LONGEST_NUMBER = 18;
  private static final int LONGEST_WITH_GAP = LONGEST_NUMBER + 2;

  /** Eight bytes at once, the first of them lowest. */
  private static final VarHandle WORDS =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);

  private static final long ZEROS = 0x3030_3030_3030_3030L;

  /**
   * Added to a byte from 0 to 127, makes its highest bit that of "above nine". A byte that carries
   * stands behind one that is above nine itself.
   */
  private static final long ABOVE_NINE = 0x7676_7676_7676_7676L;

  private static final long HIGH_BITS = 0x8080_8080_8080_8080L;
  private static final long ONES = 0x0101_0101_0101_0101L;
  private static final long EIGHTS = 8 * ONES;
  private static final long EVERY_FOURTH = 0x0000_00ff_0000_00ffL;
  private static final long FIRST_WEIGHTS = 100 + (1_000_000L << 32);
  private static final long SECOND_WEIGHTS = 1 + (10_000L << 32);

  private final ByteSource source;
  private final byte[] bytes;
  private long base;
  private int at;
  private int limit;

  /** Begins behind the opening bracket, or at any element. */
  NumberScanner(ByteSource source, long position) {
    this(source, position, BUFFER);
  }

  /** With a buffer of a chosen size, for few numbers at many places. */
  NumberScanner(ByteSource source, long position, int buffer) {
    this.source = source;
    this.bytes = new byte[buffer];
    this.base = position;
  }

  /** Goes elsewhere. */
  void seek(long position) {
    if (position >= base && position <= base + limit) {
      at = (int) (position - base);
    } else {
      base = position;
      at = 0;
      limit = 0;
    }
  }

  /** Where the next number (or what stands before it) begins. */
  long position() {
    return base + at;
  }

  /** Passes over white space and one comma, so that {@link #position} is that of a number. */
  void toNumber() throws IOException {
    while (at < limit || fill()) {
      byte c = bytes[at];
      if (c > ' ' && c != ',') {
        return;
      }
      at++;
    }
    throw cut();
  }

  /** Goes behind the next comma, wherever the scanner stands now. */
  void toComma() throws IOException {
    while (at < limit || fill()) {
      if (bytes[at++] == ',') {
        return;
      }
    }
    throw cut();
  }

  /** The next number, or {@link #END} behind the last one. */
  long next() throws IOException {
    // most numbers stand far from the buffer's end, and few bytes stand between them
    final byte[] b = bytes;
    int i = at;
    final int safe = limit - LONGEST_NUMBER - 2;
    while (i < safe && (b[i] == ',' || b[i] <= ' ')) {
      i++;
    }
    if (i < safe) {
      final int begin = i;
      long value = 0;
      int digit = b[i] - '0';
      while (digit >= 0 && digit <= 9 && i - begin < LONGEST_NUMBER) {
        value = value * 10 + digit;
        digit = b[++i] - '0';
      }
      if (i > begin && (b[i] == ',' || b[i] == '\n' || b[i] == ']')) {
        at = i;
        return value;
      }
      at = begin;
    }
    return careful();
  }

  /** The next numbers, one for each place of a row; all must be there. */
  void row(long[] row) throws IOException {
    final byte[] b = bytes;
    final int width = row.length;
    int i = at;
    // a row that stands wholly in the buffer, of numbers with commas and line ends between them
    if (limit - i > width * LONGEST_WITH_GAP + 2 * Long.BYTES) {
      // a comma and the end of a line at most, so that all of this stays in the buffer
      for (int gap = 0; gap < 2 && (b[i] == ',' || b[i] == '\n'); gap++) {
        i++;
      }
      for (int filled = 0; ; ) {
        byte behind = b[i + 1];
        long value = b[i] - '0';
        if (behind == ',' && value >= 0 && value <= 9) {
          i++;
        } else {
          // eight bytes at a time: where digits end cannot be foretold, so that a loop over them
          // costs more than all of this
          long word = (long) WORDS.get(b, i);
          long digits = word ^ ZEROS;
          long others = (digits + ABOVE_NINE | digits) & HIGH_BITS;
          // the lowest of these bits, counted in bytes
          long below = (others & -others) - 1 >>> 7;
          int bits = (int) ((below & ONES) * EIGHTS >>> 56);
          if (bits == 0) {
            break;
          }
          value = eight(digits << -bits);
          i += bits >>> 3;
          behind = (byte) (word >>> bits);
          if (bits == Long.SIZE) {
            int digit = b[i] - '0';
            final int stop = i + LONGEST_NUMBER - Long.BYTES;
            while (digit >= 0 && digit <= 9 && i < stop) {
              value = value * 10 + digit;
              digit = b[++i] - '0';
            }
            behind = b[i];
          }
        }
        row[filled++] = value;
        if (filled == width) {
          if (behind != ',' && behind != '\n' && behind != ']') {
            break;
          }
          at = i;
          return;
        }
        if (behind != ',') {
          break;
        }
        i++;
      }
    }
    // anything else is read again, with care
    for (int n = 0; n < width; n++) {
      row[n] = need();
    }
  }

  /**
   * The number of eight digits, the first in the lowest byte: pairs of neighbours are put together,
   * then pairs of these, then both halves.
   */
  private static long eight(long digits) {
    long pairs = digits * 10 + (digits >>> 8);
    return (pairs & EVERY_FOURTH) * FIRST_WEIGHTS + (pairs >>> 16 & EVERY_FOURTH) * SECOND_WEIGHTS
        >>> 32;
  }

  /** The same near the buffer's end, and for all that is not plainly a number. */
  private long careful() throws IOException {
    toNumber();
    int c = bytes[at];
    if (c == ']') {
      return END;
    }
    boolean negative = c == '-';
    if (negative) {
      at++;
    }
    long begin = base + at;
    long value = 0;
    while (at < limit || fill()) {
      c = bytes[at];
      int digit = c - '0';
      if (digit < 0 || digit > 9) {
        break;
      }
      value = value * 10 + digit;
      at++;
    }
    long length = base + at - begin;
    if (length == 0 || length > LONGEST_NUMBER || c > ' ' && c != ',' && c != ']') {
      throw wrong(c);
    }
    return negative ? -value : value;
  }

  /** The next number, which must be there. */
  long need() throws IOException {
    long value = next();
    if (value == END) {
      throw new CorruptInputException(source.name(), position(), "the end of a list", "a number");
    }
    return value;
  }

  /** Passes over so many numbers, which must be there. */
  void skip(long count) throws IOException {
    for (long i = 0; i < count; i++) {
      need();
    }
  }

  /** Refuses more numbers than {@code count} says; the scanner stands behind the last of these. */
  void checkEnd(String count) throws IOException {
    if (next() != END) {
      throw new CorruptInputException(
          source.name(), position(), "more numbers than " + count + " says", "the list's end");
    }
  }

  private boolean fill() throws IOException {
    base += at;
    at = 0;
    limit = Math.max(0, source.read(base, bytes, 0, bytes.length));
    if (limit == 0) {
      throw cut();
    }
    return true;
  }

  private TruncatedInputException cut() {
    return new TruncatedInputException(source.name(), base + at, "the rest of a list of numbers");
  }

  private CorruptInputException wrong(int c) {
    String found = c >= ' ' && c < 0x7f ? "'" + (char) c + "'" : "byte " + (c & 0xff);
    return new CorruptInputException(source.name(), base + at, found, "a whole number");
  }
}
