package lipsanon.index;

import java.io.IOException;
import java.nio.file.Path;
import java.util.Arrays;
import lipsanon.array.IntList;

/**
 * A mapped column of lists of object numbers. A list is the differences of its ascending numbers,
 * the first one to the object's own number (folded to be positive), as bytes of 7 bits, low first,
 * the high bit set where more follow; a packed column says where each list ends. Safe for use by
 * several threads.
 */
public final class ListColumn {
  /** Bytes that a cursor fetches at once. */
  private static final int NEAR = 1 << 12;

  /** A step over fewer objects is taken as one of many: what comes next is fetched as well. */
  private static final int SHORT_STEP = ColumnFormat.BLOCK / 4;

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

  /** Reads lists one after the other. */
  public Cursor cursor() {
    return new Cursor();
  }

  /** A place in the column. One thread. */
  public final class Cursor {
    private final long[] block = new long[ColumnFormat.BLOCK];
    private long blockNumber = -1;
    private int node;
    private long at;

    /** Whether only one list is wanted, mostly. */
    private boolean alone;

    private int[] list = new int[64];

    /** Bytes of the file from one place to another, so that not each is asked for alone. */
    private final byte[] near = new byte[NEAR];

    private long nearFrom;
    private long nearTo;

    private Cursor() {}

    /** Goes to an object. */
    public void moveTo(int to) {
      alone = to < node || to - node >= SHORT_STEP;
      node = to;
      at = to == 0 ? 0 : end(to - 1);
    }

    /** Where a list ends; of a list alone a whole block of ends would be too much. */
    private long end(int of) {
      long wanted = of >>> ColumnFormat.BLOCK_SHIFT;
      if (wanted != blockNumber) {
        if (alone) {
          return ends.get(of);
        }
        ends.block(wanted, block);
        blockNumber = wanted;
      }
      return block[of & ColumnFormat.BLOCK - 1];
    }

    /** Reads the list of the object, and goes on to the next one; the size of the list. */
    public int next() {
      long end = end(node);
      // of a list alone its own bytes are wanted, else those of the next lists as well
      long wanted = alone ? end : Long.MAX_VALUE;
      alone = false;
      if (at < end && (at < nearFrom || end > nearTo)) {
        fetch(wanted);
      }
      int size = end <= nearTo ? near(end) : far(end, wanted);
      node++;
      return size;
    }

    /** A list whose bytes are all at hand: nearly every one. */
    private int near(long end) {
      final byte[] bytes = near;
      int place = (int) (at - nearFrom);
      final int stop = place + (int) (end - at);
      if (stop - place > list.length) {
        list = new int[stop - place + list.length / 2];
      }
      final int[] target = list;
      long previous = node;
      int size = 0;
      while (place < stop) {
        long value = bytes[place++];
        if (value < 0) {
          value &= 0x7f;
          int shift = 7;
          int b;
          do {
            b = place < stop ? bytes[place++] : 0;
            value |= (long) (b & 0x7f) << shift;
            shift += 7;
          } while (b < 0);
        }
        previous += size == 0 ? value >>> 1 ^ -(value & 1) : value;
        target[size++] = (int) previous;
      }
      at = end;
      return size;
    }

    private int far(long end, long wanted) {
      long previous = node;
      int size = 0;
      while (at < end) {
        long value = 0;
        int shift = 0;
        int b;
        do {
          if (at < nearFrom || at >= nearTo) {
            fetch(wanted);
          }
          b = near[(int) (at++ - nearFrom)];
          value |= (long) (b & 0x7f) << shift;
          shift += 7;
        } while (b < 0 && at < end);
        previous += size == 0 ? value >>> 1 ^ -(value & 1) : value;
        if (size == list.length) {
          list = Arrays.copyOf(list, size + size / 2);
        }
        list[size++] = (int) previous;
      }
      return size;
    }

    /** Fetches the bytes at the place, up to another; one at the least. */
    private void fetch(long to) {
      long last = Math.min(Math.min(to, at + NEAR), bytes.sums() - ColumnFormat.HEADER_BYTES);
      nearFrom = at;
      nearTo = Math.max(last, at + 1);
      if (last <= at) {
        near[0] = bytes.byteAt(ColumnFormat.HEADER_BYTES + at);
      } else {
        bytes.bytes(ColumnFormat.HEADER_BYTES + at, near, (int) (last - at));
      }
    }

    /** The list read last, from the beginning of the array; good until the next one is read. */
    public int[] list() {
      return list;
    }
  }

  void check() throws BrokenIndexException {
    ends.check();
    bytes.check();
  }

  /** Writes such a column. */
  static final class Writer implements AutoCloseable {
    /** Bytes that a difference takes at most: 33 bits. */
    private static final int LONGEST = 5;

    /** Numbers between two looks at whether there is room. */
    private static final int AT_ONCE = 1 << 10;

    private final PackedWriter ends;
    private final ColumnOutput bytes;
    private int node;
    private final byte[] ready = new byte[1 << 16];
    private int readySize;
    private long flushed;

    Writer(Path ends, Path bytes, long build, long count) throws IOException {
      this.ends = PackedWriter.ascending(ends, build, count);
      this.bytes = new ColumnOutput(bytes, ColumnFormat.BYTES, build, count);
    }

    /**
     * Adds the lists of the next objects.
     *
     * @param ends by list: where it ends; it begins where the one before ends
     * @param numbers of each list, ascending
     */
    void addLists(int count, int[] ends, int[] numbers) throws IOException {
      int begin = 0;
      for (int i = 0; i < count; i++) {
        int end = ends[i];
        add(numbers, begin, end);
        begin = end;
      }
    }

    /** Adds the list of the next object: the first {@code size} numbers, ascending. */
    void add(int[] list, int size) throws IOException {
      add(list, 0, size);
    }

    private void add(int[] list, int begin, int end) throws IOException {
      if (end - begin == 1) {
        addOne(list[begin]);
        return;
      }
      for (int from = begin; from < end; from += AT_ONCE) {
        if (LONGEST * AT_ONCE > ready.length - readySize) {
          flushReady();
        }
        readySize = put(list, from, Math.min(end, from + AT_ONCE), from == begin, readySize);
      }
      ends.add(flushed + readySize);
      node++;
    }

    /** Most objects are held in one place. */
    private void addOne(int number) throws IOException {
      if (LONGEST > ready.length - readySize) {
        flushReady();
      }
      readySize = putFirst(number, readySize);
      ends.add(flushed + readySize);
      node++;
    }

    /** Puts some of a list's numbers to a place of {@link #ready}; the place behind them. */
    private int put(int[] list, int from, int to, boolean first, int place) {
      final byte[] target = ready;
      int at = place;
      int i = from;
      int previous;
      if (first) {
        previous = list[i++];
        at = putFirst(previous, at);
      } else {
        previous = list[from - 1];
      }
      for (; i < to; i++) {
        int difference = list[i] - previous;
        if (difference != 0) {
          previous = list[i];
          while (difference > 0x7f) {
            target[at++] = (byte) (difference | 0x80);
            difference >>>= 7;
          }
          target[at++] = (byte) difference;
        }
      }
      return at;
    }

    /** Puts the first number of a list, as its distance to the object. */
    private int putFirst(int number, int place) {
      final byte[] target = ready;
      int at = place;
      long step = (long) number - node;
      long folded = step << 1 ^ step >> 63;
      while (folded > 0x7f) {
        target[at++] = (byte) (folded | 0x80);
        folded >>>= 7;
      }
      target[at++] = (byte) folded;
      return at;
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
