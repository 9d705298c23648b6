package lipsanon.array;

import java.io.IOException;
import java.util.Arrays;
import java.util.List;

/**
 * Addresses as bits with rank counts: a word holds 32 bits of the map and, above them, how many
 * bits stand before it, so that a rank costs one read, and, where many pages have no addresses,
 * that of the page table.
 */
public final class RankBitmap extends Addresses {
  private static final int WORDS = 2 * AddressCollector.PAGE_WORDS;

  private static final int WORD_SHIFT = 8;

  /** Addresses of a page at most. */
  private static final int PAGE = 32 * WORDS;

  /** Page tables of up to 2^22 entries are plain arrays; sparser ones are hashed. */
  private static final long LARGEST_TABLE = 1L << 22;

  private final long[] pages;
  private final long[] words;
  private final long firstPage;

  /** Whether all pages between the first and the last one are there, so that none is looked up. */
  private final boolean dense;

  private final long firstWord;
  private final int[] table;
  private final LongIntMap hashed;

  private RankBitmap(int count, long[] pages, long[] words) {
    super(count);
    this.pages = pages;
    this.words = words;
    this.firstPage = pages.length == 0 ? 0 : pages[0];
    this.firstWord = firstPage << AddressCollector.PAGE_SHIFT - WORD_SHIFT;
    long span = span(pages, pages.length);
    this.dense = span == pages.length;
    if (dense) {
      hashed = null;
      table = null;
    } else if (span <= LARGEST_TABLE) {
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
    pages = filled(pages, distinct);
    long[] words = new long[pages.length * WORDS];
    long rank = 0;
    long[] page = new long[AddressCollector.PAGE_WORDS];
    for (int slot = 0; slot < pages.length; slot++) {
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

  /** How many pages there are from the first to the last one. */
  private static long span(long[] pages, int count) {
    return count == 0 ? 0 : pages[count - 1] - pages[0] + 1;
  }

  /** The pages, with those between them if they are few. */
  private static long[] filled(long[] pages, int count) {
    long span = span(pages, count);
    if (span > count + count / 4) {
      return Arrays.copyOf(pages, count);
    }
    long[] all = new long[(int) span];
    for (int i = 0; i < all.length; i++) {
      all[i] = pages[0] + i;
    }
    return all;
  }

  @Override
  public int rank(long address) {
    long at = dense ? (address >>> WORD_SHIFT) - firstWord : place(address);
    if (at < 0 || at >= words.length) {
      return -1;
    }
    long word = words[(int) at];
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

  /** Where the word of an address stands, -1 if its page is not there. */
  private long place(long address) {
    long page = address >>> AddressCollector.PAGE_SHIFT;
    int slot = -1;
    if (table == null) {
      slot = hashed.get(page);
    } else if (page >= firstPage && page - firstPage < table.length) {
      slot = table[(int) (page - firstPage)];
    }
    return slot < 0 ? -1 : (long) slot * WORDS + ((int) (address >>> WORD_SHIFT) & WORDS - 1);
  }

  @Override
  public void forEach(Sink sink) throws IOException {
    forEach(0, 1, sink);
  }

  @Override
  public void forEach(int part, int parts, Sink sink) throws IOException {
    int from = (int) ((long) pages.length * part / parts);
    int to = (int) ((long) pages.length * (part + 1) / parts);
    long[] some = new long[PAGE];
    for (int slot = from; slot < to; slot++) {
      int size = page(slot, some);
      if (size > 0) {
        sink.addresses((int) (words[slot * WORDS] >>> 32), some, size);
      }
    }
    int next = to;
    while (next < pages.length && page(next, some) == 0) {
      next++;
    }
    if (next < pages.length) {
      sink.addresses((int) (words[next * WORDS] >>> 32), some, 1);
    }
  }

  /** Reads the addresses of a page; how many there are. */
  private int page(int slot, long[] target) {
    final long[] words = this.words;
    int size = 0;
    long base = pages[slot] << AddressCollector.PAGE_SHIFT;
    for (int w = slot * WORDS; w < (slot + 1) * WORDS; w++) {
      for (int bits = (int) words[w]; bits != 0; bits &= bits - 1) {
        target[size++] = base + Bits.lowest(bits) * 8;
      }
      base += 32 * 8;
    }
    return size;
  }
}
