package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;

/**
 * Who retains more than before: places of the merged dominator trees, each followed down as long as
 * nearly all of its change is in one place below.
 */
final class KeeperChanges {
  private static final double NEARLY_ALL = 0.9;
  private static final int DEEPEST = 60;

  private KeeperChanges() {}

  static List<DiffAnswer.KeeperChange> of(Snapshot before, Snapshot after, int limit)
      throws IOException {
    PlaceTree tree = new PlaceTree(List.of(before, after));
    List<Place> top = new ArrayList<>(tree.root.children);
    top.removeIf(place -> Place.growth(place.bytes) == 0);
    top.sort(Comparator.comparingLong((Place p) -> Math.abs(Place.growth(p.bytes))).reversed());
    List<DiffAnswer.KeeperChange> changes = new ArrayList<>();
    for (Place place : top.subList(0, Math.min(limit, top.size()))) {
      changes.add(row(after, down(tree, place)));
    }
    return changes;
  }

  private static Place down(PlaceTree tree, Place from) throws IOException {
    Place at = from;
    for (int depth = 0; depth < DEEPEST && at.counts[0] == at.counts[1]; depth++) {
      Place next = null;
      for (Place below : tree.children(at)) {
        double share = Place.growth(below.bytes) / (double) Place.growth(at.bytes);
        if (share >= NEARLY_ALL) {
          next = below;
          break;
        }
      }
      if (next == null) {
        return at;
      }
      at = next;
    }
    return at;
  }

  private static DiffAnswer.KeeperChange row(Snapshot after, Place place) {
    StringBuilder path = new StringBuilder();
    for (Place at = place; !at.isTop(); at = at.parent) {
      String step =
          at.parent.isTop()
              ? at.type + (at.via.startsWith("(") ? " " + at.via : " (" + at.via + ")")
              : at.via;
      path.insert(0, step + (path.length() > 0 ? " → " : ""));
    }
    IntList heads = place.heads.get(1);
    String example = "";
    long largest = -1;
    for (int i = 0; i < heads.size(); i++) {
      if (after.retainedBytes(heads.get(i)) > largest) {
        largest = after.retainedBytes(heads.get(i));
        example = after.id(heads.get(i));
      }
    }
    return new DiffAnswer.KeeperChange(
        Families.of(place.type),
        Families.of(path.toString()),
        example,
        place.counts[0],
        place.counts[1],
        place.bytes[0],
        place.bytes[1],
        Place.growth(place.bytes));
  }
}
