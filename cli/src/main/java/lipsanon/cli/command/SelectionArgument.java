package lipsanon.cli.command;

import java.nio.file.Path;
import java.util.List;
import picocli.CommandLine.Parameters;

/** A snapshot, and which of its objects a command is about. */
public final class SelectionArgument {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Parameters(
      index = "1..*",
      arity = "1..*",
      paramLabel = "SELECTION",
      description =
          "An identifier, a type (its name, a part of it, a pattern), or a selection such as"
              + " 'own and retained > 1MB' (see docs/selections.md).")
  private List<String> words;

  /** Filled in by the command line. */
  public SelectionArgument() {}

  /** The snapshot. */
  public Path file() {
    return file;
  }

  /** The text of the selection as one. */
  public String text() {
    return String.join(" ", words);
  }
}
