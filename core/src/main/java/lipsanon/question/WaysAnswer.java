package lipsanon.question;

import java.util.List;

/**
 * The nearest paths of all members of a set, merged: steps that several share stand once.
 *
 * @param nodes all steps; a node's parent stands before it
 * @param otherNodes steps that are not shown
 */
public record WaysAnswer(List<Node> nodes, long otherNodes) {
  /**
   * A step.
   *
   * @param number from 0, its place in the list
   * @param parent the step before, or -1 for one that a root holds
   * @param via how the step before refers to it; for a first one {@code root: } and its kind, or
   *     the static field or variable of a module that it hangs on
   * @param type its type
   * @param label what tells its object from others, where it is only one
   * @param id an object of it
   * @param objects how many objects the step merges
   * @param leadsTo how many members are reached through it
   * @param members how many members end here
   * @param own whether the type is the user's own
   */
  public record Node(
      int number,
      int parent,
      String via,
      String type,
      String label,
      String id,
      long objects,
      long leadsTo,
      long members,
      boolean own) {}
}
