package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.select.Selections;

/** How the objects of a type are held, and what they refer to, in two snapshots. */
final class ReferenceChanges {
  private ReferenceChanges() {}

  /** Rows for one type, the largest changes first. */
  static List<DiffAnswer.ReferenceChange> of(
      Snapshot before, Snapshot after, String type, int limit) throws IOException {
    Map<String, long[]> counts = new TreeMap<>();
    boolean all = count(before, type, counts, 0) & count(after, type, counts, 1);
    List<DiffAnswer.ReferenceChange> changes = new ArrayList<>();
    counts.forEach(
        (key, sums) -> {
          if (sums[0] != sums[1]) {
            String[] parts = key.split("\n", 3);
            changes.add(
                new DiffAnswer.ReferenceChange(
                    type, parts[0], parts[1], parts[2], sums[0], sums[1], sums[1] - sums[0], !all));
          }
        });
    changes.sort(
        Comparator.comparingLong((DiffAnswer.ReferenceChange c) -> Math.abs(c.difference()))
            .reversed());
    return List.copyOf(changes.subList(0, Math.min(limit, changes.size())));
  }

  /** Counts the references of a type's objects; whether these were all. */
  private static boolean count(Snapshot snapshot, String type, Map<String, long[]> counts, int slot)
      throws IOException {
    List<Integer> types = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.types().get(t).name().equals(type)) {
        types.add(t);
      }
    }
    IntList nodes = Selections.objects(snapshot, types);
    int[] left = {DiffQuestion.REFERENCES};
    for (int i = 0; i < nodes.size(); i++) {
      int node = nodes.get(i);
      IntList referring = snapshot.inbound(node);
      for (int k = 0; k < referring.size() && left[0] > 0; k++, left[0]--) {
        incoming(snapshot, referring.get(k), node, counts, slot);
      }
      if (left[0] <= 0) {
        return false;
      }
      snapshot
          .objects()
          .references(
              node,
              reference -> {
                if (reference.via().kind() != Via.Kind.INTERNAL) {
                  String key =
                      "refers to\n"
                          + reference.via().group()
                          + "\n"
                          + snapshot.typeName(reference.target());
                  counts.computeIfAbsent(key, k -> new long[2])[slot]++;
                  left[0]--;
                }
              });
    }
    return true;
  }

  private static void incoming(
      Snapshot snapshot, int from, int node, Map<String, long[]> counts, int slot)
      throws IOException {
    String fromType = snapshot.typeName(from);
    String via;
    if (snapshot.types().get(snapshot.type(from)).array()) {
      via = "[]";
    } else {
      Via found = snapshot.objects().viaTo(from, node);
      via = found == null ? "(weakly)" : found.group();
    }
    counts.computeIfAbsent("held by\n" + via + "\n" + fromType, key -> new long[2])[slot]++;
  }
}
