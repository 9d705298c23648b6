package lipsanon.array;

import java.util.Arrays;

/**
 * A growing row of pairs of ints that lives in a {@link Space}: on the heap or in scratch files. It
 * grows by pages, so that nothing is copied; both ints of a pair stand side by side. Not safe for
 * use by several threads.
 */
public final class IntPairList {
  /** A page holds 2^17 pairs. */
  private static final int SHIFT = 17;

  private static final int PAGE = 1 << SHIFT;
  private static final int MASK = PAGE - 1;

  private final Space space;
  private IntArray[] pages = new IntArray[4];
  private IntArray last;
  private int size;

  /** Empty; takes no memory yet. */
  public IntPairList(Space space) {
    this.space = space;
  }

  /**
   * Appends.
   *
   * @return the number of pairs now
   * @throws TooManyElementsException beyond 2^31 - 2^17 pairs
   */
  public int add(int first, int second) {
    int at = (size & MASK) * 2;
    if (at == 0) {
      addPage();
    }
    last.set(at, first);
    last.set(at + 1, second);
    return ++size;
  }

  private void addPage() {
    int page = size >>> SHIFT;
    if (page == Integer.MAX_VALUE >>> SHIFT) {
      throw new TooManyElementsException();
    }
    if (page == pages.length) {
      pages = Arrays.copyOf(pages, page * 2);
    }
    last = space.ints(2 * PAGE);
    pages[page] = last;
  }

  /** The first int of the pair at {@code index}. */
  public int first(int index) {
    return pages[index >>> SHIFT].get((index & MASK) * 2);
  }

  /** The second int of the pair at {@code index}. */
  public int second(int index) {
    return pages[index >>> SHIFT].get((index & MASK) * 2 + 1);
  }

  /** The number of pages, for loops over all pairs. */
  public int pages() {
    return size + MASK >>> SHIFT;
  }

  /** The pairs of a page, one after another: those from {@code page} x 2^17 on. */
  public IntArray page(int page) {
    return pages[page];
  }

  /** The number of pairs in a page. */
  public int pageSize(int page) {
    return Math.min(PAGE, size - (page << SHIFT));
  }

  /** The number of pairs. */
  public int size() {
    return size;
  }

  /** Forgets all pairs and gives the room back. */
  public void release() {
    for (IntArray page : pages) {
      if (page != null) {
        space.release(page);
      }
    }
    pages = new IntArray[4];
    last = null;
    size = 0;
  }
}
