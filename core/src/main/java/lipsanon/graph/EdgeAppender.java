package lipsanon.graph;

import lipsanon.array.IntPages;

/**
 * Writes edge lists, one node after another, in the form of {@link ObjectGraph#edges}. One thread.
 */
public final class EdgeAppender {
  private final IntPages edges;
  private int next;
  private int end;
  private int first;
  private int last;

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
    last = -1;
  }

  /** Adds an edge. */
  public void add(int target) {
    if (last >= 0) {
      edges.set(next++, last);
    }
    last = target;
  }

  /** Ends the list and returns what {@link ObjectGraph#firstEdge} should hold for it. */
  public int end() {
    if (last < 0) {
      return ObjectGraph.NO_EDGES;
    }
    edges.set(next++, ~last);
    return first;
  }
}
