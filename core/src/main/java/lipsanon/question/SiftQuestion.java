package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.label.ObjectRows;
import lipsanon.label.SnapshotSummary;
import lipsanon.select.Removal;
import lipsanon.select.SetSize;

/** Lists objects of a selection, the largest first, a page at a time. */
public final class SiftQuestion {
  /** In larger heaps it is not counted how many objects a set frees: that goes through them all. */
  private static final int COUNTED = 3_000_000;

  private SiftQuestion() {}

  /** What objects are listed by, the largest figure first. */
  public enum Sort {
    /** What they retain. */
    RETAINED,
    /** Their own sizes. */
    SHALLOW,
    /** How far from a root they lie. */
    DEPTH,
    /** Their order in the snapshot. */
    ORDER
  }

  /**
   * What to list.
   *
   * @param selection in words
   * @param partial whether the set is only a part of what is selected
   * @param sort by what
   * @param skip rows to leave out
   * @param limit rows at most
   */
  public record Options(String selection, boolean partial, Sort sort, long skip, int limit) {}

  /** Makes rows one by one, for lists that are longer than a page. */
  public interface Rows {
    /** The row of an object. */
    ObjectRow row(int node) throws IOException;
  }

  /** Rows of a snapshot's objects. */
  public static Rows rows(Snapshot snapshot) {
    return new ObjectRows(snapshot)::row;
  }

  /** Answers for some objects. */
  public static SiftAnswer ask(Snapshot snapshot, BitSet nodes, Options options)
      throws IOException {
    ObjectRows rows = new ObjectRows(snapshot);
    List<ObjectRow> page = new ArrayList<>();
    long[] order = order(snapshot, nodes, options.sort(), options.skip() + options.limit());
    for (long at = options.skip(); at < order.length; at++) {
      page.add(rows.row((int) order[(int) at]));
    }
    long bytes = 0;
    long unretained = 0;
    long count = 0;
    NodeCursor cursor = snapshot.cursor();
    for (int n = nodes.nextSetBit(0); n >= 0; n = nodes.nextSetBit(n + 1)) {
      bytes += cursor.shallowBytes(n);
      unretained += cursor.depth(n) == 0 ? 1 : 0;
      count++;
    }
    boolean small = snapshot.objectCount() <= COUNTED;
    Removal.Freed freed = small ? Removal.of(snapshot, nodes) : null;
    return new SiftAnswer(
        SnapshotSummary.of(snapshot),
        options.selection(),
        count,
        bytes,
        small ? freed.bytes() : SetSize.bytes(snapshot, nodes),
        small ? freed.count() : -1,
        unretained,
        options.partial(),
        Math.min(options.skip(), count),
        page);
  }

  /**
   * The first so many objects in an order: those with the largest figure, of equal ones the first
   * in the snapshot.
   */
  public static long[] order(Snapshot snapshot, BitSet nodes, Sort sort, long first) {
    int size = nodes.cardinality();
    int wanted = (int) Math.min(size, Math.min(first, Integer.MAX_VALUE - 8));
    // by figure and object: the least of the best stands at the top of a heap
    long[] figures = new long[wanted];
    int[] objects = new int[wanted];
    int filled = 0;
    NodeCursor cursor = snapshot.cursor();
    for (int n = nodes.nextSetBit(0); n >= 0 && wanted > 0; n = nodes.nextSetBit(n + 1)) {
      long figure = figure(cursor, n, sort);
      if (filled < wanted) {
        figures[filled] = figure;
        objects[filled++] = n;
        if (filled == wanted) {
          for (int i = wanted / 2 - 1; i >= 0; i--) {
            sink(figures, objects, i, wanted);
          }
        }
      } else if (figure > figures[0]) {
        figures[0] = figure;
        objects[0] = n;
        sink(figures, objects, 0, wanted);
      } else if (sort == Sort.ORDER) {
        break;
      }
    }
    Long[] places = new Long[wanted];
    Arrays.setAll(places, i -> (long) i);
    Arrays.sort(
        places,
        (a, b) -> {
          int by = Long.compare(figures[b.intValue()], figures[a.intValue()]);
          return by != 0 ? by : Integer.compare(objects[a.intValue()], objects[b.intValue()]);
        });
    long[] order = new long[wanted];
    for (int i = 0; i < wanted; i++) {
      order[i] = objects[places[i].intValue()];
    }
    return order;
  }

  private static long figure(NodeCursor cursor, int node, Sort sort) {
    return switch (sort) {
      case RETAINED -> cursor.retainedBytes(node);
      case SHALLOW -> cursor.shallowBytes(node);
      case DEPTH -> cursor.depth(node);
      case ORDER -> 0;
    };
  }

  /** Whether an entry goes before another: it is worse, so it leaves first. */
  private static boolean worse(long[] figures, int[] objects, int a, int b) {
    return figures[a] < figures[b] || figures[a] == figures[b] && objects[a] > objects[b];
  }

  private static void sink(long[] figures, int[] objects, int from, int size) {
    int at = from;
    while (true) {
      int least = at;
      for (int child = 2 * at + 1; child <= 2 * at + 2 && child < size; child++) {
        if (worse(figures, objects, child, least)) {
          least = child;
        }
      }
      if (least == at) {
        return;
      }
      long figure = figures[at];
      figures[at] = figures[least];
      figures[least] = figure;
      int object = objects[at];
      objects[at] = objects[least];
      objects[least] = object;
      at = least;
    }
  }
}
