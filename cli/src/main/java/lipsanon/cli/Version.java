package lipsanon.cli;

/** Which version of the program this is. */
public final class Version {
  /** As {@code --version} prints it. */
  public static final String TEXT = "lipsanon 0.1.0";

  private Version() {}
}
