package lipsanon.live;

import java.util.List;

/**
 * The series of a watched heap, in time order.
 *
 * @param runtime kind of the runtime
 * @param program what ran
 * @param process its number or identifier
 * @param startedAtMillis since the epoch
 * @param heap readings
 * @param counts of the types
 * @param marks what the user did meanwhile
 */
public record HeapSeries(
    String runtime,
    String program,
    String process,
    long startedAtMillis,
    List<Heap> heap,
    List<Types> counts,
    List<Mark> marks) {
  /** A reading; -1 is what is not known. */
  public record Heap(
      long atMillis,
      long usedBytes,
      long committedBytes,
      long maxBytes,
      long collections,
      long pauseMicros,
      long survivedBytes) {}

  /**
   * A count.
   *
   * @param costMillis how long the target was asked
   * @param live whether garbage was collected before
   * @param count all objects, those of types that were not kept included
   * @param shallowBytes their sizes
   * @param types the largest
   */
  public record Types(
      long atMillis,
      long costMillis,
      boolean live,
      long count,
      long shallowBytes,
      List<LightSnapshot.Type> types) {}

  /** Something that was done. */
  public record Mark(long atMillis, String mark, String text) {}
}
