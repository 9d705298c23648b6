package lipsanon.format.nettrace;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import lipsanon.io.CorruptInputException;

/** Reads little-endian values from a part of a buffer that was read from a known place. */
final class Payload {
  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle INT =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle SHORT =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.LITTLE_ENDIAN);

  /** No name is longer; what claims to be is damage. */
  private static final int LONGEST_TEXT = 1 << 16;

  private final String source;
  private byte[] bytes;
  private long base;
  private int at;
  private int end;

  Payload(String source) {
    this.source = source;
  }

  /** Turns to bytes; {@code base} is where the first of the buffer stands in the file. */
  void turnTo(byte[] buffer, long filePosition, int from, int to) {
    bytes = buffer;
    base = filePosition;
    at = from;
    end = to;
  }

  int remaining() {
    return end - at;
  }

  int at() {
    return at;
  }

  byte[] bytes() {
    return bytes;
  }

  /** Where the next byte stands in the file. */
  long position() {
    return base + at;
  }

  void goTo(int place) {
    at = place;
  }

  void need(int count) throws CorruptInputException {
    if (count < 0 || end - at < count) {
      throw new CorruptInputException(
          source, base + at, "an event or block that ends early", count + " more bytes");
    }
  }

  int u1() throws CorruptInputException {
    need(1);
    return bytes[at++] & 0xff;
  }

  int u2() throws CorruptInputException {
    need(Short.BYTES);
    int value = (short) SHORT.get(bytes, at) & 0xffff;
    at += Short.BYTES;
    return value;
  }

  int i4() throws CorruptInputException {
    need(Integer.BYTES);
    int value = (int) INT.get(bytes, at);
    at += Integer.BYTES;
    return value;
  }

  long i8() throws CorruptInputException {
    need(Long.BYTES);
    long value = (long) LONG.get(bytes, at);
    at += Long.BYTES;
    return value;
  }

  /** Seven bits a byte, the low ones first. */
  long varint() throws CorruptInputException {
    long value = 0;
    for (int shift = 0; shift < 70; shift += 7) {
      int next = u1();
      value |= (long) (next & 0x7f) << shift;
      if (next < 0x80) {
        return value;
      }
    }
    throw new CorruptInputException(source, base + at, "a number without end", "10 bytes at most");
  }

  /** Text up to a 16-bit zero. */
  String text() throws CorruptInputException {
    StringBuilder text = new StringBuilder();
    for (int c = u2(); c != 0; c = u2()) {
      if (text.length() == LONGEST_TEXT) {
        throw new CorruptInputException(source, base + at, "a name without end", "a zero");
      }
      text.append((char) c);
    }
    return text.toString();
  }

  void skip(int count) throws CorruptInputException {
    need(count);
    at += count;
  }

  /** A count of entries of so many bytes that must all be there. */
  int entries(int size) throws CorruptInputException {
    int count = i4();
    int room = end - at;
    if (count < 0 || (long) count * size > room) {
      throw new CorruptInputException(
          source, base + at, count + " entries in an event of " + room + " bytes", "fewer");
    }
    return count;
  }

  static long longAt(byte[] bytes, int place) {
    return (long) LONG.get(bytes, place);
  }

  static int intAt(byte[] bytes, int place) {
    return (int) INT.get(bytes, place);
  }
}
