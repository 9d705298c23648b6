package lipsanon.format.nettrace;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.util.Arrays;
import lipsanon.io.ByteSource;

/**
 * Listens to the event stream of a live runtime for what it says of its heap: its counters, which
 * it tells each second, and the sizes that each collection leaves.
 *
 * <pre>
 * EventCounters (mean) --> name z16, title z16, mean f8, ...
 * EventCounters (sum)  --> name z16, title z16, scale z16, increment f8, ...
 * </pre>
 */
public final class HeapFeed {
  /** The provider of the counters. */
  public static final String COUNTERS = "System.Runtime";

  private static final double MEGABYTE = 1e6;
  private static final int GENERATIONS = 5;

  private final Pieces pieces = new Pieces();
  private final NettraceStream stream = new NettraceStream(pieces);
  private long heapBytes = -1;
  private long committedBytes = -1;
  private double fragmentation = -1;
  private long collections;
  private double pauseMillis;
  private long[] left;

  /** Heard nothing yet. */
  public HeapFeed() {}

  /** What has come and was not read yet. */
  private static final class Pieces implements ByteSource {
    private byte[] bytes = new byte[1 << 16];
    private long base;
    private int size;

    void add(ByteBuffer some) {
      int more = some.remaining();
      if (size + more > bytes.length) {
        bytes = Arrays.copyOf(bytes, Math.max(size + more, 2 * bytes.length));
      }
      some.get(bytes, size, more);
      size += more;
    }

    void forget(long upTo) {
      int count = (int) (upTo - base);
      System.arraycopy(bytes, count, bytes, 0, size - count);
      size -= count;
      base = upTo;
    }

    @Override
    public String name() {
      return "the runtime's event stream";
    }

    @Override
    public long size() {
      return base + size;
    }

    @Override
    public int read(long position, byte[] target, int offset, int length) {
      int from = (int) (position - base);
      int count = Math.min(length, size - from);
      System.arraycopy(bytes, from, target, offset, count);
      return count;
    }

    @Override
    public void close() {
      size = 0;
    }
  }

  /** Takes what has come. */
  public synchronized void feed(ByteBuffer some) throws IOException {
    pieces.add(some);
    pieces.forget(stream.more(this::event));
  }

  private void event(NettraceStream.Event event) throws IOException {
    if (event.is(NettraceFormat.RUNTIME, NettraceFormat.HEAP_STATS)) {
      Payload in = event.payload;
      long[] sizes = new long[GENERATIONS];
      for (int generation = 0; generation < 4; generation++) {
        sizes[generation] = in.i8();
        in.i8();
      }
      in.skip(2 * Long.BYTES + 3 * Integer.BYTES + Short.BYTES);
      sizes[4] = in.i8();
      left = sizes;
      collections++;
    } else if (event.provider.equals(COUNTERS)) {
      counter(event.payload);
    }
  }

  private void counter(Payload in) throws IOException {
    String name = in.text();
    in.text();
    switch (name) {
      case "gc-heap-size" -> heapBytes = bytes(in);
      case "gc-committed" -> {
        long bytes = bytes(in);
        // nothing is told before the first collection
        committedBytes = bytes > 0 ? bytes : -1;
      }
      case "gc-fragmentation" -> fragmentation = Double.longBitsToDouble(in.i8()) / 100;
      case "total-pause-time-by-gc" -> {
        in.text();
        pauseMillis += Double.longBitsToDouble(in.i8());
      }
      default -> {}
    }
  }

  private static long bytes(Payload in) throws IOException {
    return Math.round(Double.longBitsToDouble(in.i8()) * MEGABYTE);
  }

  /** Heap in use, garbage included, or -1 as long as nothing was told. */
  public synchronized long heapBytes() {
    return heapBytes;
  }

  /** What the heap has from the operating system, or -1. */
  public synchronized long committedBytes() {
    return committedBytes;
  }

  /** The share of the heap that lies free between objects, or -1. */
  public synchronized double fragmentation() {
    return fragmentation;
  }

  /** Collections that were heard of. */
  public synchronized long collections() {
    return collections;
  }

  /** How long they stopped the program in all, in milliseconds. */
  public synchronized double pauseMillis() {
    return pauseMillis;
  }

  /**
   * Sizes that the last collection left: generations 0 to 2, large objects, pinned ones; null
   * before the first.
   */
  public synchronized long[] left() {
    return left == null ? null : left.clone();
  }
}
