package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * What clearing references would free.
 *
 * @param snapshot of which snapshot
 * @param selection the set that is asked about, in words; "" if none was given
 * @param count how many objects that are
 * @param heldBy what holds the set in words, where that was asked for; ""
 * @param cuts the references: one row where the user named them, else the fewest that free the set
 */
public record CutAnswer(
    SnapshotSummary snapshot, String selection, long count, String heldBy, List<Row> cuts) {
  /**
   * References that are cleared together.
   *
   * @param places in words, each a reference
   * @param objects how many objects have a reference that is cleared
   * @param references how many references that are
   * @param freesCount objects that go, exactly
   * @param freesBytes their shallow sizes
   * @param freesOfSet how many of the set are among them
   * @param freesTypes the types of most of what goes, with how many
   * @param from identifier of the object that has the reference, where it is one; ""
   */
  public record Row(
      List<String> places,
      long objects,
      long references,
      long freesCount,
      long freesBytes,
      long freesOfSet,
      List<String> freesTypes,
      String from) {}
}
