package lipsanon.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Map;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import lipsanon.cli.settings.Settings;
import lipsanon.cli.term.Terminal;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;

/**
 * What a command works with.
 *
 * @param out answers
 * @param err progress and warnings
 * @param terminal where they go
 * @param environment variables
 * @param views what is done to an answer before it is printed for people
 * @param stop whether the user wants no more
 * @param within the snapshot that questions are about without naming it, or ""
 */
public record Context(
    PrintWriter out,
    PrintWriter err,
    Terminal terminal,
    Map<String, String> environment,
    UnaryOperator<View> views,
    String within,
    BooleanSupplier stop) {
  /** For a command line of its own. */
  public Context(
      PrintWriter out, PrintWriter err, Terminal terminal, Map<String, String> environment) {
    this(out, err, terminal, environment, view -> view, "", () -> false);
  }

  /**
   * Inside of one snapshot: what commands suggest leaves its name out.
   *
   * @param answers where answers go
   * @param stopping asked now and then whether to end with what was found
   */
  public Context within(
      PrintWriter answers, UnaryOperator<View> numbered, String file, BooleanSupplier stopping) {
    // what an abandoned question still says of errors goes nowhere, like its answer
    PrintWriter errors = answers == out ? err : answers;
    return new Context(answers, errors, terminal, environment, numbered, file, stopping);
  }

  /** The user's cache folder for this program. */
  public Path cache() {
    String base = environment.getOrDefault("XDG_CACHE_HOME", "");
    Path root = base.isEmpty() ? Path.of(System.getProperty("user.home"), ".cache") : Path.of(base);
    return root.resolve("lipsanon");
  }

  /** The settings that hold beside the command line. */
  public Settings settings() {
    return Settings.load(environment, Path.of(""));
  }

  /** Progress for a long computation; draws only on a terminal. */
  public TerminalProgress progress() {
    return new TerminalProgress(err, terminal.progress());
  }
}
