package lipsanon.index;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.LongBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.zip.CRC32C;

/** A column's file, mapped and checked as far as its header and footer go. */
final class MappedColumn {
  private static final int DEFAULT_SHIFT = 30;

  private final Path path;
  private final ByteBuffer[] pieces;

  /** The same as longs. */
  private final LongBuffer[] words;

  private final int shift;
  private final int mask;
  private final long size;
  private final long count;
  private final long directory;
  private final long sums;
  private final int crc;

  /** By piece: whether it was verified. Two threads may both do it, which harms nothing. */
  private final boolean[] verified;

  private MappedColumn(Path path, ByteBuffer[] pieces, int shift, long size, int kind, long build)
      throws BrokenIndexException {
    this.path = path;
    this.pieces = pieces;
    this.words = new LongBuffer[pieces.length];
    for (int i = 0; i < pieces.length; i++) {
      words[i] = pieces[i].asLongBuffer();
    }
    this.shift = shift;
    this.mask = (1 << shift) - 1;
    this.size = size;
    this.verified = new boolean[(int) (size >>> ColumnFormat.PIECE_SHIFT) + 1];
    if (rawLong(ColumnFormat.MAGIC_OFFSET) != ColumnFormat.MAGIC
        || intAt(ColumnFormat.VERSION_OFFSET) != ColumnFormat.VERSION
        || intAt(ColumnFormat.KIND_OFFSET) != kind) {
      throw new BrokenIndexException(path + " is no column of this version and kind");
    }
    if (rawLong(ColumnFormat.BUILD_OFFSET) != build) {
      throw new BrokenIndexException(path + " belongs to another build of the index");
    }
    this.count = rawLong(ColumnFormat.COUNT_OFFSET);
    byte[] tail = new byte[ColumnFormat.FOOTER_BYTES];
    for (int i = 0; i < tail.length; i++) {
      tail[i] = rawByte(size - tail.length + i);
    }
    ByteBuffer footer = ByteBuffer.wrap(tail).order(ByteOrder.LITTLE_ENDIAN);
    this.directory = footer.getLong();
    this.sums = footer.getLong();
    this.crc = footer.getInt();
    if (footer.getInt() != ColumnFormat.END
        || directory < ColumnFormat.HEADER_BYTES
        || directory > sums
        || sums > size - ColumnFormat.FOOTER_BYTES
        || (sums & 7) != 0
        || size - ColumnFormat.FOOTER_BYTES - sums
            < 4 * (sums + ColumnFormat.PIECE - 1 >>> ColumnFormat.PIECE_SHIFT)
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

  /** Where the checksums begin: data end there. */
  long sums() {
    return sums;
  }

  /** A long at a position that is a multiple of 8. */
  long longAt(long position) {
    if (!verified[(int) (position >>> ColumnFormat.PIECE_SHIFT)]) {
      verify((int) (position >>> ColumnFormat.PIECE_SHIFT));
    }
    return pieces[(int) (position >>> shift)].getLong((int) position & mask);
  }

  /** So many longs from a position on that is a multiple of 8. */
  void longs(long position, long[] target, int count) {
    int first = (int) (position >>> ColumnFormat.PIECE_SHIFT);
    int last = (int) (position + 8L * count - 1 >>> ColumnFormat.PIECE_SHIFT);
    for (int piece = first; piece <= last; piece++) {
      if (!verified[piece]) {
        verify(piece);
      }
    }
    int offset = (int) position & mask;
    LongBuffer longs = words[(int) (position >>> shift)];
    if ((offset >>> 3) + count <= longs.limit()) {
      longs.get(offset >>> 3, target, 0, count);
      return;
    }
    for (int i = 0; i < count; i++) {
      target[i] = rawLong(position + 8L * i);
    }
  }

  private long rawLong(long position) {
    return pieces[(int) (position >>> shift)].getLong((int) position & mask);
  }

  private byte rawByte(long position) {
    return pieces[(int) (position >>> shift)].get((int) position & mask);
  }

  /** Compares the checksum of a piece. */
  private void verify(int piece) {
    long from = (long) piece << ColumnFormat.PIECE_SHIFT;
    long to = Math.min(from + ColumnFormat.PIECE, sums);
    CRC32C actual = new CRC32C();
    for (long at = from; at < to; ) {
      ByteBuffer view = pieces[(int) (at >>> shift)].duplicate();
      int begin = (int) at & mask;
      int end = (int) Math.min(view.limit(), begin + (to - at));
      view.limit(end).position(begin);
      actual.update(view);
      at += end - begin;
    }
    if (from >= to || (int) actual.getValue() != intAt(sums + 4L * piece)) {
      throw new UncheckedIOException(
          new BrokenIndexException(path, "is damaged near byte " + from));
    }
    verified[piece] = true;
  }

  private int intAt(long position) {
    return pieces[(int) (position >>> shift)].getInt((int) position & mask);
  }

  byte byteAt(long position) {
    if (!verified[(int) (position >>> ColumnFormat.PIECE_SHIFT)]) {
      verify((int) (position >>> ColumnFormat.PIECE_SHIFT));
    }
    return pieces[(int) (position >>> shift)].get((int) position & mask);
  }

  /** So many bytes from a position on. */
  void bytes(long position, byte[] target, int count) {
    int first = (int) (position >>> ColumnFormat.PIECE_SHIFT);
    int last = (int) (position + count - 1 >>> ColumnFormat.PIECE_SHIFT);
    for (int piece = first; piece <= last; piece++) {
      if (!verified[piece]) {
        verify(piece);
      }
    }
    for (int done = 0; done < count; ) {
      ByteBuffer piece = pieces[(int) (position + done >>> shift)];
      int from = (int) (position + done) & mask;
      int now = Math.min(count - done, piece.limit() - from);
      piece.get(from, target, done, now);
      done += now;
    }
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
