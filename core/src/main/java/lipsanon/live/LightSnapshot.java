package lipsanon.live;

import java.util.List;

/**
 * A light snapshot.
 *
 * @param runtime kind of the runtime, for example {@code JVM}
 * @param program what ran
 * @param process its number or identifier
 * @param takenAtMillis when, since the epoch
 * @param live whether garbage was collected before
 * @param types names are unique
 */
public record LightSnapshot(
    String runtime,
    String program,
    String process,
    long takenAtMillis,
    boolean live,
    List<Type> types) {
  /**
   * A type.
   *
   * @param type its name
   * @param count its objects
   * @param shallowBytes their own sizes
   */
  public record Type(String type, long count, long shallowBytes) {}

  /** All objects. */
  public long count() {
    long sum = 0;
    for (Type type : types) {
      sum += type.count();
    }
    return sum;
  }

  /** Their own sizes. */
  public long shallowBytes() {
    long sum = 0;
    for (Type type : types) {
      sum += type.shallowBytes();
    }
    return sum;
  }
}
