package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * What could be saved though nothing leaks. Within a kind no byte is counted twice; kinds may
 * overlap.
 *
 * @param snapshot of which snapshot
 * @param kinds the largest first
 */
public record SavingsAnswer(SnapshotSummary snapshot, List<Kind> kinds) {
  /**
   * A kind of waste.
   *
   * @param kind in a few words
   * @param bytes that could be saved
   * @param count of the objects that are too many or too large
   * @param sentence the same in a sentence
   * @param advice what to do
   * @param places where, the most bytes first
   * @param otherPlaces how many more places there are
   * @param commonest what is there most often, where that can be said
   */
  public record Kind(
      String kind,
      long bytes,
      long count,
      String sentence,
      String advice,
      List<Place> places,
      int otherPlaces,
      List<Common> commonest) {}

  /**
   * Where something could be saved.
   *
   * @param where the field or variable that holds these, or the type of their holder
   * @param bytes that could be saved there
   * @param count of the objects
   * @param example identifier of one of them
   */
  public record Place(String where, long bytes, long count, String example) {}

  /**
   * Contents that are there several times.
   *
   * @param text shortened
   * @param count how often
   * @param bytes that could be saved
   */
  public record Common(String text, long count, long bytes) {}
}
