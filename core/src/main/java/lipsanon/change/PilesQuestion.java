package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.PriorityQueue;
import lipsanon.array.IntList;
import lipsanon.holder.Holding;
import lipsanon.holder.Place;
import lipsanon.holder.PlaceTree;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;

/**
 * Where objects pile up in a single snapshot, and who holds them: what a series is compared by when
 * its snapshots are never at hand together. The places of the dominator tree are opened from the
 * largest down; where there are many times as many objects as at the place above, they pile up.
 * Places with the same words are one; what nobody holds alone is left out.
 */
public final class PilesQuestion {
  /** Places that are opened at most. */
  private static final int MOST_OPENED = 2_000;

  /** Fewer objects are no pile. */
  static final int LEAST_COUNT = 10;

  /** So many times as many as there are objects at the place above. */
  private static final int TIMES = 5;

  /** Places below this share of the heap are not opened. */
  private static final double LEAST_SHARE = 0.0005;

  private static final long LEAST_BYTES = 1_000;

  /** Holders are sought for so many times the rows that are wanted: several may be one place. */
  private static final int SPARE = 2;

  private PilesQuestion() {}

  /**
   * Answers.
   *
   * @param mine what counts as the user's own
   * @param limit places at most, those that retain most
   */
  public static List<PileRow> ask(Snapshot snapshot, TypeFilter mine, int limit)
      throws IOException {
    PlaceTree tree = new PlaceTree(List.of(snapshot));
    PileReport report = new PileReport(tree, mine, new int[0]);
    List<Place> piles = piles(tree, snapshot);
    piles.sort(Comparator.comparingLong((Place place) -> -place.bytes[0]));
    Map<String, PileRow> rows = new LinkedHashMap<>();
    for (Place place : piles.subList(0, Math.min(piles.size(), SPARE * limit))) {
      Holding holding = report.holding(place);
      if (!holding.places().isEmpty()) {
        String what = report.what(new GrowthQuestion.Pile(place, false), holding);
        long count = ContentCount.of(tree, place, what)[0];
        PileRow row = row(snapshot, what, holding, place, count);
        rows.merge(row.what() + "\n" + row.heldBy(), row, PilesQuestion::together);
      }
    }
    return rows.values().stream()
        .sorted(Comparator.comparingLong((PileRow row) -> -row.bytes()))
        .limit(limit)
        .toList();
  }

  private static List<Place> piles(PlaceTree tree, Snapshot snapshot) throws IOException {
    long least = Math.max(LEAST_BYTES, (long) (snapshot.totals().retainedBytes() * LEAST_SHARE));
    List<Place> piles = new ArrayList<>();
    PriorityQueue<Place> pending =
        new PriorityQueue<>(Comparator.comparingLong((Place place) -> -place.bytes[0]));
    pending.add(tree.root);
    for (int opened = 0; opened < MOST_OPENED && !pending.isEmpty(); opened++) {
      Place place = pending.remove();
      for (Place below : tree.children(place)) {
        if (below.bytes[0] < least || below.is(TypeInfo.Trait.OBSERVER)) {
          continue;
        }
        boolean pile = isPile(place, below);
        if (pile) {
          piles.add(below);
        }
        // what several hold may be a few tables of which one has what piles up
        if (!pile || below.via.equals(Place.SHARED)) {
          pending.add(below);
        }
      }
    }
    return piles;
  }

  private static boolean isPile(Place above, Place place) {
    return !place.is(TypeInfo.Trait.MACHINERY)
        && place.counts[0] >= LEAST_COUNT
        && place.counts[0] >= TIMES * Math.max(1, above.counts[0]);
  }

  private static PileRow row(
      Snapshot snapshot, String what, Holding holding, Place place, long count) {
    IntList heads = place.heads.get(0);
    return new PileRow(
        what,
        holding.text(),
        String.join(" in ", holding.inside()),
        count,
        place.bytes[0],
        holding.places().stream().mapToLong(Holding.Place::freedBytes).sum(),
        heads.isEmpty() ? "" : snapshot.id(heads.get(0)),
        holding.whose());
  }

  /** Two places with the same words; what the holder frees is the same for both. */
  private static PileRow together(PileRow a, PileRow b) {
    return new PileRow(
        a.what(),
        a.heldBy(),
        a.inside(),
        a.count() + b.count(),
        a.bytes() + b.bytes(),
        Math.max(a.freesBytes(), b.freesBytes()),
        a.example(),
        a.whose());
  }
}
