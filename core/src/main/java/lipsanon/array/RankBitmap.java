package lipsanon.array;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;

/**
 * Addresses as bits with rank counts: a word holds 32 bits of the map and, above them, how many
 * bits stand before it, so that a rank costs one read besides that of the page table.
 */
public final class RankBitmap extends Addresses {
  private static final int WORDS = 2 * AddressCollector.PAGE_WORDS;

  /** Page tables of up to 2^22 entries are plain arrays; sparser ones are hashed. */
  private static final long LARGEST_TABLE = 1L << 22;

  private static final int DE_BRUIJN = 0x077cb531;
  private static final byte[] PLACES = places();

  private final long[] pages;
  private final long[] words;
  private final long firstPage;
  private final int[] table;
  private final LongIntMap hashed;

  private RankBitmap(int count, long[] pages, long[] words) {
    super(count);
    this.pages = pages;
    this.words = words;
    this.firstPage = pages.length == 0 ? 0 : pages[0];
    long span = pages.length == 0 ? 0 : pages[pages.length - 1] - firstPage + 1;
    if (span <= LARGEST_TABLE) {
      hashed = null;
      table = new int[(int) span];
      Arrays.fill(table, -1);
      for (int slot = 0; slot < pages.length; slot++) {
        table[(int) (pages[slot] - firstPage)] = slot;
      }
    } else {
      table = null;
      hashed = new LongIntMap();
      for (int slot = 0; slot < pages.length; slot++) {
        hashed.put(pages[slot], slot);
      }
    }
  }

  private static byte[] places() {
    byte[] places = new byte[32];
    for (int i = 0; i < places.length; i++) {
      places[(1 << i) * DE_BRUIJN >>> 27] = (byte) i;
    }
    return places;
  }

  /**
   * Joins what several threads collected.
   *
   * @return null if there are 2^31 objects or more
   */
  public static RankBitmap join(List<AddressCollector> parts) {
    long[] pages = new long[0];
    for (AddressCollector part : parts) {
      int old = pages.length;
      pages = Arrays.copyOf(pages, old + part.pageCount);
      System.arraycopy(part.pages, 0, pages, old, part.pageCount);
    }
    // pages are addresses shifted right: never negative
    Arrays.sort(pages);
    int distinct = 0;
    for (int i = 0; i < pages.length; i++) {
      if (i == 0 || pages[i] != pages[i - 1]) {
        pages[distinct++] = pages[i];
      }
    }
    pages = Arrays.copyOf(pages, distinct);
    long[] words = new long[distinct * WORDS];
    long rank = 0;
    long[] page = new long[AddressCollector.PAGE_WORDS];
    for (int slot = 0; slot < distinct; slot++) {
      Arrays.fill(page, 0);
      for (AddressCollector part : parts) {
        part.addTo(page, pages[slot]);
      }
      for (int w = 0; w < AddressCollector.PAGE_WORDS; w++) {
        long bits = page[w];
        words[slot * WORDS + 2 * w] = rank << 32 | bits & 0xffffffffL;
        rank += Long.bitCount(bits & 0xffffffffL);
        words[slot * WORDS + 2 * w + 1] = rank << 32 | bits >>> 32;
        rank += Long.bitCount(bits >>> 32);
      }
    }
    return rank > Integer.MAX_VALUE ? null : new RankBitmap((int) rank, pages, words);
  }

  @Override
  public int rank(long address) {
    long page = (address >>> AddressCollector.PAGE_SHIFT) - firstPage;
    int slot;
    if (table != null) {
      if (page < 0 || page >= table.length) {
        return -1;
      }
      slot = table[(int) page];
    } else {
      slot = hashed.get(page + firstPage);
    }
    if (slot < 0) {
      return -1;
    }
    long word = words[slot * WORDS + ((int) (address >>> 8) & WORDS - 1)];
    int bit = (int) (address >>> 3) & 31;
    if ((word >>> bit & 1) == 0 || (address & 7) != 0) {
      return -1;
    }
    // how many bits are set below: written out, since the quick compiler calls the library's method
    int sums = (int) word & (1 << bit) - 1;
    sums -= sums >>> 1 & 0x55555555;
    sums = (sums & 0x33333333) + (sums >>> 2 & 0x33333333);
    return (int) (word >>> 32) + ((sums + (sums >>> 4) & 0x0f0f0f0f) * 0x01010101 >>> 24);
  }

  /** The place of the lowest bit, by a sequence of de Bruijn: any five of its bits are others. */
  private static int lowest(int word) {
    return PLACES[(word & -word) * DE_BRUIJN >>> 27];
  }

  @Override
  public void forEach(Sink sink) throws IOException {
    forEach(0, 1, sink);
  }

  @Override
  public void forEach(int part, int parts, Sink sink) throws IOException {
    int from = (int) ((long) pages.length * part / parts);
    int to = (int) ((long) pages.length * (part + 1) / parts);
    for (int slot = from; slot < to; slot++) {
      page(slot, false, sink);
    }
    // a page is never empty
    if (to < pages.length) {
      page(to, true, sink);
    }
  }

  private void page(int slot, boolean firstOnly, Sink sink) throws IOException {
    long base = pages[slot] << AddressCollector.PAGE_SHIFT;
    for (int w = 0; w < WORDS; w++) {
      long word = words[slot * WORDS + w];
      int rank = (int) (word >>> 32);
      int bits = (int) word;
      while (bits != 0) {
        sink.address(rank++, base + (w * 32L + lowest(bits)) * 8);
        if (firstOnly) {
          return;
        }
        bits &= bits - 1;
      }
    }
  }
}
