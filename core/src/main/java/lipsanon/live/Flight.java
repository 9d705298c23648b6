package lipsanon.live;

import java.util.List;

/**
 * What a recording tells.
 *
 * @param beginMillis of its first event, since the epoch
 * @param endMillis of its last
 * @param allocations samples of allocations, in order of time
 * @param survivors samples of objects that were alive at the last look
 * @param heap what collections left, in order of time
 * @param partial whether a part of the file could not be read
 */
public record Flight(
    long beginMillis,
    long endMillis,
    List<Allocation> allocations,
    List<Survivor> survivors,
    List<AfterCollection> heap,
    boolean partial) {
  /**
   * A method on a stack.
   *
   * @param type its class
   * @param method its name
   * @param line in its source, or -1
   * @param file its source, or "" where the runtime does not tell
   */
  public record Frame(String type, String method, int line, String file) {
    /** Of a runtime that does not tell files. */
    public Frame(String type, String method, int line) {
      this(type, method, line, "");
    }
  }

  /**
   * A sample of allocations.
   *
   * @param type of the object
   * @param weightBytes allocated by that thread since its last sample
   * @param thread its name
   * @param stack innermost first; may be cut off
   */
  public record Allocation(
      long atMillis, String type, long weightBytes, String thread, List<Frame> stack) {}

  /**
   * An object that survived.
   *
   * @param type of the object
   * @param allocatedMillis when, since the epoch
   * @param ageMillis at the last look
   * @param heapBytes what was in use after the collection before it was allocated
   * @param elements of an array, or -1
   * @param thread that allocated it
   * @param stack where, innermost first
   * @param chain what keeps it, from the object outwards; empty where it was not looked for
   * @param root what the chain ends at, in the VM's words, or ""
   */
  public record Survivor(
      String type,
      long allocatedMillis,
      long ageMillis,
      long heapBytes,
      long elements,
      String thread,
      List<Frame> stack,
      List<Link> chain,
      String root) {}

  /**
   * A step outwards.
   *
   * @param holder type of the object that refers; a class object's is the class that it stands for
   * @param field its field, or "" for an element of an array
   * @param isStatic whether that field is static
   * @param description what the VM says of the holder besides, or ""
   */
  public record Link(String holder, String field, boolean isStatic, String description) {}

  /** What a collection left. */
  public record AfterCollection(long atMillis, long usedBytes, String collector) {}
}
