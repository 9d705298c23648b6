package lipsanon.analysis;

import java.util.List;

/**
 * What changed between two snapshots.
 *
 * @param before the earlier
 * @param after the later
 * @param types by type, the most growth first
 * @param changedTypes how many types changed at all
 */
public record DiffAnswer(
    SnapshotSummary before, SnapshotSummary after, List<TypeChange> types, int changedTypes) {

  /**
   * A type in both.
   *
   * @param type its name; types of the same name are one row
   * @param status {@code new}, {@code gone} or {@code kept}
   */
  public record TypeChange(
      String type,
      String status,
      long countBefore,
      long countAfter,
      long countDifference,
      long shallowBytesBefore,
      long shallowBytesAfter,
      long shallowBytesDifference,
      long retainedBytesBefore,
      long retainedBytesAfter,
      long retainedBytesDifference) {}
}
