package lipsanon.io;

/** The bytes at a place contradict the format. */
public final class CorruptInputException extends InputException {
  private static final long serialVersionUID = 1L;

  /**
   * @param source the file's name as the user gave it
   * @param position offset in bytes of the contradiction
   * @param found what stands there
   * @param expected what the format asks for
   */
  public CorruptInputException(String source, long position, String found, String expected) {
    super(
        source + ": damaged at byte " + position + ": found " + found + ", expected " + expected,
        position);
  }
}
