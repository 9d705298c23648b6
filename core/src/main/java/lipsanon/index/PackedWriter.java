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

  /** Packed words on their way out. */
  private final long[] ready = new long[1 << 12];

  private int readySize;

  /** Of each block its least value, where it begins and its width. */
  private final long[] directory;

  private int directorySize;
  private int filled;
  private long words;
  private long added;

  /** Whether no value is below the one before it: then none need be compared. */
  private final boolean ascending;

  /** For exactly {@code count} values. */
  PackedWriter(Path path, long build, long count) throws IOException {
    this(path, build, count, false);
  }

  /** For exactly {@code count} values, none of which is below the one before it. */
  static PackedWriter ascending(Path path, long build, long count) throws IOException {
    return new PackedWriter(path, build, count, true);
  }

  private PackedWriter(Path path, long build, long count, boolean ascending) throws IOException {
    this.ascending = ascending;
    this.out = new ColumnOutput(path, ColumnFormat.PACKED, build, count);
    this.count = count;
    this.directory =
        new long[2 * Math.toIntExact((count + ColumnFormat.BLOCK - 1) / ColumnFormat.BLOCK)];
  }

  void add(long value) throws IOException {
    block[filled++] = value;
    if (filled == ColumnFormat.BLOCK) {
      flushBlock();
    }
  }

  /** Adds the first {@code count} of the values: several times as fast as one by one. */
  void addInts(int[] values, int count) throws IOException {
    int at = 0;
    while (at < count) {
      if (filled == 0 && count - at >= ColumnFormat.BLOCK) {
        filled = ColumnFormat.BLOCK;
        intBlock(values, at);
        at += ColumnFormat.BLOCK;
      } else {
        add(values[at++]);
      }
    }
  }

  /** Adds a value so many times. */
  void addSame(int value, int count) throws IOException {
    int left = count;
    while (left > 0) {
      if (filled == 0 && left >= ColumnFormat.BLOCK) {
        filled = ColumnFormat.BLOCK;
        endBlock(value, value);
        left -= ColumnFormat.BLOCK;
      } else {
        add(value);
        left--;
      }
    }
  }

  /** Adds the first {@code count} of some longs. */
  void addLongs(long[] values, int count) throws IOException {
    for (int at = 0; at < count; ) {
      if (filled == 0 && count - at >= ColumnFormat.BLOCK) {
        filled = ColumnFormat.BLOCK;
        longBlock(values, at);
        at += ColumnFormat.BLOCK;
      } else {
        add(values[at++]);
      }
    }
  }

  private void intBlock(int[] values, int from) throws IOException {
    int least = values[from];
    int greatest = least;
    for (int i = from; i < from + ColumnFormat.BLOCK; i++) {
      int value = values[i];
      if (value < least) {
        least = value;
      } else if (value > greatest) {
        greatest = value;
      }
    }
    int width = endBlock(least, greatest);
    if (width > 0) {
      Packing.pack(values, from, least, width, ready, readySize - width);
    }
  }

  private void flushBlock() throws IOException {
    if (filled < ColumnFormat.BLOCK) {
      // a value that is there already, the greatest if they ascend
      Arrays.fill(block, filled, ColumnFormat.BLOCK, block[filled - 1]);
    }
    longBlock(block, 0);
  }

  private void longBlock(long[] values, int from) throws IOException {
    long least = values[from];
    long greatest = values[from + ColumnFormat.BLOCK - 1];
    if (!ascending) {
      greatest = least;
      for (int i = from; i < from + ColumnFormat.BLOCK; i++) {
        long value = values[i];
        if (value < least) {
          least = value;
        } else if (value > greatest) {
          greatest = value;
        }
      }
    }
    int width = endBlock(least, greatest);
    if (width > 0) {
      Packing.pack(values, from, least, width, ready, readySize - width);
    }
  }

  /** Notes a block and makes room for it; the bits that each of its values takes. */
  private int endBlock(long least, long greatest) throws IOException {
    added += filled;
    // the difference is right as an unsigned number even if it overflows
    int width = Long.SIZE - Long.numberOfLeadingZeros(greatest - least);
    directory[directorySize++] = least;
    directory[directorySize++] = words << ColumnFormat.WIDTH_BITS | width;
    words += width;
    filled = 0;
    if (readySize + width > ready.length) {
      flushReady();
    }
    readySize += width;
    return width;
  }

  private void flushReady() throws IOException {
    out.putLongs(ready, readySize);
    readySize = 0;
  }

  /** Completes the file; the column is not readable without. */
  void finish() throws IOException {
    if (filled > 0) {
      flushBlock();
    }
    if (added != count) {
      throw new IllegalStateException("added " + added + " values of " + count);
    }
    flushReady();
    long at = out.position();
    out.putLongs(directory, directorySize);
    out.finish(at);
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
