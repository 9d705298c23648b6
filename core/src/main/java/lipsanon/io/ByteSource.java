package lipsanon.io;

import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;

/** Random access to the (uncompressed) bytes of a snapshot. Safe for use by several threads. */
public interface ByteSource extends Closeable {
  /** The name that messages use. */
  String name();

  /** Length in bytes, uncompressed. */
  long size();

  /**
   * Reads up to {@code length} bytes at {@code position}.
   *
   * @return the count of bytes read; fewer than asked for only at the end, where it may be 0
   * @throws IOException if the file cannot be read
   */
  int read(long position, byte[] target, int offset, int length) throws IOException;

  /**
   * Reads as many bytes as the target has room for; the same, for memory outside the heap.
   *
   * @return the count of bytes read, which the target's position has moved by
   */
  default int read(long position, ByteBuffer target) throws IOException {
    byte[] bytes = new byte[target.remaining()];
    int got = read(position, bytes, 0, bytes.length);
    target.put(bytes, 0, got);
    return got;
  }
}
