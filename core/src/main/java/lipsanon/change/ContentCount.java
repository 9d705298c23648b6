package lipsanon.change;

import java.io.IOException;
import java.util.BitSet;
import java.util.function.IntPredicate;
import lipsanon.array.IntList;
import lipsanon.holder.Dominated;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;
import lipsanon.question.TypedNodes;

/**
 * Where entries pile up that are called by what is in them: how many of that there are, since an
 * entry may hold a list of them, or none, or several entries the same one.
 */
final class ContentCount {
  /** With fewer of them below the entries these only refer to what others hold as well. */
  private static final double LEAST = 0.9;

  /**
   * So far from the same part in all snapshots these are no contents, but referred to by chance.
   */
  private static final double UNEVEN = 0.1;

  private ContentCount() {}

  /**
   * By snapshot: objects of a family of types that the objects of a place dominate; where it
   * dominates none, since several of its objects share each, those that they refer to.
   *
   * @return the place's own counts where the objects of the family are not in its objects
   */
  static long[] of(PlaceTree tree, Place place, String family) throws IOException {
    int last = place.counts.length - 1;
    long[] all = tree.totals().of(family);
    if (family.equals(place.type) || all == null || all[last] == place.counts[last]) {
      return place.counts;
    }
    long[] counts = new long[place.counts.length];
    for (int s = last; s >= 0; s--) {
      counts[s] = below(tree.snapshots().get(s), place.heads.get(s), family);
      if (counts[s] < LEAST * place.counts[s]) {
        return counts[s] == 0 && s == last ? shared(tree, place, family) : place.counts;
      }
    }
    return counts;
  }

  /**
   * What the objects of a place refer to, each once, where that is always the same part of them.
   */
  private static long[] shared(PlaceTree tree, Place place, String family) throws IOException {
    int last = place.counts.length - 1;
    long[] counts = new long[place.counts.length];
    for (int s = last; s >= 0; s--) {
      Snapshot snapshot = tree.snapshots().get(s);
      Dominated parts = new Dominated(snapshot, set(place.heads.get(s)));
      counts[s] = count(snapshot, family, node -> isReferredTo(snapshot, node, parts));
      double share = counts[last] / (double) place.counts[last];
      boolean even = Math.abs(counts[s] - share * place.counts[s]) <= 1 + UNEVEN * counts[s];
      if (counts[s] >= place.counts[s] || counts[last] == 0 || !even) {
        return place.counts;
      }
    }
    return counts;
  }

  private static boolean isReferredTo(Snapshot snapshot, int node, Dominated by) {
    IntList referring = snapshot.inbound(node);
    for (int i = 0; i < referring.size(); i++) {
      if (snapshot.depth(referring.get(i)) > 0 && by.test(referring.get(i))) {
        return true;
      }
    }
    return false;
  }

  private static long below(Snapshot snapshot, IntList heads, String family) throws IOException {
    Dominated dominated = new Dominated(snapshot, set(heads));
    return count(snapshot, family, dominated::test);
  }

  private static BitSet set(IntList nodes) {
    BitSet set = new BitSet();
    for (int i = 0; i < nodes.size(); i++) {
      set.set(nodes.get(i));
    }
    return set;
  }

  /** How many retained objects of a family are counted. */
  private static long count(Snapshot snapshot, String family, IntPredicate which)
      throws IOException {
    long[] count = new long[1];
    new TypedNodes(snapshot, t -> Families.of(snapshot.types().get(t).name()).equals(family))
        .each(0, snapshot.objectCount(), node -> count[0] += which.test(node) ? 1 : 0);
    return count[0];
  }
}
