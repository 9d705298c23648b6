package lipsanon.cli.explore;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import lipsanon.cli.Context;
import lipsanon.cli.term.SafeText;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.reader.impl.DefaultParser;
import org.jline.reader.impl.completer.StringsCompleter;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;

/**
 * A prompt for SQL: a question ends with a semicolon, or with its line where it has none. With
 * completion and a history on a terminal; from a pipe, question by question.
 */
public final class SqlPrompt {
  private static final String ASK = "sql> ";

  private final Context context;
  private final List<String> words;
  private final Consumer<String> ask;

  /** A prompt that completes some words. */
  public SqlPrompt(Context context, List<String> words, Consumer<String> ask) {
    this.context = context;
    this.words = words;
    this.ask = ask;
  }

  /** Reads and asks until the end. */
  public void run() throws IOException {
    if ("1".equals(context.environment().get("LIPSANON_IN_TERMINAL"))) {
      interactive();
    } else {
      piped();
    }
  }

  private void piped() throws IOException {
    Charset charset = Charset.forName(System.getProperty("native.encoding", "UTF-8"));
    BufferedReader in = new BufferedReader(new InputStreamReader(System.in, charset));
    StringBuilder question = new StringBuilder();
    for (String line = in.readLine(); line != null; line = in.readLine()) {
      question.append(line).append('\n');
      if (line.strip().endsWith(";")) {
        one(question);
      }
    }
    one(question);
  }

  private void one(StringBuilder question) {
    String text = question.toString().strip();
    question.setLength(0);
    if (!text.isEmpty()) {
      context.out().println(ASK + SafeText.visible(text.replace('\n', ' ')));
      ask.accept(text);
    }
  }

  private void interactive() throws IOException {
    try (Terminal terminal = TerminalBuilder.builder().system(true).dumb(true).build()) {
      Path history = context.cache().resolve("sql-history");
      Files.createDirectories(history.getParent());
      DefaultParser parser = new DefaultParser();
      parser.setEscapeChars(null);
      parser.setQuoteChars(new char[0]);
      LineReader reader =
          LineReaderBuilder.builder()
              .terminal(terminal)
              .parser(parser)
              .completer(new StringsCompleter(words))
              .variable(LineReader.HISTORY_FILE, history)
              .option(LineReader.Option.DISABLE_EVENT_EXPANSION, true)
              .build();
      while (true) {
        String line;
        try {
          line = reader.readLine(ASK).strip();
        } catch (UserInterruptException e) {
          continue;
        } catch (EndOfFileException e) {
          return;
        }
        if (line.matches("(quit|exit);?")) {
          return;
        }
        if (!line.isEmpty()) {
          ask.accept(line);
        }
      }
    }
  }
}
