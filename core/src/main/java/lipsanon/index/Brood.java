package lipsanon.index;

import java.util.List;

/**
 * What an object with very many children in the dominator tree keeps: noted when the index is
 * built, since to find them later would mean to look at every object again.
 *
 * @param holder the object
 * @param count how many objects it dominates immediately
 * @param bytes what these retain
 * @param types the same by type
 * @param largest those that retain most, the largest first; not all
 */
public record Brood(int holder, long count, long bytes, List<OfType> types, List<Integer> largest) {
  /**
   * Children of a type.
   *
   * @param type the type
   * @param count how many
   * @param shallowBytes of these
   * @param retainedBytes what they retain
   * @param example the one that retains most
   */
  public record OfType(int type, long count, long shallowBytes, long retainedBytes, int example) {}
}
