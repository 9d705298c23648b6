package lipsanon.array;

import java.util.Arrays;

/**
 * Ints in pages, for sequences whose final length is not known beforehand. Addressed by one int, so
 * at most 2^31 - 1 elements. Pages are given out by {@link #allocate}, which is safe for use by
 * several threads; two threads may then write different pages.
 */
public final class IntPages {
  /** A page holds 2^20 elements. */
  public static final int PAGE_SHIFT = 20;

  /** Elements of one page. */
  public static final int PAGE = 1 << PAGE_SHIFT;

  private static final int MASK = PAGE - 1;

  private final Space space;
  private volatile IntArray[] pages = new IntArray[16];
  private int count;

  /** Empty. */
  public IntPages(Space space) {
    this.space = space;
  }

  /**
   * Adds pages that follow each other.
   *
   * @return the index of the first element of the first new page
   * @throws TooManyElementsException if the sum would pass 2^31 - 1 elements
   */
  public synchronized int allocate(int pageCount) {
    if ((long) count + pageCount >= 1 << (31 - PAGE_SHIFT)) {
      throw new TooManyElementsException();
    }
    int first = count;
    if (count + pageCount > pages.length) {
      pages = Arrays.copyOf(pages, Math.max(pages.length * 2, count + pageCount));
    }
    for (int i = 0; i < pageCount; i++) {
      pages[count++] = space.ints(PAGE);
    }
    // publishes the elements of the array to other threads
    pages = pages;
    return first << PAGE_SHIFT;
  }

  /** The element at {@code index}. */
  public int get(int index) {
    return pages[index >>> PAGE_SHIFT].get(index & MASK);
  }

  /** A page, for one that writes element after element. */
  public IntArray page(int number) {
    return pages[number];
  }

  /** A view for one thread's loops: cheaper than this object's own accessors. */
  public Cursor cursor() {
    return new Cursor(pages);
  }

  /** Bytes that the pages take. */
  public synchronized long bytes() {
    return (long) count << (PAGE_SHIFT + 2);
  }

  /**
   * A view for one thread's loops that read one element after another, or nearly so: it keeps the
   * page at hand.
   */
  public Runner runner() {
    return new Runner(pages);
  }

  /** Reads pages that were allocated before the runner was made. */
  public static final class Runner {
    private final IntArray[] pages;

    /** The page at hand as an array; null if it is not on the heap. */
    private int[] page;

    /** The index of that page's first element. */
    private int base = -1;

    private Runner(IntArray[] pages) {
      this.pages = pages;
    }

    /** The element at {@code index}. */
    public int get(int index) {
      return (index & -PAGE) == base ? page[index & MASK] : turn(index);
    }

    private int turn(int index) {
      IntArray to = pages[index >>> PAGE_SHIFT];
      page = to.heap();
      base = page == null ? -1 : index & -PAGE;
      return to.get(index & MASK);
    }
  }

  /** Reads pages that were allocated before the cursor was made. */
  public static final class Cursor {
    private final IntArray[] pages;

    private Cursor(IntArray[] pages) {
      this.pages = pages;
    }

    /** The element at {@code index}. */
    public int get(int index) {
      return pages[index >>> PAGE_SHIFT].get(index & MASK);
    }
  }
}
