package lipsanon.select;

/** A selection that cannot be understood, or names what does not exist; the message says where. */
public final class SelectionException extends Exception {
  private static final long serialVersionUID = 1;

  private final int at;
  private final boolean missing;

  /** What cannot be understood. */
  SelectionException(String message, int at) {
    this(message, at, false);
  }

  private SelectionException(String message, int at, boolean missing) {
    super(message);
    this.at = at;
    this.missing = missing;
  }

  /** What is understood, but not there. */
  static SelectionException missing(String message, int at) {
    return new SelectionException(message, at, true);
  }

  /** Where in the text, from 0; -1 if it is no matter of the text. */
  public int at() {
    return at;
  }

  /** Whether the text is understood, and the snapshot lacks what it names. */
  public boolean missing() {
    return missing;
  }
}
