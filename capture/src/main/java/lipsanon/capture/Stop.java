package lipsanon.capture;

import java.io.IOException;

/** Tells when a recording has been long enough. */
public interface Stop {
  /** Asked about ten times a second. */
  boolean stop(long millisSoFar) throws IOException;
}
