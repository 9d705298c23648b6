package lipsanon.cli.command;

import picocli.CommandLine.Option;

/** Limits an answer to types of some names. */
public final class MatchOption {
  @Option(
      names = "--match",
      paramLabel = "NAME",
      description = "Only types whose name fits: a glob, or a part of the name.")
  private String match;

  /** Without a name. */
  public MatchOption() {}

  /** What the user gave, or null. */
  public String name() {
    return match;
  }
}
