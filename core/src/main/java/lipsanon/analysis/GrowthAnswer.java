package lipsanon.analysis;

import java.util.List;

/**
 * What grows over a series of snapshots.
 *
 * @param snapshots the series, in time order
 * @param actions how often the action was done between two snapshots, 0 if not known
 * @param verdict {@code growth}, {@code none} or {@code unclear}
 * @param sentence the verdict in one sentence
 * @param heapBytes the retained heap in each snapshot
 * @param findings what piles up, best first
 * @param setAside what grew but is no finding, and why
 */
public record GrowthAnswer(
    List<SnapshotSummary> snapshots,
    int actions,
    String verdict,
    String sentence,
    List<Long> heapBytes,
    List<Finding> findings,
    List<SetAside> setAside) {

  /**
   * Something that was looked at.
   *
   * @param what the type
   * @param heldBy what holds it
   * @param bytes what it retained in each snapshot
   * @param why it is no finding
   */
  public record SetAside(String what, String heldBy, List<Long> bytes, String why) {}
}
