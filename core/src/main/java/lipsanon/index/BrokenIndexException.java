package lipsanon.index;

import java.io.IOException;

/** An index is missing parts, damaged, or of another version: build it again. */
public final class BrokenIndexException extends IOException {
  private static final long serialVersionUID = 1L;

  /** With what is wrong, the file named. */
  public BrokenIndexException(String message) {
    super(message);
  }
}
