package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import lipsanon.array.IntList;

/**
 * A mapped column of lists of object numbers. A list is the differences of its ascending numbers,
 * the first one to the object's own number (folded to be positive), as bytes of 7 bits, low first,
 * the high bit set where more follow; a packed column says where each list ends. Safe for use by
 * several threads.
 */
public final class ListColumn {
  private final PackedColumn ends;
  private final MappedColumn bytes;

  private ListColumn(PackedColumn ends, MappedColumn bytes) {
    this.ends = ends;
    this.bytes = bytes;
  }

  static ListColumn open(Path ends, Path bytes, long build) throws IOException {
    return new ListColumn(
        PackedColumn.open(ends, build), MappedColumn.open(bytes, ColumnFormat.BYTES, build));
  }

  /** The list of an object, ascending, without repetitions. */
  public IntList get(int node) {
    IntList list = new IntList();
    long at = node == 0 ? 0 : ends.get(node - 1);
    long end = ends.get(node);
    long previous = node;
    boolean first = true;
    while (at < end) {
      long value = 0;
      int shift = 0;
      int b;
      do {
        b = bytes.byteAt(ColumnFormat.HEADER_BYTES + at++);
        value |= (long) (b & 0x7f) << shift;
        shift += 7;
      } while (b < 0 && at < end);
      previous += first ? value >>> 1 ^ -(value & 1) : value;
      first = false;
      list.add((int) previous);
    }
    return list;
  }

  /** Whether an object's list is empty. */
  public boolean isEmpty(int node) {
    return (node == 0 ? 0 : ends.get(node - 1)) == ends.get(node);
  }

  void check() throws BrokenIndexException {
    ends.check();
    bytes.check();
  }

  /** Writes such a column. */
  static final class Writer implements AutoCloseable {
    /** Bytes that a difference takes at most: 33 bits. */
    private static final int LONGEST = 5;

    private final PackedWriter ends;
    private final ColumnOutput bytes;
    private int node;
    private final byte[] ready = new byte[1 << 16];
    private int readySize;
    private long flushed;

    Writer(Path ends, Path bytes, long build, long count) throws IOException {
      this.ends = new PackedWriter(ends, build, count);
      this.bytes = new ColumnOutput(bytes, ColumnFormat.BYTES, build, count);
    }

    /** Adds the list of the next object: {@code size} ascending numbers. */
    void add(int[] list, int size) throws IOException {
      long previous = node;
      for (int i = 0; i < size; i++) {
        long difference = list[i] - previous;
        if (i == 0) {
          difference = difference << 1 ^ difference >> 63;
        } else if (difference == 0) {
          continue;
        }
        previous = list[i];
        if (LONGEST > ready.length - readySize) {
          flushReady();
        }
        while (difference > 0x7f) {
          ready[readySize++] = (byte) (difference | 0x80);
          difference >>>= 7;
        }
        ready[readySize++] = (byte) difference;
      }
      ends.add(flushed + readySize);
      node++;
    }

    private void flushReady() throws IOException {
      bytes.putBytes(ready, readySize);
      flushed += readySize;
      readySize = 0;
    }

    void finish() throws IOException {
      flushReady();
      ends.finish();
      bytes.finish(bytes.position());
    }

    @Override
    public void close() throws IOException {
      ends.close();
      bytes.close();
    }
  }
}
