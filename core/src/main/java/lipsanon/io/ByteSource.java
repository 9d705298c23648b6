package lipsanon.io;

import java.io.Closeable;
import java.io.IOException;

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
}
