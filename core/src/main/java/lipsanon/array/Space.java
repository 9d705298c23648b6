package lipsanon.array;

import java.io.Closeable;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.IntBuffer;
import java.nio.LongBuffer;
import java.nio.MappedByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.ArrayList;
import java.util.List;

/**
 * Where working arrays live: on the heap, or, when the heap is too small for them, in mapped
 * scratch files that vanish with the process. Safe for use by several threads.
 */
public final class Space implements Closeable {
  /** Arrays of fewer elements are not worth keeping. */
  private static final int LEAST_KEPT = 1 << 16;

  private static final int SLACK = 1 << 10;

  /** Ints of a band where nobody says how much memory there is. */
  private static final int SMALL_BAND = 1 << 20;

  private final Path scratch;
  private final int bandInts;

  /** Bytes of the heap that are left for arrays which are written all over. */
  private long hotBytes;

  private FileChannel channel;
  private long used;
  private boolean closed;

  /** Arrays that were given back, for whoever asks next. */
  private final List<IntArray> free = new ArrayList<>();

  /** The same of longs on the heap. */
  private final List<PlainLongArray> freeLongs = new ArrayList<>();

  private Space(Path scratch, int bandInts, long hotBytes) {
    this.scratch = scratch;
    this.bandInts = bandInts;
    this.hotBytes = hotBytes;
  }

  /** Arrays on the heap. */
  public static Space heap() {
    return new Space(null, Integer.MAX_VALUE, 0);
  }

  /** Arrays in a file that is made below {@code folder} and deleted at once. */
  public static Space mapped(Path folder) {
    return mapped(folder, new Spare(SMALL_BAND, 0));
  }

  /**
   * What of the heap may be used all the same.
   *
   * @param bandInts ints that may be there for a while, so that a file is written in order, for
   *     each of two threads
   * @param hotBytes bytes of arrays that are written all over: each such write to a file costs a
   *     page fault, and another one whenever the operating system has saved the page
   */
  public record Spare(int bandInts, long hotBytes) {}

  /** The same, with some memory. */
  public static Space mapped(Path folder, Spare spare) {
    return new Space(folder, Math.max(1, spare.bandInts()), spare.hotBytes());
  }

  /**
   * How many ints may be on the heap, for each of two threads, while a file is written in order.
   */
  public int bandInts() {
    return bandInts;
  }

  /** Whether arrays live in scratch files. */
  public boolean isMapped() {
    return scratch != null;
  }

  /** Zeros. */
  public IntArray ints(int length) {
    IntArray used = length < LEAST_KEPT ? null : takeFree(length);
    if (used != null) {
      used.fill(0);
      return used;
    }
    if (scratch == null) {
      return new HeapIntArray(new int[length < LEAST_KEPT ? length : roundUp(length)], length);
    }
    return mappedInts(length);
  }

  /**
   * Zeros, for an array that is written all over: on the heap if some of it was spared for that.
   */
  public IntArray hotInts(int length) {
    long bytes = (long) length * Integer.BYTES;
    if (scratch == null || !take(bytes)) {
      return ints(length);
    }
    try {
      return new HeapIntArray(new int[length], length);
    } catch (OutOfMemoryError e) {
      // less was free than was thought
      return ints(length);
    }
  }

  /**
   * Moves an array that is only read in order from now on to a scratch file, if it is on the heap
   * while others are in files: the heap is for those that are written all over.
   *
   * @return the array to use from now on
   */
  public IntArray cool(IntArray array) {
    if (scratch == null || !(array instanceof HeapIntArray)) {
      return array;
    }
    IntArray cool = ints(array.length());
    for (int i = 0; i < array.length(); i++) {
      cool.set(i, array.get(i));
    }
    release(array);
    return cool;
  }

  private synchronized boolean take(long bytes) {
    boolean enough = bytes <= hotBytes;
    hotBytes -= enough ? bytes : 0;
    return enough;
  }

  /**
   * Takes an array back, which must not be used any more. Memory that was used before costs nothing
   * but its clearing; fresh memory has to be found and cleared by the operating system.
   */
  public synchronized void release(IntArray array) {
    if (scratch != null && array instanceof HeapIntArray) {
      hotBytes += (long) array.capacity() * Integer.BYTES;
    } else if (array.capacity() >= LEAST_KEPT) {
      free.add(array);
    }
  }

  /** Takes an array back, which must not be used any more. */
  public synchronized void release(LongArray array) {
    if (!(array instanceof PlainLongArray plain)) {
      return;
    }
    if (plain.narrow() != null) {
      release(plain.narrow());
    } else if (scratch != null) {
      hotBytes += (long) plain.length() * Long.BYTES;
    } else if (plain.length() >= LEAST_KEPT) {
      freeLongs.add(plain);
    }
  }

