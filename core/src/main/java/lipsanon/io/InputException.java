package lipsanon.io;

import java.io.IOException;

/**
 * Something is wrong with a file that the user gave. The message is one line that names the file,
 * the place (a byte offset) where there is one, what was found and what to do.
 */
public sealed class InputException extends IOException
    permits CorruptInputException, TruncatedInputException, UnsupportedInputException {
  private static final long serialVersionUID = 1L;

  /** The offset in bytes from the start of the file, or -1 where no place can be named. */
  private final long position;

  InputException(String message, long position) {
    super(message);
    this.position = position;
  }

  /** The offset in bytes from the start of the file, or -1 where no place can be named. */
  public long position() {
    return position;
  }
}
