package leakyard.library;

import leakyard.Program;
import org.eclipse.collections.impl.list.mutable.FastList;
import org.eclipse.collections.impl.map.mutable.UnifiedMap;

/** A map of lists of another library. */
public final class Ledger implements Program {
  /** Ready to act. */
  public Ledger() {}

  private static final Book BOOK = new Book();

  static final class Book {
    private final UnifiedMap<String, FastList<Entry>> pages = UnifiedMap.newMap();
  }

  record Entry(String text, long[] sums) {}

  @Override
  public void act(int number) {
    BOOK.pages
        .getIfAbsentPut("page " + number % 4, FastList::newList)
        .add(new Entry("call " + number, new long[60]));
  }

  @Override
  public void release() {
    BOOK.pages.clear();
  }
}
