package lipsanon.change;

import java.util.List;
import lipsanon.holder.Finding;
import lipsanon.label.SnapshotSummary;

/**
 * What grows over a series of snapshots.
 *
 * @param snapshots the series, in time order
 * @param actions how often the action was done between two snapshots, 0 if not known
 * @param actionsBetween the same for each interval: a last one may be longer
 * @param verdict {@code growth}, {@code none} or {@code unclear}
 * @param sentence the verdict in one sentence
 * @param heapBytes the retained heap in each snapshot
 * @param findings what piles up, best first
 * @param setAside what grew but is no finding, and why
 * @param collections single arrays, maps and tables that grew, by their number of entries; only
 *     where identifiers are stable
 * @param detached elements that are in no page any more, by tag and class
 * @param listeners event listeners of a page, by type, element and place in the source; only where
 *     the page was looked at while it was live
 * @param counters what a page counts itself: documents, nodes, listeners
 * @param ownCode what was taken for the user's own code, in words, or ""
 * @param adders who adds to the collection that grows, where that was asked for
 * @param allocatedIn the lines that allocate what piles up, where it was recorded
 */
public record GrowthAnswer(
    List<SnapshotSummary> snapshots,
    int actions,
    List<Integer> actionsBetween,
    String verdict,
    String sentence,
    List<Long> heapBytes,
    List<Finding> findings,
    List<SetAside> setAside,
    List<Series> collections,
    List<Series> detached,
    List<Series> listeners,
    List<Series> counters,
    String ownCode,
    List<Adder> adders,
    List<Origin> allocatedIn) {

  static final String TOO_SMALL = "is too small to be told from chance";

  /** With fewer snapshots two intervals are all, or nearly. */
  private static final int LEAST_SERIES = 4;

  /** Without what only a live program tells. */
  GrowthAnswer(
      List<SnapshotSummary> snapshots,
      int actions,
      List<Integer> actionsBetween,
      String verdict,
      String sentence,
      List<Long> heapBytes,
      List<Finding> findings,
      List<SetAside> setAside) {
    this(
        snapshots,
        actions,
        actionsBetween,
        verdict,
        sentence,
        heapBytes,
        findings,
        setAside,
        List.of(),
        List.of(),
        List.of(),
        List.of(),
        "",
        List.of(),
        List.of());
  }

  /**
   * Bytes that a finding gains with each action, or with each snapshot where these are not known.
   */
  public double bytesEach(Finding finding) {
    List<Long> bytes = finding.bytes();
    return actions > 0
        ? finding.bytesPerAction()
        : (bytes.get(bytes.size() - 1) - bytes.get(0)) / (double) (bytes.size() - 1);
  }

  /**
   * Whether one much longer round would tell more: something piles up, or may do so that was too
   * small to be told so far, but rose by the same in the last two intervals.
   */
  public boolean worthALongRound() {
    return !findings.isEmpty() || setAside.stream().anyMatch(GrowthAnswer::mayGoOn);
  }

  private static boolean mayGoOn(SetAside small) {
    List<Long> bytes = small.bytes();
    int n = bytes.size();
    if (!small.why().equals(TOO_SMALL) || n < LEAST_SERIES) {
      return false;
    }
    long last = bytes.get(n - 1) - bytes.get(n - 2);
    return last > 0 && last == bytes.get(n - 2) - bytes.get(n - 3);
  }

  /**
   * Where a finding's objects are allocated.
   *
   * @param what the type that piles up
   * @param place method, file and line of the user's own
   * @param script the file's name with its folders
   * @param line in it, from 1
   */
  public record Origin(String what, String place, String script, int line) {}

  /**
   * A place that adds to the collection that grows, seen in the running program.
   *
   * @param place the innermost frame of the user's own, with file and line
   * @param count how often, in one action
   * @param frames the whole call stack, innermost first
   */
  public record Adder(String place, long count, List<String> frames) {}

  /** The same with who adds to the collection that grows. */
  public GrowthAnswer withAdders(List<Adder> found) {
    return with(listeners, counters, found, allocatedIn);
  }

  /** The same with what was seen of a live page. */
  public GrowthAnswer withPage(List<Series> pageListeners, List<Series> pageCounters) {
    return with(pageListeners, pageCounters, adders, allocatedIn);
  }

  /** The same with the lines that allocate. */
  public GrowthAnswer withOrigins(List<Origin> found) {
    return with(listeners, counters, adders, found);
  }

  private GrowthAnswer with(
      List<Series> otherListeners,
      List<Series> otherCounters,
      List<Adder> otherAdders,
      List<Origin> otherOrigins) {
    return new GrowthAnswer(
        snapshots,
        actions,
        actionsBetween,
        verdict,
        sentence,
        heapBytes,
        findings,
        setAside,
        collections,
        detached,
        otherListeners,
        otherCounters,
        ownCode,
        otherAdders,
        otherOrigins);
  }

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
