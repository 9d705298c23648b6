package lipsanon.cli.command;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.Callable;
import lipsanon.cli.Context;
import lipsanon.cli.UsageException;
import lipsanon.cli.settings.Settings;
import lipsanon.cli.term.CsvRenderer;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.JsonAnswers;
import lipsanon.cli.term.MarkdownRenderer;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.TextRenderer;
import lipsanon.cli.term.View;
import picocli.CommandLine.Option;

/** A command that gives an answer, in the form that the user wants. */
public abstract class Answering implements Callable<Integer> {
  public final Context context;

  @Option(names = "--json", description = "Answer as JSON.")
  private boolean json;

  @Option(names = "--csv", description = "Answer as CSV: the main table, sizes in bytes.")
  private boolean csv;

  @Option(
      names = "--raw",
      description =
          "With --csv: texts as they are; otherwise those that a spreadsheet would take for a"
              + " formula get an apostrophe before them.")
  private boolean raw;

  @Option(names = "--markdown", description = "Answer as Markdown.")
  private boolean markdown;

  @Option(names = "--bytes", description = "Sizes as exact byte counts.")
  private boolean bytes;

  @Option(
      names = "--hide-contents",
      negatable = true,
      fallbackValue = "true",
      description = "Lengths and keyed hashes in place of texts and values.")
  private boolean hideContents;

  @Option(
      names = {"-h", "--help"},
      usageHelp = true,
      description = "Explain this command.")
  private boolean help;

  public Answering(Context context) {
    this.context = context;
  }

  public Format format() {
    return new Format(bytes);
  }

  /** Makes the view only if it is wanted. */
  public interface Viewer {
    View view() throws IOException;
  }

  public boolean raw() {
    return raw;
  }

  /** Whether contents are told by their hashes only. */
  public boolean hidesContents() {
    return hideContents;
  }

  /** The user's key of hashes that stand for contents. */
  protected byte[] hidingKey() {
    try {
      return Settings.hidingKey(context.environment());
    } catch (IOException e) {
      throw new UsageException(
          "the key for hashes cannot be kept in "
              + Settings.userFolder(context.environment())
              + "; set XDG_CONFIG_HOME to a folder of yours");
    }
  }

  /** Whether the answer is wanted as JSON. */
  protected boolean json() {
    return json;
  }

  /** Whether the answer is wanted as CSV. */
  protected boolean csv() {
    return csv;
  }

  public void print(String name, Record answer, Viewer viewer) throws IOException {
    if ((json ? 1 : 0) + (csv ? 1 : 0) + (markdown ? 1 : 0) > 1) {
      throw new UsageException("give one of --json, --csv and --markdown");
    }
    if (json) {
      JsonAnswers.write(context.out(), name, answer);
    } else if (csv) {
      new CsvRenderer(context.out(), raw).render(viewer.view());
    } else if (markdown) {
      new MarkdownRenderer(context.out()).render(viewer.view());
    } else {
      View view = context.views().apply(viewer.view());
      String within = context.within();
      new TextRenderer(context.out(), context.terminal())
          .render(within.isEmpty() ? view : view.within("lipsanon", quote(within)));
    }
  }

  /** Prints a part of a long list; what follows of it comes with further calls. */
  protected void printRows(List<? extends Record> rows, Table table, boolean first)
      throws IOException {
    if (json) {
      for (Record row : rows) {
        JsonAnswers.line(context.out(), row);
      }
    } else if (csv) {
      new CsvRenderer(context.out(), raw).rows(table, first);
    } else {
      new TextRenderer(context.out(), context.terminal()).render(new View().table(table));
    }
    context.out().flush();
  }

  public static List<String> split(String commaSeparated) {
    List<String> parts = new ArrayList<>();
    if (commaSeparated != null) {
      for (String part : commaSeparated.split(",")) {
        if (!part.isBlank()) {
          parts.add(part.trim());
        }
      }
    }
    return parts;
  }

  /** A text as a shell takes it back. */
  public static String quote(String text) {
    return text.matches("[A-Za-z0-9_./:@%+=,-]+") ? text : "'" + text.replace("'", "'\\''") + "'";
  }
}
