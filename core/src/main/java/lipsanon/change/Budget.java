package lipsanon.change;

/**
 * What a heap may take at most.
 *
 * @param name how users call it
 * @param measure what is measured
 * @param selection of which objects, for counts and retained sizes; otherwise ""
 * @param kind of savings, "" for the largest one; otherwise ""
 * @param limit objects or bytes
 */
public record Budget(String name, Measure measure, String selection, String kind, long limit) {
  /** What can be measured. */
  public enum Measure {
    /** The heap that something keeps, in bytes. */
    HEAP,
    /** Objects of a selection. */
    COUNT,
    /** What a selection retains, in bytes. */
    RETAINED,
    /** What the largest finding of a series gains with each action (or each snapshot), in bytes. */
    GROWTH,
    /** What could be saved though nothing leaks, in bytes. */
    SAVINGS;

    /** Whether it is in bytes; otherwise in objects. */
    public boolean inBytes() {
      return this != COUNT;
    }
  }
}
