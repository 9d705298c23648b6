package lipsanon.capture;

/** A runtime that can write all of its process's memory to a file by itself. */
public interface DumpingRuntime {
  /** About how many bytes such a file will have. */
  long dumpBytes();

  /**
   * Has it written, after a forced collection unless garbage is wanted.
   *
   * @throws CaptureException if the target refuses or vanishes, or no dump could be read
   */
  CaptureResult dump(CaptureOptions options, CaptureProgress progress) throws CaptureException;
}