  /** The smallest array given back that is long enough, unless it is far too long. */
  private synchronized IntArray takeFree(int length) {
    int best = -1;
    for (int i = 0; i < free.size(); i++) {
      int capacity = free.get(i).capacity();
      if (capacity >= length
          && capacity / 4 <= length
          && (best < 0 || capacity < free.get(best).capacity())) {
        best = i;
      }
    }
    return best < 0 ? null : free.remove(best).withLength(length);
  }

  /** So that an array serves again where one element more is wanted. */
  private static int roundUp(int length) {
    return length > Integer.MAX_VALUE - 8 - SLACK ? length : length + SLACK & -SLACK;
  }

  private IntArray mappedInts(int length) {
    int piece = MappedIntArray.pieceLength();
    IntBuffer[] pieces = new IntBuffer[(int) (((long) length + piece - 1) / piece)];
    for (int i = 0; i < pieces.length; i++) {
      long left = length - (long) i * piece;
      pieces[i] = map(Math.min(left, piece) * Integer.BYTES).asIntBuffer();
    }
    return new MappedIntArray(pieces, length);
  }

  /**
   * Zeros, for values from 0 to {@code most} only: half the room if they fit 32 bits. For an array
   * that is written all over, as {@link #hotInts}.
   */
  public LongArray hotLongs(int length, long most) {
    return most < 1L << Integer.SIZE ? new PlainLongArray(hotInts(length)) : hotLongs(length);
  }

  /** The same for one that is written in order. */
  public LongArray longs(int length, long most) {
    return most < 1L << Integer.SIZE ? new PlainLongArray(ints(length)) : longs(length);
  }

  /** Zeros. */
  public LongArray longs(int length) {
    if (scratch == null) {
      PlainLongArray used = takeFreeLongs(length);
      if (used == null) {
        return new PlainLongArray(length);
      }
      used.clear();
      return used;
    }
    return mappedLongs(length);
  }

  /** Arrays that are made after each other for the same things are of the same length. */
  private synchronized PlainLongArray takeFreeLongs(int length) {
    for (int i = 0; i < freeLongs.size(); i++) {
      if (freeLongs.get(i).length() == length) {
        return freeLongs.remove(i);
      }
    }
    return null;
  }

  /** As {@link #hotInts}. */
  public LongArray hotLongs(int length) {
    if (scratch == null || !take((long) length * Long.BYTES)) {
      return longs(length);
    }
    try {
      return new PlainLongArray(length);
    } catch (OutOfMemoryError e) {
      // less was free than was thought
      return longs(length);
    }
  }

  private LongArray mappedLongs(int length) {
    int piece = MappedLongArray.pieceLength();
    LongBuffer[] pieces = new LongBuffer[(int) (((long) length + piece - 1) / piece)];
    for (int i = 0; i < pieces.length; i++) {
      long left = length - (long) i * piece;
      pieces[i] = map(Math.min(left, piece) * Long.BYTES).asLongBuffer();
    }
    return new MappedLongArray(pieces, length);
  }

  private synchronized ByteBuffer map(long bytes) {
    if (closed) {
      throw new IllegalStateException("the scratch space is closed");
    }
    try {
      if (channel == null) {
        Path file = Files.createTempFile(scratch, "scratch-", ".tmp");
        channel =
            FileChannel.open(
                file,
                StandardOpenOption.READ,
                StandardOpenOption.WRITE,
                StandardOpenOption.DELETE_ON_CLOSE);
        // an open file without a name goes away even if the process is killed
        Files.deleteIfExists(file);
      }
      // a hole cannot be told from a full disk once it is mapped: writing the bytes reports it here
      reserve(used, bytes);
      MappedByteBuffer buffer = channel.map(FileChannel.MapMode.READ_WRITE, used, bytes);
      used += bytes + 4095 & -4096L;
      return buffer.order(ByteOrder.nativeOrder());
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private void reserve(long from, long bytes) throws IOException {
    ByteBuffer zeros = ByteBuffer.allocate(1 << 20);
    for (long done = 0; done < bytes; ) {
      zeros.clear().limit((int) Math.min(zeros.capacity(), bytes - done));
      done += channel.write(zeros, from + done);
    }
  }

  @Override
  public synchronized void close() throws IOException {
    closed = true;
    if (channel != null) {
      channel.close();
      channel = null;
    }
  }
}
