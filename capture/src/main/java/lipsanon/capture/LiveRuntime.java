package lipsanon.capture;

/** A connection to a live runtime. One thread. */
public interface LiveRuntime extends AutoCloseable {
  /** Heap in use now, in bytes, garbage included. */
  long heapUsed() throws CaptureException;

  /** Forces a full collection. */
  void collect() throws CaptureException;

  /**
   * Takes a snapshot.
   *
   * @throws CaptureException if the target refuses or vanishes, or the file cannot be written
   */
  CaptureResult capture(CaptureOptions options, CaptureProgress progress) throws CaptureException;

  /** Ends the connection; the runtime goes on. */
  @Override
  void close();
}
