package lipsanon.io;

import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/**
 * A moving view of a {@link ByteSource}, for reading big-endian values one after another.
 *
 * <p>Callers ask with {@link #need} for as many bytes as the next values take; the getters then
 * read from memory without a further look at the source. One window serves one thread.
 */
public final class Window {
  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle INT =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle SHORT =
      MethodHandles.byteArrayViewVarHandle(short[].class, ByteOrder.BIG_ENDIAN);

  /** Bytes that a window holds unless a single value asks for more. */
  public static final int DEFAULT_CAPACITY = 1 << 19;

  private final ByteSource source;
  private byte[] bytes;
  private int at;
  private int limit;
  private long base;
  private long end;

  /** A window over the whole source. */
  public Window(ByteSource source) {
    this(source, DEFAULT_CAPACITY);
  }

  /** A window with a chosen capacity in bytes, at least 64. */
  public Window(ByteSource source, int capacity) {
    this.source = source;
    this.bytes = new byte[Math.max(64, capacity)];
    this.end = source.size();
  }

  /** Goes to a position; nothing at or after {@code end} will be read. */
  public void seek(long position, long end) {
    this.end = Math.min(end, source.size());
    if (position >= base && position <= base + limit) {
      at = (int) (position - base);
      limit = (int) Math.min(limit, Math.max(0, this.end - base));
      if (at > limit) {
        at = limit;
      }
    } else {
      base = position;
      at = 0;
      limit = 0;
    }
  }

  /** The position of the next byte. */
  public long position() {
    return base + at;
  }

  /** Bytes up to the end that was set. */
  public long remaining() {
    return end - base - at;
  }

  /** The end that was set, or that of the source. */
  public long end() {
    return end;
  }

  /**
   * Makes sure that the next {@code count} bytes are in memory.
   *
   * @throws TruncatedInputException if fewer remain before the end
   */
  public void need(int count) throws IOException {
    if (limit - at < count) {
      refill(count);
    }
  }

  private void refill(int count) throws IOException {
    if (count < 0 || remaining() < count) {
      throw new TruncatedInputException(source.name(), end, "the rest of a record");
    }
    int kept = limit - at;
    byte[] target = count > bytes.length ? new byte[count] : bytes;
    System.arraycopy(bytes, at, target, 0, kept);
    bytes = target;
    base += at;
    at = 0;
    int wanted = (int) Math.min(bytes.length - kept, end - base - kept);
    int got = source.read(base + kept, bytes, kept, wanted);
    limit = kept + got;
    if (limit < count) {
      throw new TruncatedInputException(source.name(), base + limit, "the rest of a record");
    }
  }

  /** Passes over {@code count} bytes, which need not be in memory. */
  public void skip(long count) throws IOException {
    if (count < 0 || count > remaining()) {
      throw new TruncatedInputException(source.name(), end, "the rest of a record");
    }
    if (count <= limit - at) {
      at += (int) count;
    } else {
      base += at + count;
      at = 0;
      limit = 0;
    }
  }

  /**
   * The bytes in memory, for loops that read them by place: valid from {@link #begin} to {@link
   * #limit} until the window moves.
   */
  public byte[] bytes() {
    return bytes;
  }

  /** Where the next byte stands in {@link #bytes}. */
  public int begin() {
    return at;
  }

  /** Where the bytes in memory end in {@link #bytes}. */
  public int limit() {
    return limit;
  }

  /** Goes on at a place in {@link #bytes}, at most its limit. */
  public void goTo(int place) {
    at = place;
  }

  /** Eight bytes at a place. */
  public static long longAt(byte[] bytes, int place) {
    return (long) LONG.get(bytes, place);
  }

  /** Four bytes at a place. */
  public static int intAt(byte[] bytes, int place) {
    return (int) INT.get(bytes, place);
  }

  /** The next byte, 0 to 255. */
  public int u1() {
    return bytes[at++] & 0xff;
  }

  /** The next two bytes, 0 to 65,535. */
  public int u2() {
    int value = (short) SHORT.get(bytes, at) & 0xffff;
    at += 2;
    return value;
  }

  /** The next four bytes. */
  public int i4() {
    int value = (int) INT.get(bytes, at);
    at += 4;
    return value;
  }

  /** The next four bytes, unsigned. */
  public long u4() {
    return i4() & 0xffffffffL;
  }

  /** The next eight bytes. */
  public long i8() {
    long value = (long) LONG.get(bytes, at);
    at += 8;
    return value;
  }

  /** An eight-byte value {@code offset} bytes ahead, without moving. */
  public long peekLong(int offset) {
    return (long) LONG.get(bytes, at + offset);
  }

  /** An unsigned four-byte value {@code offset} bytes ahead, without moving. */
  public long peekUnsignedInt(int offset) {
    return (int) INT.get(bytes, at + offset) & 0xffffffffL;
  }

  /** A byte {@code offset} bytes ahead, without moving. */
  public byte peekByte(int offset) {
    return bytes[at + offset];
  }

  /** A two-byte value {@code offset} bytes ahead, without moving. */
  public short peekShort(int offset) {
    return (short) SHORT.get(bytes, at + offset);
  }

  /** Copies the next bytes. */
  public void copy(byte[] target, int offset, int length) {
    System.arraycopy(bytes, at, target, offset, length);
    at += length;
  }
}
