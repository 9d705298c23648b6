package lipsanon.array;

import java.util.Arrays;
import java.util.List;

/** The addresses of a snapshot's objects, in ascending order: object numbers are their ranks. */
public abstract class Addresses {
  private final int count;

  Addresses(int count) {
    this.count = count;
  }

  /** Number of distinct addresses. */
  public final int count() {
    return count;
  }

  /** The number of the object at an address, or -1. */
  public abstract int rank(long address);

  /** Tells each address in ascending order. */
  public abstract void forEach(Sink sink) throws java.io.IOException;

  /** The same for one of several parts, with the first address of the next part at its end. */
  public abstract void forEach(int part, int parts, Sink sink) throws java.io.IOException;

  /** Hears addresses in ascending order (unsigned), some at a time. */
  public interface Sink {
    /**
     * The next ones.
     *
     * @param rank the number of the first of them
     * @param addresses begins with them; good until the call ends
     */
    void addresses(int rank, long[] addresses, int count) throws java.io.IOException;
  }

  /** From lists. */
  public static Addresses ofLists(List<AddressCollector> parts) {
    int size = 0;
    for (AddressCollector part : parts) {
      size += part.list().length;
    }
    long[] all = new long[size];
    int at = 0;
    for (AddressCollector part : parts) {
      long[] list = part.list();
      System.arraycopy(list, 0, all, at, list.length);
      at += list.length;
    }
    for (int i = 0; i < size; i++) {
      all[i] ^= Long.MIN_VALUE;
    }
    Arrays.parallelSort(all);
    int distinct = 0;
    for (int i = 0; i < size; i++) {
      if (i == 0 || all[i] != all[i - 1]) {
        all[distinct++] = all[i];
      }
    }
    return new Sorted(Arrays.copyOf(all, distinct));
  }

  private static final class Sorted extends Addresses {
    /** With the sign bit turned, so that signed order is the order of the addresses. */
    private final long[] flipped;

    Sorted(long[] flipped) {
      super(flipped.length);
      this.flipped = flipped;
    }

    @Override
    public int rank(long address) {
      int at = Arrays.binarySearch(flipped, address ^ Long.MIN_VALUE);
      return at < 0 ? -1 : at;
    }

    @Override
    public void forEach(Sink sink) throws java.io.IOException {
      forEach(0, 1, sink);
    }

    @Override
    public void forEach(int part, int parts, Sink sink) throws java.io.IOException {
      int from = (int) ((long) flipped.length * part / parts);
      int to = (int) ((long) flipped.length * (part + 1) / parts);
      int end = Math.min(flipped.length, to + 1);
      long[] some = new long[1 << 12];
      for (int at = from, size; at < end; at += size) {
        size = Math.min(some.length, end - at);
        for (int i = 0; i < size; i++) {
          some[i] = flipped[at + i] ^ Long.MIN_VALUE;
        }
        sink.addresses(at, some, size);
      }
    }
  }
}
