package lipsanon.capture;

import java.io.IOException;

/**
 * A live process refused or vanished, or a snapshot could not be written. One line for the user.
 */
public class CaptureException extends IOException {
  private static final long serialVersionUID = 1L;

  /** With what happened and what to do. */
  public CaptureException(String message) {
    super(message);
  }

  /** With what happened, what to do, and the cause for the log. */
  public CaptureException(String message, Throwable cause) {
    super(message, cause);
  }
}
