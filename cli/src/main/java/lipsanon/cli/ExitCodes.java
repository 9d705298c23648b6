package lipsanon.cli;

/** What the process ends with. */
public final class ExitCodes {
  /** All is well. */
  public static final int FINE = 0;

  /** The check that was asked for failed. */
  public static final int CHECK_FAILED = 1;

  /** The command line is wrong. */
  public static final int USAGE = 2;

  /** A file is no snapshot, is damaged, or cannot be read or written. */
  public static final int BAD_INPUT = 3;

  /** A live process refused or vanished. */
  public static final int TARGET = 4;

  /** A fault of our own; the trace is in a log file. */
  public static final int OWN_FAULT = 5;

  /** Stopped by the user. */
  public static final int STOPPED = 130;

  private ExitCodes() {}
}
