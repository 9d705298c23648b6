package lipsanon.origin;

import java.util.List;

/**
 * What a recording of a Java VM tells of allocations, and of what survived.
 *
 * @param origins by function and by stack
 * @param exactness how exact the figures are, in words
 * @param types by type, the most bytes first
 * @param threads by thread, the most bytes first
 * @param survivors sampled objects that were alive at the end, merged by type and place
 * @param survivorCount samples among them
 * @param partial whether a part of the file could not be read
 */
public record FlightAnswer(
    OriginsAnswer origins,
    String exactness,
    List<TypeRow> types,
    List<ThreadRow> threads,
    List<SurvivorRow> survivors,
    int survivorCount,
    boolean partial) {
  /**
   * A type.
   *
   * @param samples allocations that were sampled
   * @param bytes allocated, an estimate
   * @param share of all bytes, 0 to 1
   * @param aliveSamples sampled objects that were alive at the end
   */
  public record TypeRow(String type, long samples, long bytes, double share, long aliveSamples) {}

  /** A thread; its figures are those of a type. */
  public record ThreadRow(String thread, long samples, long bytes, double share) {}

  /**
   * Objects that survived.
   *
   * @param type of them
   * @param place the frame of the user's own that allocated them, or the innermost
   * @param samples how many were sampled
   * @param youngestMillis age of the youngest at the end
   * @param oldestMillis age of the oldest
   * @param thread that allocated most of them
   * @param heldBy what keeps them, as far as the VM told it, or ""
   * @param chain one of the ways, from the object outwards
   */
  public record SurvivorRow(
      String type,
      String place,
      String script,
      int line,
      long samples,
      long youngestMillis,
      long oldestMillis,
      String thread,
      String heldBy,
      List<String> chain) {}
}
