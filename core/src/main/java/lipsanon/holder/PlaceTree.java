package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Links;
import lipsanon.label.Threads;

/**
 * The merged dominator trees of a series, opened place by place where a search goes. Objects of
 * different snapshots are matched by how they are held, never by address.
 */
public final class PlaceTree {
  /** An object with more children than this has its references read once, not once per child. */
  private static final int MANY_CHILDREN = 48;

  /** Places that are opened at most in search of one that vanished. */
  private static final int MOST_OPENED = 400;

  /** Places are like each other if so many steps above them are. */
  private static final int LIKE_STEPS = 3;

  private static final Via ELEMENT = new Via(Via.Kind.ELEMENT, "", "", -1);

  private final List<Snapshot> snapshots;
  private final ReferenceGroups references = new ReferenceGroups();
  private final List<DominatorChildren> children = new ArrayList<>();
  private final FamilyTotals totals;
  private final Loops loops;
  private final SharedPlaces shared;
  private final EntryParts entries;

  /** By snapshot and type: the family, which costs too much to be told for each object. */
  private final List<String[]> families = new ArrayList<>();

  public final Place root;

  public PlaceTree(List<Snapshot> snapshots) throws IOException {
    this.snapshots = snapshots;
    this.totals = FamilyTotals.of(snapshots);
    for (Snapshot snapshot : snapshots) {
      families.add(
          snapshot.types().stream().map(type -> Families.of(type.name())).toArray(String[]::new));
    }
    this.root = new Place(null, "", "", true, Set.of(), snapshots.size());
    for (int s = 0; s < snapshots.size(); s++) {
      children.add(new DominatorChildren(snapshots.get(s)));
      root.bytes[s] = snapshots.get(s).totals().retainedBytes();
      root.counts[s] = 1;
    }
    this.shared = new SharedPlaces(snapshots, references);
    this.loops = new Loops(snapshots, children, families, totals);
    this.entries = new EntryParts(snapshots, children, families, loops);
    PlaceGroups groups = new PlaceGroups(snapshots, families, root);
    for (int s = 0; s < snapshots.size(); s++) {
      IntList top = children.get(s).top();
      for (int i = 0; i < top.size(); i++) {
        groups.add(s, top.get(i), topVia(snapshots.get(s), top.get(i)), false, false);
      }
    }
    root.children = counted(groups.places());
  }

  /** Threads of a pool are the same place: numbers in their names do not count. */
  private static String topVia(Snapshot snapshot, int node) throws IOException {
    String text = Labels.rootText(snapshot, node);
    if (text.equals(RootInfo.THREAD)) {
      return "thread " + Threads.family(snapshot, node);
    }
    return text.isEmpty() ? Place.SHARED : text;
  }

  /** The places below a place. */
  public List<Place> children(Place place) throws IOException {
    if (place.children == null) {
      PlaceGroups groups = new PlaceGroups(snapshots, families, place);
      for (int s = 0; s < snapshots.size(); s++) {
        open(place, s, groups);
      }
      place.children = counted(groups.places());
    }
    return place.children;
  }

  /**
   * The places that one is made of whose objects have no more in common than that each is held from
   * several sides; none if it cannot be taken apart.
   */
  public List<Place> parts(Place place) throws IOException {
    return counted(new ArrayList<>(shared.parts(place)));
  }

  /** Of entries of a table with many sorts of things those of the sort that grows; else all. */
  public Place grown(Place place) throws IOException {
    Place part = entries.grown(place);
    return part == null ? place : part;
  }

  /** Follows the likes of a place's heads, and groups what else they dominate. */
  private void open(Place place, int s, PlaceGroups groups) throws IOException {
    Snapshot snapshot = snapshots.get(s);
    DominatorChildren below = children.get(s);
    Place above = place.loopOf == null ? place : place.loopOf;
    int parts = Loops.MOST_PARTS - (place.loopOf == null ? 0 : place.stepsBelow(place.loopOf));
    loops.members(
        place,
        s,
        (node, nested, next) -> {
          int count = below.count(node);
          Map<Integer, Via> direct = count > MANY_CHILDREN ? vias(snapshot, node) : null;
          TypeInfo type = snapshot.types().get(snapshot.type(node));
          boolean array = type.array();
          boolean collection = type.is(TypeInfo.Trait.COLLECTION);
          for (int i = 0; i < count; i++) {
            int child = below.child(node, i);
            if (child == next || loops.isLike(s, place, child) || loops.isLike(s, above, child)) {
              continue;
            }
            Via via = via(snapshot, node, child, array, direct);
            // the first and the last part of a collection are parts like those between them
            boolean part = collection && (via == null || via.kind() == Via.Kind.FIELD);
            String text =
                part ? type.name() + " (part)" : via == null ? Place.SHARED : references.of(via);
            boolean named = via != null && via.kind() == Via.Kind.PROPERTY;
            Place added = groups.add(s, child, text, named, nested);
            if (added.loopOf == null && loops.leads(s, above, child, parts)) {
              added.loopOf = above;
            }
          }
        });
  }

