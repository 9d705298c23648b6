package lipsanon.capture;

/** Hears how far a capture is. */
public interface CaptureProgress {
  /** Hears nothing. */
  CaptureProgress NONE = (what, done, total) -> {};

  /**
   * So far.
   *
   * @param what is done, in a few words
   * @param done bytes written
   * @param total bytes expected, a guess, or 0
   */
  void at(String what, long done, long total);
}
