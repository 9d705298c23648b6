package lipsanon.change;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.holder.Finding;
import lipsanon.label.SnapshotSummary;

/**
 * Whether growth is gone.
 *
 * @param before the series before the fix
 * @param after the series after it
 * @param proved whether something grew before and nothing that grew before grows after, nor
 *     anything new
 * @param sentence the same in words
 * @param comparisons each finding of either series
 */
public record ProofAnswer(
    List<SnapshotSummary> before,
    List<SnapshotSummary> after,
    boolean proved,
    String sentence,
    List<Comparison> comparisons) {

  /**
   * A finding before and after.
   *
   * @param state {@code gone}, {@code still grows} or {@code new}
   * @param heldBy what holds it
   * @param what piles up
   * @param growthBeforeBytes from the first snapshot of the first series to its last
   * @param growthAfterBytes the same of the second series; 0 if nothing was found there
   */
  public record Comparison(
      String state, String heldBy, String what, long growthBeforeBytes, long growthAfterBytes) {}

  /** Compares what was found in two series. Findings are the same if they have the same holder. */
  public static ProofAnswer of(GrowthAnswer before, GrowthAnswer after) {
    Map<String, Finding> left = new HashMap<>();
    after.findings().forEach(finding -> left.putIfAbsent(key(finding), finding));
    List<Comparison> rows = new ArrayList<>();
    int still = 0;
    for (Finding finding : before.findings()) {
      Finding same = left.remove(key(finding));
      still += same == null ? 0 : 1;
      rows.add(
          new Comparison(
              same == null ? "gone" : "still grows",
              finding.heldBy(),
              finding.what(),
              growth(finding),
              same == null ? 0 : growth(same)));
    }
    int gone = rows.size() - still;
    for (Finding finding : after.findings()) {
      if (left.containsValue(finding)) {
        rows.add(new Comparison("new", finding.heldBy(), finding.what(), 0, growth(finding)));
      }
    }
    String sentence =
        before.findings().isEmpty()
            ? "Nothing grew in the first series, so nothing can be proved."
            : still > 0
                ? "Not gone: " + still + " of " + (gone + still) + " places still grow."
                : left.isEmpty()
                    ? "Proved: what grew before does not grow any more."
                    : "What grew before is gone, but " + left.size() + " other places grow now.";
    boolean proved = !before.findings().isEmpty() && still == 0 && left.isEmpty();
    return new ProofAnswer(before.snapshots(), after.snapshots(), proved, sentence, rows);
  }

  /** What tells findings apart: the holder; where only types are known, the type. */
  private static String key(Finding finding) {
    return finding.heldBy().isEmpty() ? "type " + finding.what() : finding.heldBy();
  }

  private static long growth(Finding finding) {
    return finding.bytes().get(finding.bytes().size() - 1) - finding.bytes().get(0);
  }
}
