package lipsanon.holder;

import java.io.IOException;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Takes from a table of many sorts of things the sort that grows: the entries are told apart by the
 * types of what they refer to. In the registry of a program's services that is what tells the one
 * that is registered ever anew from hundreds of others.
 */
final class EntryParts {
  /** Entries that are looked at in each snapshot at most. */
  private static final int MOST_ENTRIES = 100_000;

  private static final int MOST_REFERENCES = 12;

  /** Of the growth this part is of the one sort at least. */
  private static final double LEAST_SHARE = 0.9;

  /** Fewer others do not hide what a table is about. */
  private static final double LEAST_OTHERS = 0.2;

  private final List<Snapshot> snapshots;
  private final List<DominatorChildren> children;
  private final List<String[]> families;
  private final Loops loops;

  EntryParts(
      List<Snapshot> snapshots,
      List<DominatorChildren> children,
      List<String[]> families,
      Loops loops) {
    this.snapshots = snapshots;
    this.children = children;
    this.families = families;
    this.loops = loops;
  }

  /**
   * The entries of the sort that grows, counted.
   *
   * @return null if most of the table is of that sort, or no single sort grows
   */
  Place grown(Place place) throws IOException {
    if (!isTable(place)) {
      return null;
    }
    Map<String, Place> parts = new LinkedHashMap<>();
    for (int s = 0; s < snapshots.size(); s++) {
      addSorts(place, s, parts);
    }
    Place best = null;
    for (Place part : parts.values()) {
      best = best == null || grownBy(part) > grownBy(best) ? part : best;
    }
    long others = place.counts[0] - best.counts[0];
    boolean most = grownBy(best) >= LEAST_SHARE * grownBy(place);
    return most && others >= LEAST_OTHERS * place.counts[snapshots.size() - 1] ? best : null;
  }

  private static long grownBy(Place place) {
    return Place.growth(place.counts);
  }

  /** Whether a place has entries of a table, and more at the end. */
  private boolean isTable(Place place) {
    int last = snapshots.size() - 1;
    boolean table = place.loopOf == null && !place.loops && grownBy(place) > 0;
    for (int s = 0; s <= last && table; s++) {
      table = !place.heads.get(s).isEmpty() && place.counts[s] <= MOST_ENTRIES;
    }
    if (!table) {
      return false;
    }
    Snapshot snapshot = snapshots.get(last);
    TypeInfo type = snapshot.types().get(snapshot.type(place.heads.get(last).get(0)));
    return type.passage() && !type.array();
  }

  /** Adds the entries of a snapshot to the places of their sorts. */
  private void addSorts(Place place, int s, Map<String, Place> parts) throws IOException {
    Snapshot snapshot = snapshots.get(s);
    Map<Integer, Place> known = new HashMap<>();
    loops.members(
        place,
        s,
        (node, nested, next) -> {
          Place part = parts.computeIfAbsent(sort(s, node), key -> place.part());
          known.put(node, part);
          // those that hang on an entry of the same sort are reached through it
          if (known.get(snapshot.dominator(node)) != part) {
            part.heads.get(s).add(node);
          }
          part.counts[s]++;
          part.shallow[s] += snapshot.shallowBytes(node);
          part.bytes[s] += snapshot.retainedBytes(node);
          DominatorChildren below = children.get(s);
          for (int i = 0, count = below.count(node); i < count; i++) {
            int child = below.child(node, i);
            if (loops.isLike(s, place, child)) {
              part.bytes[s] -= snapshot.retainedBytes(child);
            }
          }
        });
  }

  /** The types of what an entry refers to, but for other entries. */
  private String sort(int s, int node) throws IOException {
    Snapshot snapshot = snapshots.get(s);
    Set<String> types = new TreeSet<>();
    int[] left = {MOST_REFERENCES};
    snapshot
        .objects()
        .references(
            node,
            reference -> {
              int target = reference.target();
              boolean entry = snapshot.type(target) == snapshot.type(node);
              if (left[0]-- > 0 && !entry && !snapshot.classNodes().contains(target)) {
                types.add(families.get(s)[snapshot.type(target)]);
              }
            });
    return String.join(",", types);
  }
}
