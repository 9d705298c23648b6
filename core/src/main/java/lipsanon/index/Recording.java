package lipsanon.index;

import java.util.List;

/**
 * Where objects were allocated: a tree of stacks, the outermost frame first. Node 0 is the root; a
 * node's parent has a smaller number. The arrays are shared, not copied.
 *
 * @param kind in words
 * @param sampled whether only samples were taken, so that all figures are estimates
 * @param frames all frames; node 0's stands for the whole program
 * @param parent by node: its parent, -1 for the root
 * @param frame by node: its frame
 * @param allCount by node: objects allocated there since the recording began, those freed since
 *     included; 0 where that is not known
 * @param allBytes the same in bytes
 * @param liveCount by node: objects allocated there that are still alive
 * @param liveBytes the same in bytes
 * @param ends by interval of the recording: its end in milliseconds since the recording began;
 *     empty where there is no timeline
 * @param lastIds by interval: the greatest identifier that was given out in it
 * @param intervalBytes by interval: bytes allocated in it as far as they were seen; may be empty
 */
public record Recording(
    String kind,
    boolean sampled,
    List<Frame> frames,
    int[] parent,
    int[] frame,
    long[] allCount,
    long[] allBytes,
    long[] liveCount,
    long[] liveBytes,
    long[] ends,
    long[] lastIds,
    long[] intervalBytes) {

  /**
   * A function on a stack.
   *
   * @param function its name, {@code (anonymous)} if it has none
   * @param script its full name, "" for the runtime's own machinery
   * @param line from 1, or 0
   * @param column from 1, or 0
   * @param library whether it belongs to the runtime
   */
  public record Frame(String function, String script, int line, int column, boolean library) {
    /** As users read it: {@code function (script:line:column)}, as far as it is known. */
    public String text() {
      if (script.isEmpty()) {
        return function;
      }
      String name =
          script.startsWith("node:") ? script : script.substring(script.lastIndexOf('/') + 1);
      String place = column > 0 ? line + ":" + column : Integer.toString(line);
      return function + " (" + name + (line > 0 ? ":" + place : "") + ")";
    }
  }

  /**
   * The interval in which an identifier was given out; what is older than the recording counts to
   * the first one. -1 for even identifiers, which are not of the heap of scripts, and if there is
   * no timeline.
   */
  public int interval(long id) {
    if ((id & 1) == 0) {
      return -1;
    }
    int low = 0;
    int high = lastIds.length - 1;
    while (low <= high) {
      int middle = low + high >>> 1;
      if (lastIds[middle] < id) {
        low = middle + 1;
      } else {
        high = middle - 1;
      }
    }
    return Math.min(low, lastIds.length - 1);
  }
}
