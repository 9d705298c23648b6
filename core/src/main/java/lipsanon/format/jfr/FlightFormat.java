package lipsanon.format.jfr;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;

/**
 * What has to be right in a recording before the JDK's own reader may have it, since that loops for
 * ever where the size of a chunk is 0. A file is a row of chunks, all numbers big-endian:
 *
 * <pre>
 * Chunk --> "FLR" 0, major u2, minor u2, size i8, constants i8, metadata i8, begin-nanos i8,
 *           duration-nanos i8, begin-ticks i8, ticks-a-second i8, features i4, events
 * </pre>
 *
 * The size counts from the chunk's first byte; constants and metadata are places within it. A chunk
 * that is still being written has the size 0.
 */
public final class FlightFormat {
  static final int HEADER_BYTES = 68;
  static final int SIZE_OFFSET = 8;
  static final int CONSTANTS_OFFSET = SIZE_OFFSET + Long.BYTES;
  static final int METADATA_OFFSET = CONSTANTS_OFFSET + Long.BYTES;
  private static final int MAGIC = 0x464c5200;

  private FlightFormat() {}

  /** Whether a file that begins with these bytes is one. */
  public static boolean matches(byte[] head) {
    return head.length >= Integer.BYTES && ByteBuffer.wrap(head).getInt() == MAGIC;
  }

  /**
   * Goes through the chunks' headers.
   *
   * @return the number of chunks that are whole
   * @throws CorruptInputException if a header is no header
   * @throws TruncatedInputException if not even the first chunk is whole
   */
  public static int check(Path file) throws IOException {
    String name = file.toString();
    try (FileChannel channel = FileChannel.open(file)) {
      long length = channel.size();
      long at = 0;
      int chunks = 0;
      ByteBuffer header = ByteBuffer.allocate(HEADER_BYTES);
      while (at < length) {
        header.clear();
        while (header.hasRemaining() && channel.read(header, at + header.position()) > 0) {
          continue;
        }
        if (header.hasRemaining()) {
          throw new TruncatedInputException(name, at, "the header of a chunk");
        }
        if (header.getInt(0) != MAGIC) {
          throw new CorruptInputException(name, at, "no chunk", "the header of a chunk");
        }
        long size = header.getLong(SIZE_OFFSET);
        if (size < HEADER_BYTES) {
          throw new CorruptInputException(
              name, at, "a chunk of " + size + " bytes", "a finished chunk");
        }
        if (size > length - at) {
          throw new TruncatedInputException(name, length, "the rest of a chunk");
        }
        place(name, at, "constants", header.getLong(CONSTANTS_OFFSET), size);
        place(name, at, "metadata", header.getLong(METADATA_OFFSET), size);
        at += size;
        chunks++;
      }
      return chunks;
    }
  }

  private static void place(String name, long at, String what, long place, long size)
      throws CorruptInputException {
    if (place < HEADER_BYTES || place >= size) {
      throw new CorruptInputException(
          name, at, what + " at " + place + " of a chunk of " + size, "a place within the chunk");
    }
  }
}
