package lipsanon.index;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;

/** Writes a packed column ({@link ColumnFormat}). */
final class PackedWriter implements Closeable {
  private final ColumnOutput out;
  private final long count;
  private final long[] block = new long[ColumnFormat.BLOCK];
  private long[] directory = new long[1024];
  private int directorySize;
  private int filled;
  private long words;
  private long added;

  /** For exactly {@code count} values. */
  PackedWriter(Path path, long build, long count) throws IOException {
    this.out = new ColumnOutput(path, ColumnFormat.PACKED, build, count);
    this.count = count;
  }

  void add(long value) throws IOException {
    block[filled++] = value;
    if (filled == ColumnFormat.BLOCK) {
      flushBlock();
    }
  }

  private void flushBlock() throws IOException {
    final long[] values = block;
    added += filled;
    long least = values[0];
    long greatest = values[0];
    for (int i = 1; i < filled; i++) {
      least = Math.min(least, values[i]);
      greatest = Math.max(greatest, values[i]);
    }
    Arrays.fill(values, filled, ColumnFormat.BLOCK, least);
    // the difference is right as an unsigned number even if it overflows
    int width = Long.SIZE - Long.numberOfLeadingZeros(greatest - least);
    if (directorySize == directory.length) {
      directory = Arrays.copyOf(directory, directory.length * 2);
    }
    directory[directorySize++] = least;
    directory[directorySize++] = words << ColumnFormat.WIDTH_BITS | width;
    words += width;
    pack(values, least, width);
    filled = 0;
  }

  private void pack(long[] values, long least, int width) throws IOException {
    if (width == 0) {
      return;
    }
    long word = 0;
    int used = 0;
    for (int i = 0; i < ColumnFormat.BLOCK; i++) {
      long value = values[i] - least;
      word |= value << used;
      used += width;
      if (used >= Long.SIZE) {
        out.putLong(word);
        used -= Long.SIZE;
        word = used == 0 ? 0 : value >>> (width - used);
      }
    }
  }

  /** Completes the file; the column is not readable without. */
  void finish() throws IOException {
    if (filled > 0) {
      flushBlock();
    }
    if (added != count) {
      throw new IllegalStateException("added " + added + " values of " + count);
    }
    long at = out.position();
    for (int i = 0; i < directorySize; i++) {
      out.putLong(directory[i]);
    }
    out.finish(at);
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
