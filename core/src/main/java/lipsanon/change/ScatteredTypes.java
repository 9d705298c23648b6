package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.holder.Finding;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.Families;
import lipsanon.label.TypeFilter;
import lipsanon.question.TypedNodes;

/**
 * The user's own types of which there are exactly so many more with every action, though no place
 * shows it: what holds them has a part for each thread, say, and threads come and go. Only their
 * number in all tells.
 */
final class ScatteredTypes {
  /** With fewer snapshots a number may fit by chance. */
  private static final int LEAST_SNAPSHOTS = 4;

  private static final int MOST_TYPES = 2;

  private final PlaceTree tree;
  private final TypeFilter mine;
  private final int[] actions;

  ScatteredTypes(PlaceTree tree, TypeFilter mine, int[] actions) {
    this.tree = tree;
    this.mine = mine;
    this.actions = actions;
  }

  /**
   * Places that consist of all objects of a type, the largest first.
   *
   * @param explained families of types of which it is known why they grow
   */
  List<Place> places(Set<String> explained) throws IOException {
    List<Snapshot> snapshots = tree.snapshots();
    List<Place> places = new ArrayList<>();
    if (snapshots.size() < LEAST_SNAPSHOTS) {
      return places;
    }
    Map<String, TypeInfo> own = new TreeMap<>();
    for (TypeInfo type : snapshots.get(snapshots.size() - 1).types()) {
      String family = Families.of(type.name());
      if (!explained.contains(family) && isExact(type, family)) {
        own.putIfAbsent(family, type);
      }
    }
    for (Map.Entry<String, TypeInfo> type : own.entrySet()) {
      places.add(tree.ofType(type.getValue(), objects(type.getKey())));
    }
    places.sort(Comparator.comparingLong((Place place) -> Place.growth(place.bytes)).reversed());
    return places.subList(0, Math.min(MOST_TYPES, places.size()));
  }

  /** Whether there are exactly so many more with every action of one of the user's own types. */
  private boolean isExact(TypeInfo type, String family) {
    long[] counts = tree.totals().of(family);
    return mine.isMine(type)
        && !type.array()
        && counts != null
        && Trend.of(counts, actions).exactPerAction() > 0;
  }

  /**
   * All objects of a type of which some pile up in one place, though not evenly: what holds them
   * has several parts.
   *
   * @return null if all do not grow evenly either
   */
  Place whole(Finding part) throws IOException {
    List<Snapshot> snapshots = tree.snapshots();
    long[] counts = part.counts().stream().mapToLong(Long::longValue).toArray();
    if (snapshots.size() < LEAST_SNAPSHOTS || Trend.of(counts, actions).exactPerAction() > 0) {
      return null;
    }
    for (TypeInfo type : snapshots.get(snapshots.size() - 1).types()) {
      String family = Families.of(type.name());
      boolean same = family.equals(part.what()) && isExact(type, family);
      if (same && Place.growth(tree.totals().of(family)) >= Place.growth(counts)) {
        return tree.ofType(type, objects(family));
      }
    }
    return null;
  }

  /**
   * By snapshot: the objects of a family of types that are kept, from the end of the heap, where
   * those are that came last: one of them is shown.
   */
  private List<IntList> objects(String family) throws IOException {
    List<IntList> all = new ArrayList<>();
    for (Snapshot snapshot : tree.snapshots()) {
      IntList objects = new IntList();
      new TypedNodes(snapshot, t -> Families.of(snapshot.types().get(t).name()).equals(family))
          .each(0, snapshot.objectCount(), objects::add);
      IntList lastFirst = new IntList(objects.size());
      while (!objects.isEmpty()) {
        lastFirst.add(objects.removeLast());
      }
      all.add(lastFirst);
    }
    return all;
  }
}