  private static IntList copyOfHeads(Place place, int s) {
    IntList heads = place.heads.get(s);
    IntList copy = new IntList(heads.size());
    for (int i = 0; i < heads.size(); i++) {
      copy.add(heads.get(i));
    }
    return copy;
  }

  /** How an object refers to others, read in one go: objects may have a million references. */
  private static Map<Integer, Via> vias(Snapshot snapshot, int node) throws IOException {
    Map<Integer, Via> vias = new HashMap<>();
    if (!snapshot.types().get(snapshot.type(node)).array()) {
      snapshot
          .objects()
          .references(
              node,
              reference -> {
                if (reference.kind() == Reference.Kind.STRONG) {
                  vias.merge(reference.target(), reference.via(), Links::plainer);
                }
              });
    }
    return vias;
  }

  /** How an object holds what it dominates; null if not directly. */
  private static Via via(
      Snapshot snapshot, int node, int child, boolean array, Map<Integer, Via> direct)
      throws IOException {
    if (array) {
      // an array dominates hardly anything but its elements; to look each one up would cost too
      // much
      return ELEMENT;
    }
    return direct != null ? direct.get(child) : snapshot.objects().viaTo(node, child);
  }

  /** The places with their sizes, the one that grows most first. */
  private List<Place> counted(List<Place> places) throws IOException {
    for (Place place : places) {
      for (int s = 0; s < snapshots.size(); s++) {
        place.counts[s] = closure(place, s, place.shallow);
      }
      totals.heldElsewhere(place);
      totals.heldElsewhereMeanwhile(place);
    }
    places.sort((a, b) -> Long.compare(Place.growth(b.bytes), Place.growth(a.bytes)));
    return places;
  }

  /** The size of a place with all likes of its heads. */
  private long closure(Place place, int s, long[] shallow) throws IOException {
    long[] count = {0};
    loops.members(
        place,
        s,
        (node, nested, next) -> {
          count[0]++;
          shallow[s] += snapshots.get(s).shallowBytes(node);
        });
    return count[0];
  }

  /**
   * Counts a chain whose links are of several types in turn: all objects of the place's type below
   * its heads.
   */
  public void countChain(Place place) {
    for (int s = 0; s < snapshots.size(); s++) {
      Snapshot snapshot = snapshots.get(s);
      DominatorChildren below = children.get(s);
      IntList pending = copyOfHeads(place, s);
      long count = 0;
      while (!pending.isEmpty()) {
        int node = pending.removeLast();
        count += families.get(s)[snapshot.type(node)].equals(place.type) ? 1 : 0;
        below.forEach(node, pending::add);
      }
      place.counts[s] = count;
    }
    totals.heldElsewhereMeanwhile(place);
  }

  /**
   * Gives a place that appears late the objects of one that vanishes at the same time and is like
   * it, as are the two places above both: the same objects, held from elsewhere.
   */
  public void joinVanished(Place place) throws IOException {
    int appears = 0;
    while (appears < snapshots.size() && place.heads.get(appears).isEmpty()) {
      appears++;
    }
    if (appears == 0 || appears == snapshots.size() || place.joined) {
      return;
    }
    place.joined = true;
    List<Place> pending = new ArrayList<>(root.children);
    for (int opened = 0; !pending.isEmpty() && opened < MOST_OPENED; opened++) {
      Place at = pending.remove(pending.size() - 1);
      if (at == place || at.bytes[appears] >= at.bytes[appears - 1]) {
        continue;
      }
      if (at.heads.get(appears).isEmpty() && at.isLike(place, LIKE_STEPS)) {
        place.addHeads(at);
        java.util.Arrays.fill(place.shallow, 0);
        for (int s = 0; s < snapshots.size(); s++) {
          place.counts[s] = closure(place, s, place.shallow);
        }
        return;
      }
      pending.addAll(children(at));
    }
  }

  /**
   * A place of its own for objects of a type, wherever they are held.
   *
   * @param objects by snapshot
   */
  public Place ofType(TypeInfo type, List<IntList> objects) throws IOException {
    String family = Families.of(type.name());
    Place place = new Place(root, family, Place.SHARED, false, type.traits(), snapshots.size());
    for (int s = 0; s < snapshots.size(); s++) {
      Snapshot snapshot = snapshots.get(s);
      BitSet all = new BitSet();
      for (int i = 0; i < objects.get(s).size(); i++) {
        all.set(objects.get(s).get(i));
      }
      Dominated below = new Dominated(snapshot, all);
      for (int i = 0; i < objects.get(s).size(); i++) {
        int node = objects.get(s).get(i);
        int above = snapshot.dominator(node);
        if (above < 0 || !below.test(above)) {
          place.add(s, node, snapshot.retainedBytes(node), false);
        }
        place.counts[s]++;
        place.shallow[s] += snapshot.shallowBytes(node);
      }
    }
    return place;
  }

  /** How many objects there are in all, by family of types. */
  public FamilyTotals totals() {
    return totals;
  }

  public List<Snapshot> snapshots() {
    return snapshots;
  }

  public DominatorChildren below(int s) {
    return children.get(s);
  }
}
