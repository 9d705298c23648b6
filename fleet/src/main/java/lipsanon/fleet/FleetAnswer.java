package lipsanon.fleet;

import java.util.List;

/**
 * What a fleet's tables say together.
 *
 * @param folder of the tables
 * @param snapshots that were looked at
 * @param failed that could not be
 * @param services how many
 * @param builds how many
 * @param hosts how many
 * @param fileBytes sizes of the snapshots' files together
 * @param rowBytes sizes of the rows that are kept of them, before they are compressed
 * @param processorMillis processor time of their tasks together
 * @param sentence the answer in one sentence
 * @param growing places that grow, those on most hosts first
 * @param everywhere places of the user's own that retain much where no series tells of growth
 * @param outliers hosts that retain much more than others of their service
 * @param openFirst the snapshot to open first, or null
 * @param failures snapshots that failed
 */
public record FleetAnswer(
    String folder,
    long snapshots,
    long failed,
    long services,
    long builds,
    long hosts,
    long fileBytes,
    long rowBytes,
    long processorMillis,
    String sentence,
    List<Growing> growing,
    List<Everywhere> everywhere,
    List<Outlier> outliers,
    OpenFirst openFirst,
    List<Failure> failures) {

  /**
   * A place that grows on some hosts.
   *
   * @param service on which service
   * @param what the type that piles up
   * @param heldBy what holds it
   * @param own whether the holder is the user's own
   * @param hostsGrowing hosts on which it rises steadily
   * @param hostsWatched hosts of the service with three or more snapshots of one build, which can
   *     tell
   * @param hostsWith hosts on which the place is
   * @param since the first build on which it grows, or "" if builds are not known
   * @param newInSince whether an earlier build was watched and does not grow there
   * @param builds the builds on which it grows, in their order
   * @param countPerSnapshot the median of the hosts' rises from one snapshot to the next
   * @param bytesPerSnapshot the same in bytes
   * @param largestCount the most objects on any host
   * @param largestBytes the most that they retain on any host
   * @param largestHost that host
   * @param file the snapshot with the most
   */
  public record Growing(
      String service,
      String what,
      String heldBy,
      boolean own,
      long hostsGrowing,
      long hostsWatched,
      long hostsWith,
      String since,
      boolean newInSince,
      List<String> builds,
      double countPerSnapshot,
      double bytesPerSnapshot,
      long largestCount,
      long largestBytes,
      String largestHost,
      String file) {}

  /**
   * A place that retains much on many hosts.
   *
   * @param service on which service
   * @param what the type that piles up
   * @param heldBy what holds it
   * @param hostsWith hosts on which it is
   * @param hosts hosts of the service
   * @param medianCount objects on one host, the median
   * @param medianBytes what they retain, the median
   * @param medianShare of the heap, the median, 0 to 1
   */
  public record Everywhere(
      String service,
      String what,
      String heldBy,
      long hostsWith,
      long hosts,
      long medianCount,
      long medianBytes,
      double medianShare) {}

  /**
   * A host that retains much more than others of its service.
   *
   * @param service its service
   * @param build its build
   * @param host its name
   * @param retainedBytes what its last snapshot retains
   * @param medianBytes the median of the service's hosts
   * @param times how many times the median
   * @param file that snapshot
   */
  public record Outlier(
      String service,
      String build,
      String host,
      long retainedBytes,
      long medianBytes,
      double times,
      String file) {}

  /**
   * The snapshot that tells most.
   *
   * @param file where it lies
   * @param why in words
   */
  public record OpenFirst(String file, String why) {}

  /**
   * A snapshot that could not be looked at.
   *
   * @param file where it lies
   * @param service its service
   * @param host its host
   * @param problem in words
   */
  public record Failure(String file, String service, String host, String problem) {}
}
