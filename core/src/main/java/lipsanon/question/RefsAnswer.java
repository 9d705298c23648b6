package lipsanon.question;

import java.util.List;
import lipsanon.label.SnapshotSummary;

/**
 * How the objects of a set are held, or what they refer to, merged over the set.
 *
 * @param snapshot of which snapshot
 * @param selection the set, in words
 * @param direction {@code in} or {@code out}
 * @param count how many objects the set has
 * @param levels the set first, then what holds it (or what it refers to), and so on
 * @param ended why no further level was looked at, in words; "" if nobody asked for one
 */
public record RefsAnswer(
    SnapshotSummary snapshot,
    String selection,
    String direction,
    long count,
    List<Level> levels,
    String ended) {

  /**
   * A level.
   *
   * @param depth from 1
   * @param what the set that this level asks about, in words
   * @param count how many objects that are
   * @param reached how many of them have any such reference, roots included
   * @param fromWithin how many have one from the set itself or from what was passed already: links
   *     of lists and trees, which lead nowhere new
   * @param others how many different objects stand on the other side, those of the set left out
   * @param rows the ways, the most frequent first
   * @param otherRows ways that are not shown
   */
  public record Level(
      int depth,
      String what,
      long count,
      long reached,
      long fromWithin,
      long others,
      List<Row> rows,
      int otherRows) {}

  /**
   * A way.
   *
   * @param place {@code Type.field}, {@code static Type.field}, {@code Type[]}, a root's kind
   * @param type the type on the other side, "" for roots
   * @param field the field's name as a selection takes it, or ""
   * @param members how many of the set have this reference
   * @param notMembers how many have not
   * @param others how many different objects stand on the other side
   * @param othersShallowBytes of these
   * @param within whether it is a link inside the set or back to what was passed
   * @param own whether the other side is the user's own
   * @param membersSelection selects the members that have it
   * @param notMembersSelection selects those that have not
   * @param othersSelection selects the other side; "" for roots
   */
  public record Row(
      String place,
      String type,
      String field,
      long members,
      long notMembers,
      long others,
      long othersShallowBytes,
      boolean within,
      boolean own,
      String membersSelection,
      String notMembersSelection,
      String othersSelection) {}
}
