package lipsanon.change;

import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.holder.Dominated;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;

/**
 * Where entries pile up that are called by what is in them: how many of that there are, since an
 * entry may hold a list of them, or none.
 */
final class ContentCount {
  /** With fewer of them below the entries these only refer to what others hold as well. */
  private static final double LEAST = 0.9;

  private ContentCount() {}

  /**
   * By snapshot: objects of a family of types that the objects of a place dominate.
   *
   * @return the place's own counts where the objects of the family are not below its objects
   */
  static long[] of(PlaceTree tree, Place place, String family) {
    int last = place.counts.length - 1;
    long[] all = tree.totals().of(family);
    if (family.equals(place.type) || all == null || all[last] == place.counts[last]) {
      return place.counts;
    }
    long[] counts = new long[place.counts.length];
    for (int s = last; s >= 0; s--) {
      counts[s] = below(tree.snapshots().get(s), place.heads.get(s), family);
      if (counts[s] < LEAST * place.counts[s]) {
        return place.counts;
      }
    }
    return counts;
  }

  private static long below(Snapshot snapshot, IntList heads, String family) {
    BitSet types = new BitSet();
    for (int t = 0; t < snapshot.types().size(); t++) {
      types.set(t, Families.of(snapshot.types().get(t).name()).equals(family));
    }
    BitSet set = new BitSet();
    for (int i = 0; i < heads.size(); i++) {
      set.set(heads.get(i));
    }
    Dominated dominated = new Dominated(snapshot, set);
    NodeCursor cursor = snapshot.cursor();
    long count = 0;
    for (int n = 0; n < snapshot.objectCount(); n++) {
      count += types.get(cursor.type(n)) && snapshot.depth(n) > 0 && dominated.test(n) ? 1 : 0;
    }
    return count;
  }
}
