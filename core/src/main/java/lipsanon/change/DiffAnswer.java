package lipsanon.change;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * What changed between two snapshots.
 *
 * @param before the earlier
 * @param after the later
 * @param types by type, the most growth first
 * @param changedTypes how many types changed at all
 * @param keepers who retains more or less than before, the largest changes first
 * @param references how the types that grew most are held, and what they refer to
 * @param objects which objects are new, kept and gone
 */
public record DiffAnswer(
    SnapshotSummary before,
    SnapshotSummary after,
    List<TypeChange> types,
    int changedTypes,
    List<KeeperChange> keepers,
    List<ReferenceChange> references,
    ObjectChange objects) {

  /**
   * A place, matched across the snapshots by how it is held.
   *
   * @param type of the objects there
   * @param path how they are held, from the root down
   * @param example identifier of the largest of them in the later snapshot, or ""
   */
  public record KeeperChange(
      String type,
      String path,
      String example,
      long countBefore,
      long countAfter,
      long retainedBytesBefore,
      long retainedBytesAfter,
      long retainedBytesDifference) {}

  /**
   * A kind of reference.
   *
   * @param type the type looked at
   * @param direction {@code held by} or {@code refers to}
   * @param via the field, or {@code []} for elements of arrays
   * @param otherType the type at the other end
   * @param sample whether there were too many to look at all: the counts are those of the first
   */
  public record ReferenceChange(
      String type,
      String direction,
      String via,
      String otherType,
      long countBefore,
      long countAfter,
      long difference,
      boolean sample) {}

  /**
   * A type in both.
   *
   * @param type its name; types of the same name are one row
   * @param status {@code new}, {@code gone} or {@code kept}
   * @param newCount objects that are in the later snapshot only, told by their identifiers; -1
   *     where identifiers are not stable
   * @param goneCount objects that are in the earlier snapshot only, or -1
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
      long retainedBytesDifference,
      long newCount,
      long goneCount) {}

  /**
   * Objects by identity; all -1 where identifiers are not stable.
   *
   * @param newCount in the later snapshot only
   * @param keptCount in both
   * @param goneCount in the earlier snapshot only
   */
  public record ObjectChange(long newCount, long keptCount, long goneCount) {}
}
