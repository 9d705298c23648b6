package lipsanon.change;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * How the objects of a set are held (or what they refer to) in two snapshots.
 *
 * @param before the earlier one
 * @param after the later one
 * @param selection the set in words
 * @param direction {@code in} or {@code out}
 * @param countBefore objects of the set in the earlier one
 * @param countAfter in the later one
 * @param references ways, those that changed most first
 */
public record RefsChangesAnswer(
    SnapshotSummary before,
    SnapshotSummary after,
    String selection,
    String direction,
    long countBefore,
    long countAfter,
    List<Row> references) {

  /**
   * A way.
   *
   * @param place {@code Type.field} and the like
   * @param type the type on the other side, "" for roots
   * @param within whether it is a link inside the set
   * @param countBefore objects of the set that have it in the earlier snapshot
   * @param countAfter in the later one
   * @param difference of these
   * @param othersBefore objects on the other side in the earlier one
   * @param othersAfter in the later one
   */
  public record Row(
      String place,
      String type,
      boolean within,
      long countBefore,
      long countAfter,
      long difference,
      long othersBefore,
      long othersAfter) {}
}
