package lipsanon.capture;

import java.util.List;

/**
 * What a runtime says of its heap at a moment, at next to no cost to it.
 *
 * @param atMillis when, since the epoch
 * @param usedBytes in use, garbage included, or -1
 * @param committedBytes what it has from the operating system, or -1
 * @param maxBytes the most that it may grow to, or -1
 * @param collections how many collections it has made, or -1
 * @param pauseMicros how long they stopped it in all, or -1
 * @param survivedBytes what its last collection left, where it tells; else -1
 * @param areas the parts of the heap, and what lies beside it
 */
public record HeapReading(
    long atMillis,
    long usedBytes,
    long committedBytes,
    long maxBytes,
    long collections,
    long pauseMicros,
    long survivedBytes,
    List<Area> areas) {
  /**
   * A part of the heap, or of what the runtime keeps beside it.
   *
   * @param name as the runtime calls it
   * @param usedBytes in use
   * @param committedBytes reserved for it at present: what is not in use of it is free in pieces
   * @param maxBytes the most that it may grow to, or -1
   * @param heap whether it is a part of the heap
   */
  public record Area(
      String name, long usedBytes, long committedBytes, long maxBytes, boolean heap) {}
}
