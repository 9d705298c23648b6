package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * The merged dominator trees of a series, opened place by place where a search goes. Objects of
 * different snapshots are matched by how they are held, never by address.
 */
final class PlaceTree {
  /** An object with more children than this has its references read once, not once per child. */
  private static final int MANY_CHILDREN = 48;

  private final List<Snapshot> snapshots;
  private final List<DominatorChildren> children = new ArrayList<>();
  final Place root;

  PlaceTree(List<Snapshot> snapshots) throws IOException {
    this.snapshots = snapshots;
    this.root = new Place(null, "", "", true, false, snapshots.size());
    for (int s = 0; s < snapshots.size(); s++) {
      children.add(new DominatorChildren(snapshots.get(s)));
      root.bytes[s] = snapshots.get(s).totals().retainedBytes();
      root.counts[s] = 1;
    }
    Groups groups = new Groups(root);
    for (int s = 0; s < snapshots.size(); s++) {
      IntList top = children.get(s).top();
      for (int i = 0; i < top.size(); i++) {
        groups.add(s, top.get(i), topVia(snapshots.get(s), top.get(i)));
      }
    }
    root.children = groups.places();
  }

  /** Threads of a pool are the same place: numbers in their names do not count. */
  private static String topVia(Snapshot snapshot, int node) throws IOException {
    String text = Labels.rootText(snapshot, node);
    if (text.equals("thread")) {
      return "thread " + Labels.of(snapshot, node).replaceAll("[0-9]+", "#");
    }
    return text.isEmpty() ? Place.SHARED : text;
  }

  /** The places below a place. */
  List<Place> children(Place place) throws IOException {
    if (place.children == null) {
      Groups groups = new Groups(place);
      for (int s = 0; s < snapshots.size(); s++) {
        open(place, s, groups);
      }
      place.children = groups.places();
    }
    return place.children;
  }

  /** Follows the likes of a place's heads, and groups what else they dominate. */
  private void open(Place place, int s, Groups groups) throws IOException {
    Snapshot snapshot = snapshots.get(s);
    DominatorChildren below = children.get(s);
    IntList pending = copyOfHeads(place, s);
    while (!pending.isEmpty()) {
      int node = pending.removeLast();
      int count = below.count(node);
      Set<Integer> direct = count > MANY_CHILDREN ? targets(snapshot, node) : null;
      boolean array = snapshot.types().get(snapshot.type(node)).array();
      for (int i = 0; i < count; i++) {
        int child = below.child(node, i);
        if (isLike(snapshot, place, child)) {
          pending.add(child);
        } else {
          groups.add(s, child, via(snapshot, node, child, array, direct));
        }
      }
    }
  }

  private static IntList copyOfHeads(Place place, int s) {
    IntList heads = place.heads.get(s);
    IntList copy = new IntList(heads.size());
    for (int i = 0; i < heads.size(); i++) {
      copy.add(heads.get(i));
    }
    return copy;
  }

  private static boolean isLike(Snapshot snapshot, Place place, int child) {
    return snapshot.typeName(child).equals(place.type) && !place.type.equals("java.lang.Class");
  }

  private static Set<Integer> targets(Snapshot snapshot, int node) throws IOException {
    Set<Integer> targets = new HashSet<>();
    if (!snapshot.types().get(snapshot.type(node)).array()) {
      snapshot.objects().references(node, reference -> targets.add(reference.target()));
    }
    return targets;
  }

  private static String via(
      Snapshot snapshot, int node, int child, boolean array, Set<Integer> direct)
      throws IOException {
    if (array) {
      // an array dominates hardly anything but its elements; to look each one up would cost too
      // much
      return "[]";
    }
    if (direct != null && !direct.contains(child)) {
      return Place.SHARED;
    }
    Via via = snapshot.objects().viaTo(node, child);
    return via == null ? Place.SHARED : via.group();
  }

  /** The size of a place with all likes of its heads. */
  private long closure(Place place, int s, long[] shallow) {
    Snapshot snapshot = snapshots.get(s);
    DominatorChildren below = children.get(s);
    IntList pending = copyOfHeads(place, s);
    long count = 0;
    while (!pending.isEmpty()) {
      int node = pending.removeLast();
      count++;
      shallow[s] += snapshot.shallowBytes(node);
      for (int i = 0, size = below.count(node); i < size; i++) {
        if (isLike(snapshot, place, below.child(node, i))) {
          pending.add(below.child(node, i));
        }
      }
    }
    return count;
  }

  List<Snapshot> snapshots() {
    return snapshots;
  }

  DominatorChildren below(int s) {
    return children.get(s);
  }

  /** Groups objects into places below one place. */
  private final class Groups {
    private final Place parent;
    private final Map<String, Place> byKey = new HashMap<>();

    Groups(Place parent) {
      this.parent = parent;
    }

    void add(int s, int node, String via) throws IOException {
      Snapshot snapshot = snapshots.get(s);
      TypeInfo info = snapshot.types().get(snapshot.type(node));
      String type = info.name();
      boolean library = info.library();
      if (type.equals("java.lang.Class")) {
        type = Labels.of(snapshot, node);
        library = false;
      }
      String name = type;
      Place place = byKey.get(type + "\n" + via);
      if (place == null) {
        place = new Place(parent, name, via, library, info.observer(), snapshots.size());
        byKey.put(type + "\n" + via, place);
      }
      place.heads.get(s).add(node);
      place.bytes[s] += snapshot.retainedBytes(node);
    }

    List<Place> places() {
      List<Place> places = new ArrayList<>(byKey.values());
      for (Place place : places) {
        for (int s = 0; s < snapshots.size(); s++) {
          place.counts[s] = closure(place, s, place.shallow);
        }
      }
      places.sort((a, b) -> Long.compare(Place.growth(b.bytes), Place.growth(a.bytes)));
      return places;
    }
  }
}
