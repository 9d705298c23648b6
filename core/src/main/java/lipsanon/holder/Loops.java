package lipsanon.holder;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Which objects are of a place: its heads and what is held by its like, directly or through one or
 * two parts of a library; of arrays, the one in which it goes on. So the nodes of a tree whose
 * children stand in arrays are one place, however deep the tree becomes. Nothing recurses by the
 * depth of the heap.
 */
final class Loops {
  /** Parts between an object and its like, at most. */
  static final int MOST_PARTS = 2;

  private final List<Snapshot> snapshots;
  private final List<DominatorChildren> children;
  private final List<String[]> families;
  private final FamilyTotals totals;

  /**
   * Over a series.
   *
   * @param families by snapshot and type
   */
  Loops(
      List<Snapshot> snapshots,
      List<DominatorChildren> children,
      List<String[]> families,
      FamilyTotals totals) {
    this.snapshots = snapshots;
    this.children = children;
    this.families = families;
    this.totals = totals;
  }

  /** Takes the objects of a place. */
  interface Members {
    /**
     * One object.
     *
     * @param nested whether another object of the place, or of the place above, is above it through
     *     parts between them
     * @param next the array in which it goes on, which is of the place too, or -1
     */
    void member(int node, boolean nested, int next) throws IOException;
  }

  /** Tells all objects of a place in a snapshot. */
  void members(Place place, int s, Members sink) throws IOException {
    IntList heads = place.heads.get(s);
    IntList pending = new IntList(heads.size());
    IntList nested = new IntList();
    for (int i = 0; i < heads.size(); i++) {
      pending.add(heads.get(i));
      nested.add(place.isInner(s, i) ? 1 : 0);
    }
    long[] all = canLoop(place) ? totals.of(place.type) : null;
    long left = all == null ? 0 : all[s] - heads.size();
    DominatorChildren below = children.get(s);
    while (!pending.isEmpty()) {
      int node = pending.removeLast();
      int inside = nested.removeLast();
      int next = LinkedArrays.next(snapshots.get(s), below, node);
      sink.member(node, inside == 1, next);
      for (int i = 0, count = below.count(node); i < count; i++) {
        int child = below.child(node, i);
        if (child == next || isLike(s, place, child)) {
          pending.add(child);
          nested.add(inside);
          left--;
        } else if (left > 0) {
          int before = pending.size();
          collect(s, place, child, MOST_PARTS, pending);
          for (int p = before; p < pending.size(); p++) {
            nested.add(1);
            left--;
            place.loops = true;
          }
        }
      }
    }
  }

  /** The runtime's own collections are in each other for all sorts of reasons. */
  private static boolean canLoop(Place place) {
    return place.loopOf == null
        && (!place.library || LinkedArrays.isShared(place))
        && !place.is(TypeInfo.Trait.PLAIN)
        && !place.is(TypeInfo.Trait.ARRAY);
  }

  /** Adds the likes of a place that a part leads to, through so many parts at most, itself one. */
  private void collect(int s, Place place, int part, int steps, IntList found) {
    if (!isPart(s, place, part)) {
      return;
    }
    DominatorChildren below = children.get(s);
    for (int i = 0, count = below.count(part); i < count; i++) {
      int child = below.child(part, i);
      if (isLike(s, place, child)) {
        found.add(child);
      } else if (steps > 1) {
        collect(s, place, child, steps - 1, found);
      }
    }
  }

  /** Whether a part leads to likes of a place, through so many parts at most, itself one. */
  boolean leads(int s, Place place, int part, int steps) {
    if (steps <= 0 || !canLoop(place) || !isPart(s, place, part)) {
      return false;
    }
    long[] all = totals.of(place.type);
    if (all == null || all[s] <= place.heads.get(s).size()) {
      return false;
    }
    IntList found = new IntList();
    collect(s, place, part, steps, found);
    return !found.isEmpty();
  }

  boolean isLike(int s, Place place, int node) {
    int type = snapshots.get(s).type(node);
    return place.isOfType(families.get(s)[type]) && !snapshots.get(s).types().get(type).plain();
  }

  /**
   * Whether an object is only a part of those of a place: plain arrays are of any but a library's.
   */
  private boolean isPart(int s, Place place, int node) {
    TypeInfo info = info(s, node);
    if (info.plain()) {
      return info.array()
          && !place.heads.get(s).isEmpty()
          && !info(s, place.heads.get(s).get(0)).foreign();
    }
    return info.library() || info.foreign() || info.array();
  }

  private TypeInfo info(int s, int node) {
    return snapshots.get(s).types().get(snapshots.get(s).type(node));
  }
}
