package lipsanon.cli;

import java.io.PrintWriter;
import java.nio.file.Path;
import java.util.Map;
import lipsanon.cli.term.Terminal;
import lipsanon.cli.term.TerminalProgress;

/**
 * What a command works with.
 *
 * @param out answers
 * @param err progress and warnings
 * @param terminal where they go
 * @param environment variables
 */
public record Context(
    PrintWriter out, PrintWriter err, Terminal terminal, Map<String, String> environment) {

  /** The user's cache folder for this program. */
  public Path cache() {
    String base = environment.getOrDefault("XDG_CACHE_HOME", "");
    Path root = base.isEmpty() ? Path.of(System.getProperty("user.home"), ".cache") : Path.of(base);
    return root.resolve("lipsanon");
  }

  /** Progress for a long computation; draws only on a terminal. */
  public TerminalProgress progress() {
    return new TerminalProgress(err, terminal.progress());
  }
}
