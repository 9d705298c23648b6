package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntPages;

/**
 * Writes edge lists, one node after another, in the form of {@link ObjectGraph#edges}. One thread.
 */
public final class EdgeAppender {
  private final IntPages edges;
  private int next;
  private int end;
  private int first;

  /** The page that the next edge goes to, and its number: looked up once, not for each edge. */
  private IntArray page;

  private int pageNumber = -1;

  /** Appends to pages that others may append to as well, each to pages of its own. */
  public EdgeAppender(IntPages edges) {
    this.edges = edges;
  }

  /** Begins the list of a node that has at most so many edges. */
  public void begin(int atMost) {
    if (atMost > end - next) {
      int pages = (int) (((long) atMost + IntPages.PAGE - 1) >>> IntPages.PAGE_SHIFT);
      next = edges.allocate(pages);
      end = next + pages * IntPages.PAGE;
    }
    first = next;
  }

  /** Adds an edge. */
  public void add(int target) {
    int at = next++;
    if (at >>> IntPages.PAGE_SHIFT != pageNumber) {
      pageNumber = at >>> IntPages.PAGE_SHIFT;
      page = edges.page(pageNumber);
    }
    page.set(at & IntPages.PAGE - 1, target);
  }

  /** Ends the list and returns what {@link ObjectGraph#firstEdge} should hold for it. */
  public int end() {
    if (next == first) {
      return ObjectGraph.NO_EDGES;
    }
    // the page is that of the edge which was added last
    int last = next - 1 & IntPages.PAGE - 1;
    page.set(last, ~page.get(last));
    return first;
  }
}
