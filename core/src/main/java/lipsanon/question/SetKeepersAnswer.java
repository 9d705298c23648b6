package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * Who must go so that a set of objects goes: the dominators of its members, merged.
 *
 * @param snapshot of which snapshot
 * @param selection the set, in words
 * @param direction {@code down} from the roots to the set, or {@code up} from the set
 * @param count how many objects the set has
 * @param unretained how many of these nothing keeps
 * @param retainedBytes what the set retains, exactly
 * @param keepers the tree, in the order in which it is read: a row's parent is the nearest row
 *     before it that is one level less deep
 * @param otherKeepers rows that are not shown
 * @param heldFromSeveralSides how many members nobody short of the roots dominates, though they are
 *     no roots themselves
 * @param sides how these are held
 */
public record SetKeepersAnswer(
    SnapshotSummary snapshot,
    String selection,
    String direction,
    long count,
    long unretained,
    long retainedBytes,
    List<Row> keepers,
    long otherKeepers,
    long heldFromSeveralSides,
    List<RefsAnswer.Row> sides) {

  /**
   * Objects of one place in the tree.
   *
   * @param level from 0
   * @param place how they are held: a root, a field, an element
   * @param type their type
   * @param label what tells the object from others where it is only one, or ""
   * @param id its identifier, or that of the one that frees most
   * @param objects how many
   * @param frees how many members of the set go with them
   * @param share of the set, 0 to 1
   * @param retainedBytes what they retain
   * @param members how many of them are members themselves
   */
  public record Row(
      int level,
      String place,
      String type,
      String label,
      String id,
      long objects,
      long frees,
      double share,
      long retainedBytes,
      long members) {}
}
