package lipsanon.analysis;

import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;

/**
 * A place in the merged dominator trees of a series of snapshots: all objects of one type that are
 * held in one way by the objects of the place above. What is held by its like (links of a chain,
 * nodes of a tree) is of the same place.
 */
final class Place {
  /** A reference that is not direct: several objects below the dominator hold these. */
  static final String SHARED = "(held from several sides)";

  final Place parent;
  final String type;
  final String via;
  final boolean library;
  final boolean observer;

  /** By snapshot: objects whose holder is of the place above. */
  final List<IntList> heads = new ArrayList<>();

  /** By snapshot: objects, those held by their like included. */
  final long[] counts;

  /** By snapshot: what they retain. */
  final long[] bytes;

  /** By snapshot: their own sizes. */
  final long[] shallow;

  List<Place> children;

  Place(Place parent, String type, String via, boolean library, boolean observer, int snapshots) {
    this.parent = parent;
    this.type = type;
    this.via = via;
    this.library = library;
    this.observer = observer;
    this.counts = new long[snapshots];
    this.bytes = new long[snapshots];
    this.shallow = new long[snapshots];
    for (int s = 0; s < snapshots; s++) {
      heads.add(new IntList());
    }
  }

  /** The last difference of a series less the first. */
  static long growth(long[] series) {
    return series[series.length - 1] - series[0];
  }

  boolean isTop() {
    return parent == null;
  }
}
