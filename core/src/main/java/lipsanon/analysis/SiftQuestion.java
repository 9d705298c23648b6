package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;
import java.util.function.ToLongFunction;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/** Lists objects of some types, the largest first, a page at a time. */
public final class SiftQuestion {
  private SiftQuestion() {}

  /**
   * What to list.
   *
   * @param selection in words
   * @param byShallow whether the size of an object alone counts, not what it retains
   * @param skip rows to leave out
   * @param limit rows at most
   */
  public record Options(String selection, boolean byShallow, int skip, int limit) {}

  /** Answers for some objects. */
  public static SiftAnswer ask(Snapshot snapshot, IntList nodes, Options options)
      throws IOException {
    ToLongFunction<Integer> size =
        options.byShallow() ? snapshot::shallowBytes : snapshot::retainedBytes;
    Comparator<Integer> largest =
        Comparator.comparingLong(size).reversed().thenComparing(Comparator.naturalOrder());
    int kept = (int) Math.min(nodes.size(), (long) options.skip() + options.limit());
    PriorityQueue<Integer> best = new PriorityQueue<>(largest.reversed());
    long bytes = 0;
    for (int i = 0; i < nodes.size(); i++) {
      bytes += snapshot.shallowBytes(nodes.get(i));
      best.add(nodes.get(i));
      if (best.size() > kept) {
        best.poll();
      }
    }
    List<Integer> sorted = new ArrayList<>(best);
    sorted.sort(largest);
    ObjectRows rows = new ObjectRows(snapshot);
    List<ObjectRow> page = new ArrayList<>();
    for (int i = options.skip(); i < sorted.size(); i++) {
      page.add(rows.row(sorted.get(i)));
    }
    return new SiftAnswer(
        SnapshotSummary.of(snapshot),
        options.selection(),
        nodes.size(),
        bytes,
        Math.min(options.skip(), nodes.size()),
        page);
  }

  /**
   * Those of some objects that an earlier snapshot of the same run does not have.
   *
   * @return null if identifiers are not stable between the two
   */
  public static IntList newSince(Snapshot before, Snapshot after, IntList nodes)
      throws IOException {
    Identities identities = Identities.of(before, after);
    if (identities == null) {
      return null;
    }
    IntList added = new IntList();
    for (int i = 0; i < nodes.size(); i++) {
      if (identities.added.get(nodes.get(i))) {
        added.add(nodes.get(i));
      }
    }
    return added;
  }
}
