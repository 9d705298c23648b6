package lipsanon.question;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.label.Labels;

/** Sums of one kind of waste by the place that holds it. */
final class SavingsPlaces {
  private final Snapshot snapshot;
  private final HoldingPlace holding;
  private final Map<String, long[]> sums = new HashMap<>();
  private long bytes;
  private long count;

  SavingsPlaces(Snapshot snapshot, HoldingPlace holding) {
    this.snapshot = snapshot;
    this.holding = holding;
  }

  /** Adds an object that could be saved. */
  void add(int node, long saved) throws IOException {
    addBytes(node, saved);
    count++;
  }

  /** Adds bytes to the place of an object that stays. */
  void addBytes(int node, long saved) throws IOException {
    long[] sum = sums.computeIfAbsent(holding.of(node), key -> new long[] {0, 0, node});
    sum[0] += saved;
    sum[1]++;
    bytes += saved;
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
