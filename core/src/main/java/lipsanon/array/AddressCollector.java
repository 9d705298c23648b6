package lipsanon.array;

import java.util.Arrays;

/**
 * Collects addresses of one thread: as bits, one for each 8 bytes of the address space, in pages
 * that are made where addresses fall; or, when that would waste memory or the addresses are no
 * multiples of 8, as a list.
 */
public final class AddressCollector {
  /** A page covers 32 KiB of addresses with 4,096 bits. */
  static final int PAGE_SHIFT = 15;

  static final int PAGE_WORDS = 64;

  /** Pages that are always granted, so that small snapshots need no thought. */
  private static final int FREE_PAGES = 4096;

  final LongIntMap slots = new LongIntMap();
  long[] pages = new long[16];
  long[] words = new long[16 * PAGE_WORDS];
  int pageCount;
  private long[] list;
  private int listSize;
  private long lastPage = -1;
  private int lastSlot;

  /** Addresses that were added. */
  public long count;

  /** Those that were there already. */
  public long duplicates;

  /** As bits, or as a list. */
  public AddressCollector(boolean asList) {
    list = asList ? new long[1024] : null;
  }

  /** Adds an address; false if bits do not suit the addresses and a list must be used instead. */
  public boolean add(long address) {
    if (list != null) {
      if (listSize == list.length) {
        list = Arrays.copyOf(list, listSize * 2);
      }
      list[listSize++] = address;
      return true;
    }
    long page = address >>> PAGE_SHIFT;
    if (page != lastPage) {
      if ((address & 7) != 0 || !turnTo(page)) {
        return false;
      }
    }
    int word = lastSlot * PAGE_WORDS + ((int) (address >>> 9) & PAGE_WORDS - 1);
    long bit = 1L << (address >>> 3);
    if ((words[word] & bit) != 0) {
      duplicates++;
    }
    words[word] |= bit;
    count++;
    return (address & 7) == 0;
  }

  private boolean turnTo(long page) {
    int slot = slots.get(page);
    if (slot < 0) {
      // half a kilobyte a page: with fewer than 8 objects a page a list is smaller
      if (pageCount >= FREE_PAGES + count / 8) {
        return false;
      }
      if (pageCount == pages.length) {
        pages = Arrays.copyOf(pages, pageCount * 2);
        words = Arrays.copyOf(words, words.length * 2);
      }
      slot = pageCount++;
      pages[slot] = page;
      slots.put(page, slot);
    }
    lastPage = page;
    lastSlot = slot;
    return true;
  }

  /** Adds the bits of a page to those that others collected. */
  void addTo(long[] bits, long page) {
    int slot = slots.get(page);
    for (int w = 0; slot >= 0 && w < PAGE_WORDS; w++) {
      bits[w] |= words[slot * PAGE_WORDS + w];
    }
  }

  /** What was collected, as a list. */
  public long[] list() {
    return Arrays.copyOf(list, listSize);
  }
}
