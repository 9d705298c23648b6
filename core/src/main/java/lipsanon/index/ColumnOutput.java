package lipsanon.index;

import java.io.Closeable;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;
import java.util.zip.CRC32C;

/**
 * Sequential output of one file with a running checksum. Files are readable by their owner only.
 */
final class ColumnOutput implements Closeable {
  private final FileChannel channel;
  private final Path file;
  private final ByteBuffer buffer = ByteBuffer.allocate(1 << 18).order(ByteOrder.LITTLE_ENDIAN);
  private final CRC32C crc = new CRC32C();
  private final CRC32C pieceCrc = new CRC32C();
  private int[] sums = new int[64];
  private int sumCount;

  /** Bytes of the piece so far; negative once all are summed. */
  private int pieceSize;

  private long flushed;

  ColumnOutput(Path path, int kind, long build, long count) throws IOException {
    this.channel = create(path);
    this.file = path;
    buffer.putLong(ColumnFormat.MAGIC);
    buffer.putInt(ColumnFormat.VERSION);
    buffer.putInt(kind);
    buffer.putLong(build);
    buffer.putLong(count);
  }

  /** A new file of mode 0600 where the file system knows modes. */
  static FileChannel create(Path path) throws IOException {
    Set<StandardOpenOption> options =
        Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
    if (path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      return FileChannel.open(
          path,
          options,
          PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    }
    return FileChannel.open(path, options);
  }

  long position() {
    return flushed + buffer.position();
  }

  void putLong(long value) throws IOException {
    if (buffer.remaining() < Long.BYTES) {
      flush();
    }
    buffer.putLong(value);
  }

  /** The first {@code count} of the values. */
  void putLongs(long[] values, int count) throws IOException {
    for (int done = 0; done < count; ) {
      int room = buffer.remaining() / Long.BYTES;
      if (room == 0) {
        flush();
        room = buffer.remaining() / Long.BYTES;
      }
      int now = Math.min(room, count - done);
      buffer.asLongBuffer().put(values, done, now);
      buffer.position(buffer.position() + now * Long.BYTES);
      done += now;
    }
  }

  /** The first {@code count} of the bytes. */
  void putBytes(byte[] bytes, int count) throws IOException {
    for (int done = 0; done < count; ) {
      if (!buffer.hasRemaining()) {
        flush();
      }
      int now = Math.min(buffer.remaining(), count - done);
      buffer.put(bytes, done, now);
      done += now;
    }
  }

  /** Writes the checksums and the footer, and brings the file to the disk. */
  void finish(long directory) throws IOException {
    long sumsAt = position() + 7 & ~7L;
    while (position() < sumsAt) {
      putBytes(new byte[1], 1);
    }
    flush();
    if (pieceSize > 0) {
      endPiece();
    }
    int[] sums = this.sums;
    int count = sumCount;
    pieceSize = -1;
    for (int i = 0; i < count + (count & 1); i += 2) {
      long high = i + 1 < count ? sums[i + 1] : 0;
      putLong(high << 32 | sums[i] & 0xffffffffL);
    }
    putLong(directory);
    putLong(sumsAt);
    flush();
    ByteBuffer tail = ByteBuffer.allocate(8).order(ByteOrder.LITTLE_ENDIAN);
    tail.putInt((int) crc.getValue()).putInt(ColumnFormat.END).flip();
    while (tail.hasRemaining()) {
      channel.write(tail);
    }
    channel.force(true);
  }

  private void flush() throws IOException {
    buffer.flip();
    crc.update(buffer.duplicate());
    sumPieces(buffer.duplicate());
    flushed += buffer.remaining();
    while (buffer.hasRemaining()) {
      channel.write(buffer);
    }
    buffer.clear();
  }

  /** Each piece of the file has a checksum of its own, so that what is read can be verified. */
  private void sumPieces(ByteBuffer bytes) {
    while (pieceSize >= 0 && bytes.hasRemaining()) {
      int now = Math.min(bytes.remaining(), ColumnFormat.PIECE - pieceSize);
      ByteBuffer part = bytes.duplicate();
      part.limit(part.position() + now);
      pieceCrc.update(part);
      bytes.position(bytes.position() + now);
      pieceSize += now;
      if (pieceSize == ColumnFormat.PIECE) {
        endPiece();
      }
    }
  }

  private void endPiece() {
    if (sumCount == sums.length) {
      sums = java.util.Arrays.copyOf(sums, sumCount * 2);
    }
    sums[sumCount++] = (int) pieceCrc.getValue();
    pieceCrc.reset();
    pieceSize = 0;
  }

  @Override
  public String toString() {
    return file.toString();
  }

  @Override
  public void close() throws IOException {
    channel.close();
  }
}
