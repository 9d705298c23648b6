package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.holder.HolderSearch;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Labels;
import lipsanon.label.Links;
import lipsanon.label.Ownership;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.select.Cut;
import lipsanon.select.Removal;

/** What would be freed if references were cleared; and which few free a whole set. */
public final class CutQuestion {
  private static final int TYPES = 5;

  private CutQuestion() {}

  /**
   * Clears a field of some objects.
   *
   * @param set the objects that should go, or null
   * @param selection these in words
   * @param from the objects whose field is cleared
   * @param field its name, {@code []} for elements
   * @param place both in words
   */
  public static CutAnswer ofField(
      Snapshot snapshot, BitSet set, String selection, BitSet from, String field, String place)
      throws IOException {
    Cut cut = Cut.of(snapshot, () -> from.stream().iterator(), field);
    return new CutAnswer(
        SnapshotSummary.of(snapshot),
        selection,
        set == null ? 0 : set.cardinality(),
        "",
        List.of(row(snapshot, set, List.of(place), cut, "")));
  }

  /** The fewest references whose clearing frees a set: those that a finding would name. */
  public static CutAnswer ofSet(Snapshot snapshot, BitSet set, String selection, TypeFilter mine)
      throws IOException {
    List<CutAnswer.Row> rows = new ArrayList<>();
    String heldBy = "";
    IntList members = new IntList();
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      if (snapshot.depth(n) > 0) {
        members.add(n);
      }
    }
    if (!members.isEmpty()) {
      Holding holding = new HolderSearch(snapshot, new Ownership(snapshot, mine)).search(members);
      heldBy = holding.text();
      Cut all = new Cut();
      List<String> places = new ArrayList<>();
      for (Holding.Place place : holding.places()) {
        if (place.node() >= 0 && place.target() >= 0) {
          Cut one = new Cut();
          one.add(place.node(), place.target());
          all.add(place.node(), place.target());
          places.add(place.text());
          rows.add(row(snapshot, set, List.of(place.text()), one, snapshot.id(place.node())));
        }
      }
      if (rows.size() > 1) {
        rows.add(0, row(snapshot, set, places, all, ""));
      }
      for (CutAnswer.Row other : ends(snapshot, set, members)) {
        if (rows.stream()
            .noneMatch(
                row -> row.places().equals(other.places()) && row.from().equals(other.from()))) {
          rows.add(other);
        }
      }
    }
    return new CutAnswer(SnapshotSummary.of(snapshot), selection, set.cardinality(), heldBy, rows);
  }

  /** The way from the nearest common dominator down: each single reference on it frees all. */
  private static List<CutAnswer.Row> ends(Snapshot snapshot, BitSet set, IntList members)
      throws IOException {
    List<CutAnswer.Row> rows = new ArrayList<>();
    Links links = new Links(snapshot);
    int at = links.commonDominator(members, 1);
    while (at >= 0 && rows.size() < TYPES) {
      int above = snapshot.dominator(at);
      Via via = links.fromDominator(at);
      if (via != null) {
        Cut one = new Cut();
        one.add(above, at);
        CutAnswer.Row row = row(snapshot, set, List.of(via.text()), one, snapshot.id(above));
        if (row.freesOfSet() > 0) {
          rows.add(row);
        }
      }
      at = above;
    }
    return rows;
  }

  private static CutAnswer.Row row(
      Snapshot snapshot, BitSet set, List<String> places, Cut cut, String from) throws IOException {
    Removal.Freed freed = Removal.of(snapshot, cut);
    BitSet sources = new BitSet();
    for (int i = 0; i < cut.size(); i++) {
      sources.set(cut.from(i));
    }
    BitSet both = (BitSet) freed.objects().clone();
    if (set != null) {
      both.and(set);
    }
    return new CutAnswer.Row(
        places,
        sources.cardinality(),
        cut.size(),
        freed.count(),
        freed.bytes(),
        set == null ? 0 : both.cardinality(),
        types(snapshot, freed.objects()),
        from);
  }

  private static List<String> types(Snapshot snapshot, BitSet objects) {
    Map<String, long[]> sums = new TreeMap<>();
    for (int n = objects.nextSetBit(0); n >= 0; n = objects.nextSetBit(n + 1)) {
      long[] sum = sums.computeIfAbsent(Families.of(snapshot.typeName(n)), key -> new long[2]);
      sum[0]++;
      sum[1] += snapshot.shallowBytes(n);
    }
    return sums.entrySet().stream()
        .sorted(Comparator.comparingLong((Map.Entry<String, long[]> e) -> -e.getValue()[1]))
        .limit(TYPES)
        .map(e -> e.getValue()[0] + " " + e.getKey() + " (" + Labels.bytes(e.getValue()[1]) + ")")
        .toList();
  }
}
