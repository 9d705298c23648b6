package lipsanon.array;

/**
 * Long loops in steps. A loop that runs but once, over millions of elements, is compiled while it
 * runs, from what was seen at its beginning, and once more for each loop behind it in the same
 * method; a step is a method that is called often, so it is compiled early, whole and well.
 */
public final class Steps {
  private static final int STEP = 1 << 13;

  private Steps() {}

  /** A part of a loop. */
  public interface Step {
    /** The elements from {@code from} to {@code to}, that one not included. */
    void run(int from, int to);
  }

  /** Steps through the elements from {@code from} up to {@code to}, that one not included. */
  public static void up(int from, int to, Step step) {
    for (long at = from; at < to; at += STEP) {
      step.run((int) at, (int) Math.min(to, at + STEP));
    }
  }

  /** The same with the last step first; the step itself has to go downwards as well. */
  public static void down(int from, int to, Step step) {
    for (long at = to; at > from; at -= STEP) {
      step.run((int) Math.max(from, at - STEP), (int) at);
    }
  }
}
