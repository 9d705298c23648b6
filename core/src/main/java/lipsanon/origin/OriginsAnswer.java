package lipsanon.origin;

import java.util.List;

/**
 * Where objects were allocated.
 *
 * @param file the recording
 * @param kind how it was recorded, in words
 * @param sampled whether all figures are estimates from samples
 * @param selection what the answer is limited to, in words, or ""
 * @param seconds how long the recording lasted, or 0 if the file does not tell
 * @param liveCount objects allocated during the recording that are still alive
 * @param liveBytes their sizes
 * @param allCount all objects allocated during the recording, or 0 if not known
 * @param allBytes their sizes
 * @param functions by function, the most bytes first
 * @param stacks a tree of stacks, depth first
 * @param intervals the recording's timeline
 */
public record OriginsAnswer(
    String file,
    String kind,
    boolean sampled,
    String selection,
    double seconds,
    long liveCount,
    long liveBytes,
    long allCount,
    long allBytes,
    List<FunctionRow> functions,
    List<StackRow> stacks,
    List<IntervalRow> intervals) {

  /** The same with what the answer is limited to. */
  OriginsAnswer withSelection(String other) {
    return new OriginsAnswer(
        file, kind, sampled, other, seconds, liveCount, liveBytes, allCount, allBytes, functions,
        stacks, intervals);
  }

  /**
   * A function that allocated.
   *
   * @param function its name
   * @param script its file or address, "" for the runtime's own machinery
   * @param line from 1, or 0
   * @param column from 1, or 0
   * @param liveCount objects that are still alive
   * @param liveBytes their sizes
   * @param allCount all objects, or 0 if not known
   * @param allBytes their sizes
   * @param share of the bytes that the answer is about, 0 to 1
   */
  public record FunctionRow(
      String function,
      String script,
      int line,
      int column,
      long liveCount,
      long liveBytes,
      long allCount,
      long allBytes,
      double share) {}

  /**
   * A step of the tree of stacks.
   *
   * @param depth from 0
   * @param frame function with its place
   * @param count objects allocated here and below
   * @param bytes their sizes
   * @param share of the bytes that the answer is about, 0 to 1
   */
  public record StackRow(int depth, String frame, long count, long bytes, double share) {}

  /**
   * A part of the recording's time.
   *
   * @param fromMillis since the recording began
   * @param toMillis since the recording began
   * @param liveCount objects allocated then that are still alive
   * @param liveBytes their sizes
   * @param seenBytes bytes of then that were there at the interval's own end, or 0 if not known
   */
  public record IntervalRow(
      long fromMillis, long toMillis, long liveCount, long liveBytes, long seenBytes) {}
}
