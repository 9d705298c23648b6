package lipsanon.question;

import java.util.List;

/**
 * The upper part of the dominator tree: who keeps most, level by level.
 *
 * @param heapBytes what all of the heap retains
 * @param leastBytes objects that retain less are in nobody's list of children
 * @param nodes a node's parent stands before it; the largest first among those of one parent
 */
public record KeeperTree(long heapBytes, long leastBytes, List<Node> nodes) {
  /**
   * An object.
   *
   * @param parent its place in the list, or -1 at the top
   * @param id its identifier
   * @param type its type
   * @param label what tells it from others, or ""
   * @param kind what kind of thing it is, in words
   * @param heldBy what holds it, in words
   * @param shallowBytes its own size
   * @param retainedBytes what it retains
   */
  public record Node(
      int parent,
      String id,
      String type,
      String label,
      String kind,
      String heldBy,
      long shallowBytes,
      long retainedBytes) {}
}
