package lipsanon.capture;

import java.util.List;

/**
 * How many objects of each type there are.
 *
 * @param atMillis when, since the epoch
 * @param costMillis how long the target was asked: at most so long it stood still
 * @param live whether garbage was collected before
 * @param types the most bytes first
 * @param count all objects
 * @param bytes their sizes
 */
public record TypeCounts(
    long atMillis, long costMillis, boolean live, List<TypeCount> types, long count, long bytes) {
  /**
   * A type.
   *
   * @param type its name
   * @param count its objects
   * @param bytes their sizes
   */
  public record TypeCount(String type, long count, long bytes) {}
}
