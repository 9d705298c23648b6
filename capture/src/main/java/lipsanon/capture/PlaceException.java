package lipsanon.capture;

/** A snapshot cannot go where the user wants it: the call's words are wrong, not the target. */
public final class PlaceException extends CaptureException {
  private static final long serialVersionUID = 1L;

  /** With what is in the way and what to do. */
  public PlaceException(String message) {
    super(message);
  }
}
