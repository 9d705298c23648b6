package lipsanon.cli;

/** The command line asks for what cannot be. One line for the user. */
public final class UsageException extends RuntimeException {
  private static final long serialVersionUID = 1L;

  /** With what is wrong and what to give. */
  public UsageException(String message) {
    super(message);
  }
}
