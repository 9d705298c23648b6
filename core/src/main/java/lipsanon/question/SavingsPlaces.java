package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.label.Labels;

/** Sums of one kind of waste by the place that holds it. */
final class SavingsPlaces {
  private final Snapshot snapshot;
  private final HoldingPlace holding;
  private final Map<String, long[]> sums = new HashMap<>();

  /** The place of the last object and its sums: many follow that are held in the same way. */
  private String lastPlace;

  private long[] lastSum;
  private long bytes;
  private long count;

  SavingsPlaces(Snapshot snapshot) {
    this(snapshot, snapshot.objects());
  }

  /** With a reader of its own. */
  SavingsPlaces(Snapshot snapshot, ObjectReader objects) {
    this.snapshot = snapshot;
    this.holding = new HoldingPlace(snapshot, objects);
  }

  /** The sums of several, the first of which takes in the others. */
  static SavingsPlaces of(List<SavingsPlaces> parts) {
    SavingsPlaces all = parts.get(0);
    for (SavingsPlaces part : parts.subList(1, parts.size())) {
      part.sums.forEach(
          (where, sum) -> {
            long[] into = all.sums.computeIfAbsent(where, key -> new long[] {0, 0, sum[2]});
            into[0] += sum[0];
            into[1] += sum[1];
          });
      all.bytes += part.bytes;
      all.count += part.count;
    }
    return all;
  }

  /** Adds an object that could be saved. */
  void add(int node, long saved) throws IOException {
    String place = holding.of(node);
    long[] sum = place == lastPlace ? lastSum : null;
    if (sum == null) {
      sum = sums.computeIfAbsent(place, key -> new long[] {0, 0, node});
      lastPlace = place;
      lastSum = sum;
    }
    sum[0] += saved;
    sum[1]++;
    bytes += saved;
    count++;
  }

  /**
   * What there is to tell.
   *
   * @param sentence with places for the count and for the bytes
   * @return null if there is nothing
   */
  SavingsAnswer.Kind tell(
      String kind,
      String sentence,
      String advice,
      int limit,
      List<SavingsAnswer.Common> commonest) {
    if (bytes == 0) {
      return null;
    }
    List<SavingsAnswer.Place> rows = new ArrayList<>();
    sums.forEach(
        (where, sum) ->
            rows.add(new SavingsAnswer.Place(where, sum[0], sum[1], snapshot.id((int) sum[2]))));
    rows.sort(
        Comparator.comparingLong(SavingsAnswer.Place::bytes)
            .reversed()
            .thenComparing(SavingsAnswer.Place::where));
    int shown = Math.min(limit, rows.size());
    return new SavingsAnswer.Kind(
        kind,
        bytes,
        count,
        String.format(Locale.ROOT, sentence, count, Labels.bytes(bytes)),
        advice,
        List.copyOf(rows.subList(0, shown)),
        rows.size() - shown,
        commonest);
  }
}
