package lipsanon.cli.command;

import lipsanon.question.GroupsQuestion;
import picocli.CommandLine.Option;

/** Groups an answer. */
public final class ByOption {
  @Option(
      names = "--by",
      paramLabel = "WHAT",
      description =
          "The heap in a few parts: by package, loader, thread, root (its kind) or kind (text,"
              + " arrays, boxed numbers, collections, code, own classes, the runtime); .NET also by"
              + " generation.")
  private GroupsQuestion.By by;

  /** Without groups. */
  public ByOption() {}

  /** What the user gave, or null. */
  public GroupsQuestion.By by() {
    return by;
  }
}
