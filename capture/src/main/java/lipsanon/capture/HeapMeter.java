package lipsanon.capture;

/** Looks at the heap of a live runtime again and again, lightly. One thread. */
public interface HeapMeter extends AutoCloseable {
  /** The heap at this moment. */
  HeapReading read() throws CaptureException;

  /**
   * Counts the objects of each type.
   *
   * @param collect whether garbage is collected first, so that only what is live counts
   * @return null where the runtime can count only by a whole snapshot
   */
  TypeCounts count(boolean collect) throws CaptureException;

  /**
   * Forces one round of collection.
   *
   * @return how long it took, in milliseconds
   */
  long collectOnce() throws CaptureException;

  /** Whether it can count without a whole snapshot. */
  boolean counts();

  /** Whether {@link HeapReading#survivedBytes} can be believed under this collector. */
  boolean tellsSurvivors();

  /** A connection for whole snapshots, closed together with this. */
  LiveRuntime runtime() throws CaptureException;

  /** Ends the connection; nothing stays in the runtime. */
  @Override
  void close();
}
