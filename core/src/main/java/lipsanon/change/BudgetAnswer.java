package lipsanon.change;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * Whether a heap keeps to its budgets.
 *
 * @param snapshot the one that was measured: of a series the last
 * @param kept whether all budgets were kept
 * @param sentence the same in a sentence
 * @param budgets one by one, in the order in which they were given
 */
public record BudgetAnswer(
    SnapshotSummary snapshot, boolean kept, String sentence, List<Row> budgets) {
  /**
   * A budget with what was measured.
   *
   * @param name how users call it
   * @param measure {@code heap}, {@code count}, {@code retained}, {@code growth}, {@code savings}
   * @param selection of which objects, or ""
   * @param limit objects or bytes
   * @param value what was measured
   * @param kept whether the value is at most the limit
   * @param sentence what was found, for whoever has to mend it
   * @param steps the path from a root, where something grows; otherwise empty
   * @param baseline the value of the earlier run, or -1
   * @param worse whether there was an earlier run and the value rose
   */
  public record Row(
      String name,
      String measure,
      String selection,
      long limit,
      long value,
      boolean kept,
      String sentence,
      List<String> steps,
      long baseline,
      boolean worse) {
    /** The same beside an earlier run. */
    public Row beside(long earlier) {
      return new Row(
          name, measure, selection, limit, value, kept, sentence, steps, earlier, value > earlier);
    }
  }
}
