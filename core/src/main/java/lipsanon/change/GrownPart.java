package lipsanon.change;

import java.io.IOException;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.holder.NearContainers;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;

/**
 * Of many objects that look alike, few of which came during a series: those in the container that
 * has what came. Objects of two snapshots cannot be matched where a collector moves them, but the
 * names of their containers can.
 */
final class GrownPart {
  /** More objects are not looked up one by one. */
  private static final int MOST_OBJECTS = 10_000;

  /** Containers that may have what came. */
  private static final int MOST_TRIED = 12;

  /** Containers of the first snapshot that are named. */
  private static final int MOST_NAMED = 64;

  private static final double NEARLY_ALL = 0.9;

  private final Snapshot first;
  private final Snapshot last;
  private final Ownership ownership;
  private final TypeFilter mine;

  /**
   * For a series.
   *
   * @param ownership of the last snapshot
   */
  GrownPart(List<Snapshot> snapshots, Ownership ownership, TypeFilter mine) {
    this.first = snapshots.get(0);
    this.last = snapshots.get(snapshots.size() - 1);
    this.ownership = ownership;
    this.mine = mine;
  }

  /**
   * The part.
   *
   * @param before the objects of the first snapshot
   * @param after those of the last one, at least half of which were there before
   * @return null if no single container has nearly all that came, or it has most of the others too
   */
  IntList of(IntList before, IntList after) throws IOException {
    int grown = after.size() - before.size();
    if (grown <= 0 || grown * 2 > after.size() || after.size() > MOST_OBJECTS) {
      return null;
    }
    NearContainers now = new NearContainers(last, ownership);
    List<Map.Entry<Integer, Integer>> tried =
        now.counts(after).entrySet().stream()
            .filter(entry -> entry.getValue() >= NEARLY_ALL * grown)
            .filter(entry -> entry.getValue() * 2 <= after.size())
            .sorted(Map.Entry.comparingByValue())
            .limit(MOST_TRIED)
            .toList();
    if (tried.isEmpty()) {
      return null;
    }
    Map<String, Integer> had = named(before);
    for (Map.Entry<Integer, Integer> entry : tried) {
      String key = key(now, last, entry.getKey());
      if (entry.getValue() - had.getOrDefault(key, 0) >= NEARLY_ALL * grown) {
        return now.in(entry.getKey(), after);
      }
    }
    return null;
  }

  /** By container in words: how many of the objects of the first snapshot it had. */
  private Map<String, Integer> named(IntList before) throws IOException {
    NearContainers then = new NearContainers(first, new Ownership(first, mine));
    List<Map.Entry<Integer, Integer>> most =
        then.counts(before).entrySet().stream()
            .sorted(Map.Entry.<Integer, Integer>comparingByValue().reversed())
            .limit(MOST_NAMED)
            .toList();
    Map<String, Integer> had = new HashMap<>();
    for (Map.Entry<Integer, Integer> entry : most) {
      had.merge(key(then, first, entry.getKey()), entry.getValue(), Integer::sum);
    }
    return had;
  }

  private static String key(NearContainers containers, Snapshot snapshot, int container)
      throws IOException {
    return Families.of(snapshot.typeName(container)) + " of " + containers.name(container);
  }
}
