package lipsanon.index;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.zip.CRC32C;

/** A column's file, mapped and checked as far as its header and footer go. */
final class MappedColumn {
  private static final int DEFAULT_SHIFT = 30;

  private final Path path;
  private final ByteBuffer[] pieces;
  private final int shift;
  private final int mask;
  private final long size;
  private final long count;
  private final long directory;
  private final int crc;

  private MappedColumn(Path path, ByteBuffer[] pieces, int shift, long size, int kind, long build)
      throws BrokenIndexException {
    this.path = path;
    this.pieces = pieces;
    this.shift = shift;
    this.mask = (1 << shift) - 1;
    this.size = size;
    if (longAt(ColumnFormat.MAGIC_OFFSET) != ColumnFormat.MAGIC
        || intAt(ColumnFormat.VERSION_OFFSET) != ColumnFormat.VERSION
        || intAt(ColumnFormat.KIND_OFFSET) != kind) {
      throw new BrokenIndexException(path + " is no column of this version and kind");
    }
    if (longAt(ColumnFormat.BUILD_OFFSET) != build) {
      throw new BrokenIndexException(path + " belongs to another build of the index");
    }
    this.count = longAt(ColumnFormat.COUNT_OFFSET);
    byte[] tail = new byte[ColumnFormat.FOOTER_BYTES];
    for (int i = 0; i < tail.length; i++) {
      tail[i] = byteAt(size - tail.length + i);
    }
    ByteBuffer footer = ByteBuffer.wrap(tail).order(ByteOrder.LITTLE_ENDIAN);
    this.directory = footer.getLong();
    this.crc = footer.getInt();
    if (footer.getInt() != ColumnFormat.END
        || directory < ColumnFormat.HEADER_BYTES
        || directory > size - ColumnFormat.FOOTER_BYTES
        || count < 0) {
      throw new BrokenIndexException(path + " has no whole end");
    }
  }

  static MappedColumn open(Path path, int kind, long build) throws IOException {
    return open(path, kind, build, DEFAULT_SHIFT);
  }

  /** With pieces of {@code 1 << shift} bytes: tests meet the piece's edge with small files. */
  static MappedColumn open(Path path, int kind, long build, int shift) throws IOException {
    try (FileChannel channel = FileChannel.open(path, StandardOpenOption.READ)) {
      long size = channel.size();
      if (size < ColumnFormat.HEADER_BYTES + ColumnFormat.FOOTER_BYTES) {
        throw new BrokenIndexException(path + " is cut off");
      }
      long piece = 1L << shift;
      ByteBuffer[] pieces = new ByteBuffer[(int) ((size + piece - 1) / piece)];
      for (int i = 0; i < pieces.length; i++) {
        long from = i * piece;
        pieces[i] =
            channel
                .map(FileChannel.MapMode.READ_ONLY, from, Math.min(piece, size - from))
                .order(ByteOrder.LITTLE_ENDIAN);
      }
      return new MappedColumn(path, pieces, shift, size, kind, build);
    }
  }

  long count() {
    return count;
  }

  long directory() {
    return directory;
  }

  long size() {
    return size;
  }

  /** A long at a position that is a multiple of 8. */
  long longAt(long position) {
    return pieces[(int) (position >>> shift)].getLong((int) position & mask);
  }

  private int intAt(long position) {
    return pieces[(int) (position >>> shift)].getInt((int) position & mask);
  }

  byte byteAt(long position) {
    return pieces[(int) (position >>> shift)].get((int) position & mask);
  }

  /** Reads all and compares the checksum. */
  void check() throws BrokenIndexException {
    CRC32C actual = new CRC32C();
    long left = size - Long.BYTES;
    for (ByteBuffer piece : pieces) {
      ByteBuffer view = piece.duplicate();
      view.limit((int) Math.min(view.limit(), left));
      left -= view.limit();
      actual.update(view);
    }
    if ((int) actual.getValue() != crc) {
      throw new BrokenIndexException(path + " fails its checksum");
    }
  }
}
