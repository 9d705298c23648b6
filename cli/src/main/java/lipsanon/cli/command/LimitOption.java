package lipsanon.cli.command;

import lipsanon.cli.UsageException;
import picocli.CommandLine.Option;

/** How many rows an answer has at most. */
public final class LimitOption {
  @Option(
      names = "--limit",
      paramLabel = "N",
      description = "Rows at most (default: a first screen).")
  private Integer limit;

  /** Without a limit of the user's. */
  public LimitOption() {}

  /** The user's limit, or what the command shows otherwise. */
  public int or(int usual) {
    if (limit != null && limit < 1) {
      throw new UsageException("--limit takes a whole number from 1 on");
    }
    return limit == null ? usual : limit;
  }

  /** As it is given again for a further page; "" if the user gave none. */
  public String again() {
    return limit == null ? "" : " --limit " + limit;
  }
}
