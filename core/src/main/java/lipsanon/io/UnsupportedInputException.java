package lipsanon.io;

/** The file is not a snapshot that can be read here, or of a version or size beyond support. */
public final class UnsupportedInputException extends InputException {
  private static final long serialVersionUID = 1L;

  /**
   * @param source the file's name as the user gave it
   * @param reason what it is or is not, and what to do
   */
  public UnsupportedInputException(String source, String reason) {
    super(source + ": " + reason, -1);
  }
}
