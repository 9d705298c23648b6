package lipsanon.question;

import java.util.List;
import lipsanon.label.ObjectRow;
import lipsanon.label.SnapshotSummary;

/**
 * What keeps most, one level of the dominator tree.
 *
 * @param snapshot of which snapshot
 * @param under the object below which this level lies, or null for the top
 * @param keepers the largest, one by one
 * @param groups the same by type, where there are many
 * @param children how many objects the level has
 * @param childrenRetainedBytes what they retain together
 */
public record KeepersAnswer(
    SnapshotSummary snapshot,
    ObjectRow under,
    List<ObjectRow> keepers,
    List<GroupRow> groups,
    long children,
    long childrenRetainedBytes) {

  /**
   * Children of one type.
   *
   * @param type the type
   * @param loader its class loader where several have a type of that name, or ""
   * @param count how many
   * @param shallowBytes of these
   * @param retainedBytes what they retain: exact, since none dominates another
   * @param share of the heap, 0 to 1
   * @param example identifier of the largest
   */
  public record GroupRow(
      String type,
      String loader,
      long count,
      long shallowBytes,
      long retainedBytes,
      double share,
      String example) {}
}
