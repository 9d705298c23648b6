package lipsanon.cli.command;

import lipsanon.cli.UsageException;

/** The embedded engine has no native part for this machine. */
public final class NoEngine {
  private NoEngine() {}

  /**
   * What is told.
   *
   * @param command that needs it
   * @param instead what can be done, or ""
   */
  public static UsageException on(String command, String instead) {
    return new UsageException(
        command
            + ": the engine is not there for this machine ("
            + System.getProperty("os.name")
            + " "
            + System.getProperty("os.arch")
            + ")"
            + instead);
  }
}
