package lipsanon.io;

/** The file ends before the format says that it may. */
public final class TruncatedInputException extends InputException {
  private static final long serialVersionUID = 1L;

  /**
   * @param source the file's name as the user gave it
   * @param position offset in bytes at which more was needed
   * @param expected what should have stood there
   */
  public TruncatedInputException(String source, long position, String expected) {
    super(
        source
            + ": cut off at byte "
            + position
            + ", where "
            + expected
            + " should stand (was the capture interrupted or the disk full?)",
        position);
  }
}
