package lipsanon.format.v8;

import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.Arrays;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;

/**
 * A flat list of very many numbers that was looked over up to its end: how many commas stand before
 * each of its pieces, so that reading can begin in the middle.
 */
final class NumberList {
  static final int PIECE = 1 << 19;

  private static final VarHandle WORDS =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.nativeOrder());
  private static final long ONES = 0x0101_0101_0101_0101L;
  private static final long LOW_BITS = 0x7f * ONES;
  private static final long COMMAS = ',' * ONES;

  /** Digits, commas, signs and white space have none of these bits; brackets have one. */
  private static final long ABOVE = 0xc0 * ONES;

  /** Bytes whose commas are counted at once: no byte of the count overflows. */
  private static final int RUN = 128 * Long.BYTES;

  private final ByteSource source;
  private final long begin;
  private long[] commasBefore = new long[64];
  private int pieces;

  /** Where the closing bracket stands. */
  private long end;

  private NumberList(ByteSource source, long begin) {
    this.source = source;
    this.begin = begin;
  }

  /**
   * A place in the list.
   *
   * @param position in the file, of a number or of what stands before it
   * @param number how many numbers stand before it
   */
  record Place(long position, long number) {}

  /** Looks a list over; {@code begin} is where its first number may stand. */
  static NumberList scan(ByteSource source, long begin) throws IOException {
    NumberList list = new NumberList(source, begin);
    list.scan();
    return list;
  }

  long end() {
    return end;
  }

  /** How many pieces there are; at least one. */
  int pieces() {
    return pieces;
  }

  /** The first place that can be told in a piece; its first comma must not be the list's last. */
  Place place(int piece) throws IOException {
    if (piece == 0) {
      return new Place(begin, 0);
    }
    NumberScanner in = new NumberScanner(source, begin + (long) piece * PIECE, 64);
    in.toComma();
    return new Place(in.position(), commasBefore[piece] + 1);
  }

  /** The last piece that has no more than so many numbers before it. */
  int pieceBefore(long number) {
    int at = Arrays.binarySearch(commasBefore, 0, pieces, number);
    return at >= 0 ? at : Math.max(0, -at - 2);
  }

  /**
   * Refuses a list whose numbers and commas do not match: the place where one part of it ends must
   * be that where the next one begins.
   */
  static void checkJoint(ByteSource source, long end, long beginning) throws CorruptInputException {
    if (end != beginning) {
      throw new CorruptInputException(
          source.name(), end, "more commas than numbers before it", "one between two numbers");
    }
  }

  private void scan() throws IOException {
    byte[] bytes = new byte[PIECE];
    long commas = 0;
    for (long at = begin; ; ) {
      int got = source.read(at, bytes, 0, bytes.length);
      if (got <= 0) {
        throw new TruncatedInputException(
            source.name(), source.size(), "the rest of the snapshot (names of types come last)");
      }
      if (pieces == commasBefore.length) {
        commasBefore = Arrays.copyOf(commasBefore, pieces * 2);
      }
      commasBefore[pieces++] = commas;
      for (int i = 0, stop; i < got; i = stop) {
        stop = Math.min(got, i + RUN);
        int plain = plainCommas(bytes, i, stop);
        if (plain >= 0) {
          commas += plain;
          continue;
        }
        for (int k = i; k < stop; k++) {
          if (bytes[k] == ']') {
            end = at + k;
            return;
          }
          commas += bytes[k] == ',' ? 1 : 0;
        }
      }
      at += got;
    }
  }

  /**
   * The commas in a run, or -1 if it is no whole one or holds more than numbers: eight bytes at a
   * time, since this looks at nearly the whole file. In words whose bytes are below 0x40, one that
   * is not zero carries into its highest bit (H. Warren, "Hacker's Delight", section 6-1).
   */
  private static int plainCommas(byte[] bytes, int from, int to) {
    if (to - from != RUN) {
      return -1;
    }
    long all = 0;
    long others = 0;
    for (int i = from; i < to; i += Long.BYTES) {
      long word = (long) WORDS.get(bytes, i);
      all |= word;
      others += (word ^ COMMAS) + LOW_BITS >>> 7 & ONES;
    }
    if ((all & ABOVE) != 0) {
      return -1;
    }
    long pairs = (others & 0x00ff_00ff_00ff_00ffL) + (others >>> 8 & 0x00ff_00ff_00ff_00ffL);
    return RUN - (int) (pairs * 0x0001_0001_0001_0001L >>> 48);
  }
}
