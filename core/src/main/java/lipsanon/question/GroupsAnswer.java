package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * The heap in a few parts.
 *
 * @param snapshot of which snapshot
 * @param by what the parts are told apart by
 * @param of {@code objects}: each object counts in its own part; {@code keepers}: it counts where
 *     the topmost object that keeps it does
 * @param groups the largest parts, the largest first
 * @param otherGroups parts that are not shown
 * @param otherCount objects of these
 * @param otherBytes bytes of these
 */
public record GroupsAnswer(
    SnapshotSummary snapshot,
    String by,
    String of,
    List<Row> groups,
    int otherGroups,
    long otherCount,
    long otherBytes) {

  /**
   * A part.
   *
   * @param group its name
   * @param count objects
   * @param bytes their shallow sizes; of keepers what they retain, which adds up the same way
   * @param share of the retained heap, 0 to 1
   * @param largestType the type with most bytes in it; of keepers the largest one's
   * @param example the largest object of that type
   */
  public record Row(
      String group, long count, long bytes, double share, String largestType, String example) {}
}
