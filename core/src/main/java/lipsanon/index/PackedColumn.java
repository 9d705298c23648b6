package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Objects;

/** A mapped column of packed values. Safe for use by several threads. */
public final class PackedColumn {
  private final MappedColumn file;
  private final long count;
  private final long directory;

  private PackedColumn(MappedColumn file) {
    this.file = file;
    this.count = file.count();
    this.directory = file.directory();
  }

  static PackedColumn open(Path path, long build) throws IOException {
    return of(path, MappedColumn.open(path, ColumnFormat.PACKED, build));
  }

  static PackedColumn of(Path path, MappedColumn file) throws IOException {
    long blocks = file.count() + ColumnFormat.BLOCK - 1 >>> ColumnFormat.BLOCK_SHIFT;
    if (file.directory() + blocks * 16 != file.sums() || (file.directory() & 7) != 0) {
      throw new BrokenIndexException(path + " has a directory of the wrong size");
    }
    return new PackedColumn(file);
  }

  /** Number of values. */
  public long count() {
    return count;
  }

  /** The value at {@code index}. */
  public long get(long index) {
    Objects.checkIndex(index, count);
    long entry = directory + (index >>> ColumnFormat.BLOCK_SHIFT) * 16;
    long least = file.longAt(entry);
    long place = file.longAt(entry + 8);
    int width = (int) place & (1 << ColumnFormat.WIDTH_BITS) - 1;
    if (width == 0) {
      return least;
    }
    int bit = ((int) index & ColumnFormat.BLOCK - 1) * width;
    long word =
        ColumnFormat.HEADER_BYTES
            + ((place >>> ColumnFormat.WIDTH_BITS) + (bit >>> 6)) * Long.BYTES;
    int shift = bit & 63;
    long value = file.longAt(word) >>> shift;
    if (shift + width > Long.SIZE) {
      value |= file.longAt(word + Long.BYTES) << (Long.SIZE - shift);
    }
    return least + (width == Long.SIZE ? value : value & (1L << width) - 1);
  }

  /** The value at {@code index}, which must fit. */
  public int getInt(long index) {
    return (int) get(index);
  }

  /**
   * Unpacks a block of 64 values, for scans.
   *
   * @param block the number of the block: values 64 * block and following
   * @param values where they go; beyond the column's end nothing of meaning
   * @return how many values are meaningful
   */
  public int block(long block, long[] values) {
    long entry = directory + block * 16;
    long least = file.longAt(entry);
    long place = file.longAt(entry + 8);
    int width = (int) place & (1 << ColumnFormat.WIDTH_BITS) - 1;
    long word = ColumnFormat.HEADER_BYTES + (place >>> ColumnFormat.WIDTH_BITS) * Long.BYTES;
    if (width == 0) {
      Arrays.fill(values, 0, ColumnFormat.BLOCK, least);
    } else {
      unpack(values, least, width, word);
    }
    return (int) Math.min(ColumnFormat.BLOCK, count - (block << ColumnFormat.BLOCK_SHIFT));
  }

  /** No value of a block is below this. */
  public long least(long block) {
    return file.longAt(directory + block * 16);
  }

  /** No value of a block is above this; costs no unpacking. */
  public long bound(long block) {
    long entry = directory + block * 16;
    int width = (int) file.longAt(entry + 8) & (1 << ColumnFormat.WIDTH_BITS) - 1;
    return width >= Long.SIZE - 1 ? Long.MAX_VALUE : file.longAt(entry) + (1L << width) - 1;
  }

  /** All words of the block are fetched at once: then the loop has neither checks nor branches. */
  private void unpack(long[] values, long least, int width, long word) {
    final long mask = width == Long.SIZE ? -1L : (1L << width) - 1;
    final long[] words = new long[width + 1];
    file.longs(word, words, width);
    for (int i = 0, bit = 0; i < ColumnFormat.BLOCK; i++, bit += width) {
      final int at = bit >>> 6;
      final int shift = bit & 63;
      // a shift by 64 in two steps, so that it leaves nothing
      final long value = words[at] >>> shift | words[at + 1] << 1 << (63 - shift);
      values[i] = least + (value & mask);
    }
  }

  void check() throws BrokenIndexException {
    file.check();
  }
}
