package lipsanon.format.elfcore;

import java.util.BitSet;

/**
 * Which parts of a dump's file were looked at, four bytes at a time: one bit for each. A copy holds
 * nothing else.
 */
final class Touched {
  /** Bytes that stand or fall together. */
  static final int GRAIN = 4;

  private static final int CHUNK_SHIFT = 26;

  private final BitSet[] chunks;

  Touched(long fileBytes) {
    chunks = new BitSet[(int) (fileBytes >>> CHUNK_SHIFT) + 1];
  }

  void mark(long place, long bytes) {
    set(place, bytes, true);
  }

  /** Takes back what must not be copied though it was looked at. */
  void forget(long place, long bytes) {
    set(place, bytes, false);
  }

  private void set(long place, long bytes, boolean to) {
    // what stands beside it stays as it is: of what is kept nothing is cut off, of what is
    // forgotten the outermost bytes stay
    long first = (to ? place : place + GRAIN - 1) / GRAIN;
    long end = (place + bytes + (to ? GRAIN - 1 : 0)) / GRAIN;
    for (long at = first; at < end; ) {
      int chunk = (int) (at * GRAIN >>> CHUNK_SHIFT);
      if (chunk < 0 || chunk >= chunks.length) {
        return;
      }
      long begin = ((long) chunk << CHUNK_SHIFT) / GRAIN;
      long stop = Math.min(end, ((long) chunk + 1 << CHUNK_SHIFT) / GRAIN);
      if (chunks[chunk] == null) {
        chunks[chunk] = new BitSet();
      }
      chunks[chunk].set((int) (at - begin), (int) (stop - begin), to);
      at = stop;
    }
  }

  boolean at(long place) {
    int chunk = (int) (place >>> CHUNK_SHIFT);
    BitSet bits = chunk < chunks.length ? chunks[chunk] : null;
    return bits != null && bits.get((int) ((place - ((long) chunk << CHUNK_SHIFT)) / GRAIN));
  }

  /** Clears in bytes read from a place of the file all that was not looked at. */
  void mask(long place, byte[] bytes, int length) {
    for (int i = 0; i < length; i += GRAIN) {
      if (!at(place + i)) {
        for (int k = i; k < Math.min(length, i + GRAIN); k++) {
          bytes[k] = 0;
        }
      }
    }
  }
}
