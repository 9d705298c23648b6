package lipsanon.cli.page;

import java.util.List;
import lipsanon.change.GrowthAnswer;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.HostSeries;
import lipsanon.origin.OriginsAnswer;
import lipsanon.question.GroupsAnswer;
import lipsanon.question.KeeperTree;
import lipsanon.question.SavingsAnswer;
import lipsanon.question.SurveyAnswer;
import lipsanon.question.WhyAnswer;

/**
 * All that a report page shows; what there is nothing of is null or empty.
 *
 * @param title of the page
 * @param subject the snapshot's file, as a command takes it
 * @param live whether the page is served, and can ask
 * @param growth of a series
 * @param survey of the last snapshot
 * @param keepers the upper part of its dominator tree
 * @param kinds what fills it
 * @param types all of its types, column by column
 * @param ways how the sets of the findings are held
 * @param origins where things were allocated
 * @param watched series of watched heaps
 * @param fleets what tables of many snapshots say
 * @param savings what is lost without a leak
 * @param made how the page was made
 */
public record PageData(
    String title,
    String subject,
    boolean live,
    GrowthAnswer growth,
    SurveyAnswer survey,
    KeeperTree keepers,
    GroupsAnswer kinds,
    Types types,
    List<WhyAnswer> ways,
    List<Origins> origins,
    List<Watched> watched,
    List<Fleet> fleets,
    SavingsAnswer savings,
    Made made) {

  /** Types by column: a page may have tens of thousands. */
  public record Types(
      List<String> names,
      List<Long> counts,
      List<Long> shallow,
      List<Long> retained,
      List<Boolean> own,
      boolean exact) {}

  /**
   * A recording.
   *
   * @param sentence what is likely to pile up, or ""
   */
  public record Origins(
      String file,
      String kind,
      String sentence,
      boolean sampled,
      List<OriginsAnswer.FunctionRow> functions,
      List<OriginsAnswer.StackRow> stacks) {}

  /**
   * A series of a watched heap.
   *
   * @param used pairs of seconds and bytes in use
   * @param survived the same of what was left of a collection
   */
  public record Watched(
      String program, String sentence, List<List<Double>> used, List<List<Double>> survived) {}

  /**
   * Many snapshots.
   *
   * @param series of the place that grows most, by host
   */
  public record Fleet(FleetAnswer answer, List<HostSeries> series) {}

  /** How the page was made. */
  public record Made(String version, String at, List<Source> files, List<String> commands) {}

  /** A file that the page is of. */
  public record Source(String file, long bytes, String what) {}
}
