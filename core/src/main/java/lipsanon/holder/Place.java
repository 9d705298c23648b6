package lipsanon.holder;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.TypeInfo;

/**
 * A place in the merged dominator trees of a series of snapshots: all objects of one type that are
 * held in one way by the objects of the place above. What is held by its like (links of a chain,
 * nodes of a tree) is of the same place.
 */
public final class Place {
  /** A reference that is not direct: several objects below the dominator hold these. */
  public static final String SHARED = "(held from several sides)";

  private static final int LONGEST_PERIOD = 8;

  public final Place parent;
  public final String type;

  /** Other types of its objects, in which a table has the same things. */
  Set<String> sorts = Set.of();

  public final String via;
  public final boolean library;
  final Set<TypeInfo.Trait> traits;

  /** By snapshot: objects whose holder is of the place above. */
  public final List<IntList> heads = new ArrayList<>();

  /** By snapshot: objects, those held by their like included. */
  public final long[] counts;

  /** By snapshot: what they retain. */
  public final long[] bytes;

  /** By snapshot: their own sizes. */
  public final long[] shallow;

  public List<Place> children;

  /** Whether its objects were counted by their type where something else held them as well. */
  public boolean countedByType;

  /** Whether it is a part of a place that was taken apart. */
  boolean apart;

  /** Whether a place that vanished was sought for it. */
  boolean joined;

  /** What holds its objects in the last snapshot, once that was sought. */
  public Holding holding;

  /** Whether its objects hold their likes through parts between them, as nodes of a tree do. */
  boolean loops;

  /** The place above whose objects hold their likes through this one's, or null. */
  Place loopOf;

  /** By snapshot: which heads are below others of the same place. */
  private final List<BitSet> inner = new ArrayList<>();

  private final long[] innerBytes;

  Place(
      Place parent,
      String type,
      String via,
      boolean library,
      Set<TypeInfo.Trait> traits,
      int snapshots) {
    this.parent = parent;
    this.type = type;
    this.via = via;
    this.library = library;
    this.traits = traits;
    this.counts = new long[snapshots];
    this.bytes = new long[snapshots];
    this.shallow = new long[snapshots];
    this.innerBytes = new long[snapshots];
    for (int s = 0; s < snapshots; s++) {
      heads.add(new IntList());
      inner.add(new BitSet());
    }
  }

  /** Whether its objects are parts of a library's tree: only the way to what is in it. */
  public boolean isNode() {
    return tree() != null;
  }

  /** The place of the nodes of the tree that its objects are parts of, or null. */
  private Place tree() {
    if (loops || loopOf != null) {
      Place tree = loops ? this : loopOf;
      return tree.traits.contains(TypeInfo.Trait.FOREIGN) ? tree : null;
    }
    Place above = traits.contains(TypeInfo.Trait.FOREIGN) ? treeAbove() : null;
    return above != null && outer().equals(above.outer()) ? above : null;
  }

  /** The class that a type is nested in, or the type. */
  private String outer() {
    int end = type.indexOf('$');
    return end < 0 ? type : type.substring(0, end);
  }

  public boolean is(TypeInfo.Trait trait) {
    return traits.contains(trait);
  }

  /**
   * Adds an object.
   *
   * @param isInner whether it is below others of the same place, if this turns out to be one
   *     through which the place above holds its likes
   */
  void add(int s, int node, long retained, boolean isInner) {
    inner.get(s).set(heads.get(s).size(), isInner);
    heads.get(s).add(node);
    bytes[s] += retained;
    innerBytes[s] += isInner ? retained : 0;
  }

  /** Once all objects are there: what is below others of the same place is not counted twice. */
  void settle() {
    for (int s = 0; s < bytes.length; s++) {
      if (loopOf == null) {
        inner.get(s).clear();
      } else {
        bytes[s] -= innerBytes[s];
      }
    }
  }

  boolean isInner(int s, int head) {
    return inner.get(s).get(head);
  }

  /** A place for some of its objects. */
  Place part() {
    Place part = new Place(parent, type, via, library, traits, counts.length);
    part.sorts = sorts;
    return part;
  }

  /** Takes over the objects of another place, which is given up. */
  void addHeads(Place other) {
    for (int s = 0; s < bytes.length; s++) {
      IntList from = other.heads.get(s);
      for (int i = 0; i < from.size(); i++) {
        heads.get(s).add(from.get(i));
      }
      bytes[s] += other.bytes[s];
    }
  }

  /** The last difference of a series less the first. */
  public static long growth(long[] series) {
    return series[series.length - 1] - series[0];
  }

  /** Whether two places are the same but for where they stand. */
  boolean isLike(Place other) {
    return type.equals(other.type) && via.equals(other.via);
  }

  /**
   * Whether two places are like each other, and so are as many above them, as far as there are; at
   * least one of the references must have a name.
   */
  boolean isLike(Place other, int steps) {
    Place a = this;
    Place b = other;
    boolean named = false;
    for (int i = 0; i < steps && !a.isTop() && !b.isTop(); i++) {
      boolean atRoot = a.parent.isTop() || b.parent.isTop();
      if (!a.type.equals(b.type) || !atRoot && !a.via.equals(b.via)) {
        return false;
      }
      named |= !atRoot && (a.via.contains(".") || a.via.startsWith("variable "));
      a = a.parent;
      b = b.parent;
    }
    return named;
  }

  /**
   * Where a chain begins that this place is a link of: the way to it repeats itself three times
   * over with the same types and references.
   *
   * @return null if it is no link of a chain
   */
  public Place chain() {
    for (int period = 1; period <= LONGEST_PERIOD; period++) {
      Place first = ancestor(period * 2);
      Place at = this;
      for (int i = 0; i < period * 2 && at != null && first != null; i++) {
        Place before = at.ancestor(period);
        at = before != null && at.isLike(before) ? at.parent : null;
      }
      if (first != null && at != null) {
        // the first link may be held in another way than the others
        Place head = first.ancestor(period);
        return head != null && head.type.equals(first.type) ? head : first;
      }
    }
    return null;
  }

  /** The place of the nodes of the tree that has this one's objects in it, or null. */
  public Place treeAbove() {
    return parent == null ? null : parent.tree();
  }

  /** Whether objects of a type are of this place's sorts. */
  boolean isOfType(String family) {
    return type.equals(family) || sorts.contains(family);
  }

  /** Takes over the objects of another place, and their counts. */
  public void join(Place other) {
    addHeads(other);
    for (int s = 0; s < counts.length; s++) {
      counts[s] += other.counts[s];
      shallow[s] += other.shallow[s];
    }
  }

  /** How far below another place this one is. */
  int stepsBelow(Place above) {
    int steps = 0;
    for (Place at = this; at != above; at = at.parent) {
      steps++;
    }
    return steps;
  }

  private Place ancestor(int steps) {
    Place at = this;
    for (int i = 0; i < steps && at != null; i++) {
      at = at.parent;
    }
    return at == null || at.isTop() ? null : at;
  }

  /** Whether its objects are entries of a table, whose names mean nothing. */
  boolean isInTable() {
    return via.endsWith("[…]");
  }

  public boolean isTop() {
    return parent == null;
  }
}
