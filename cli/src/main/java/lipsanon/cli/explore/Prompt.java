package lipsanon.cli.explore;

import java.io.BufferedReader;
import java.io.FilterWriter;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.io.Writer;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.BooleanSupplier;
import java.util.function.UnaryOperator;
import lipsanon.cli.Context;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.select.NamedSelections;
import org.jline.reader.EndOfFileException;
import org.jline.reader.LineReader;
import org.jline.reader.LineReaderBuilder;
import org.jline.reader.UserInterruptException;
import org.jline.reader.impl.DefaultParser;
import org.jline.terminal.Size;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;
import org.jline.utils.Signals;

/**
 * The prompt inside one snapshot: the usual commands without the file's name. Reads from a terminal
 * with history and completion, and from a pipe line by line.
 */
public final class Prompt {
  /** So long a question may take to show what it has found until it was stopped. */
  private static final long PATIENCE_NANOS = 500_000_000L;

  private static final Map<String, String> OWN = new TreeMap<>();

  static {
    OWN.put("back", "the question before");
    OWN.put("forward", "the question after it");
    OWN.put("name NAME", "keep what the last sift or refs was about: $NAME selects it");
    OWN.put("names", "the selections that have names");
    OWN.put("trail", "the questions so far, as a script that can be run again");
    OWN.put("help", "this list; COMMAND --help explains one");
    OWN.put("quit", "leave (also Ctrl-D)");
  }

  private final Context context;
  private final Snapshot snapshot;
  private final List<String> commands;
  private final Runner runner;
  private final RowIds rows = new RowIds();
  private final Trail trail;
  private String lastSelection = "";

  /** Runs a question: the words of a command, without the snapshot's name. */
  public interface Runner {
    /**
     * Runs it.
     *
     * @param words the command and its arguments
     * @param rows numbers the rows of what is printed
     * @param out where it is printed
     * @param stop whether the user wants no more
     */
    void run(List<String> words, UnaryOperator<View> rows, PrintWriter out, BooleanSupplier stop);
  }

  /** A prompt. */
  public Prompt(Context context, Snapshot snapshot, List<String> commands, Runner runner)
      throws IOException {
    this.context = context;
    this.snapshot = snapshot;
    this.commands = commands;
    this.runner = runner;
    this.trail = new Trail(snapshot.folder());
  }

  /** Reads and answers until the end. */
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
    for (String line = in.readLine(); line != null; line = in.readLine()) {
      String clean = line.strip();
      if (clean.isEmpty() || clean.startsWith("#")) {
        continue;
      }
      context.out().println("> " + SafeText.visible(clean));
      if (!answer(clean, context.out(), () -> false)) {
        return;
      }
      context.out().println();
      context.out().flush();
    }
  }

  private void interactive() throws IOException {
    // a terminal that is closed gives Ctrl-C back to whom it had it from: one that is late then
    // must not turn a prompt that was left into a program that was killed
    Signals.register("INT", () -> {});
    try (Terminal terminal = TerminalBuilder.builder().system(true).dumb(true).build()) {
      if (terminal.getWidth() <= 0 || terminal.getHeight() <= 0) {
        // a terminal that does not say how large it is
        terminal.setSize(new Size(context.terminal().width(), 40));
      }
      // between two lines nobody else listens: Ctrl-C there must not end the prompt
      terminal.handle(Terminal.Signal.INT, signal -> {});
      Path history = context.cache().resolve("history");
      Files.createDirectories(history.getParent());
      DefaultParser parser = new DefaultParser();
      parser.setEscapeChars(null);
      parser.setQuoteChars(new char[0]);
      List<String> first = new ArrayList<>(commands);
      OWN.keySet().forEach(own -> first.add(own.split(" ")[0]));
      LineReader reader =
          LineReaderBuilder.builder()
              .terminal(terminal)
              .parser(parser)
              .completer(new Completions(snapshot, first))
              .variable(LineReader.HISTORY_FILE, history)
              .variable(LineReader.LIST_MAX, 100)
              .option(LineReader.Option.DISABLE_EVENT_EXPANSION, true)
              .option(LineReader.Option.CASE_INSENSITIVE, true)
              .build();
      String prompt = "dumb".equals(terminal.getType()) ? "> " : name() + "> ";
      while (true) {
        String line;
        try {
          line = reader.readLine(prompt).strip();
        } catch (UserInterruptException e) {
          continue;
        } catch (EndOfFileException e) {
          return;
        }
        if (!line.isEmpty() && !cancellable(terminal, line)) {
          return;
        }
      }
    }
  }

  private String name() {
    String file = snapshot.file().getFileName().toString();
    return SafeText.visible(file.length() > 24 ? file.substring(0, 23) + "…" : file);
  }

  /**
   * Answers on a thread of its own, so that Ctrl-C ends a question and not the prompt: a question
   * that can show what it has does so; one that goes on all the same goes on unheard.
   */
  private boolean cancellable(Terminal terminal, String line) throws IOException {
    AtomicBoolean stop = new AtomicBoolean();
    CountDownLatch done = new CountDownLatch(1);
    Gate gate = new Gate(context.out());
    AtomicBoolean goesOn = new AtomicBoolean(true);
    AtomicReference<IOException> failure = new AtomicReference<>();
    Thread worker =
        new Thread(
            () -> {
              try {
                goesOn.set(answer(line, new PrintWriter(gate, false), stop::get));
              } catch (IOException e) {
                failure.set(e);
              } finally {
                done.countDown();
              }
            },
            "lipsanon-question");
    worker.setDaemon(true);
    Terminal.SignalHandler before = terminal.handle(Terminal.Signal.INT, signal -> stop.set(true));
    try {
      worker.start();
      long stoppedAt = 0;
      while (!done.await(20, TimeUnit.MILLISECONDS)) {
        if (stop.get()) {
          stoppedAt = stoppedAt == 0 ? System.nanoTime() : stoppedAt;
          if (System.nanoTime() - stoppedAt > PATIENCE_NANOS) {
            gate.shut();
            context.out().println("stopped");
            context.out().flush();
            return true;
          }
        }
      }
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } finally {
      terminal.handle(Terminal.Signal.INT, before);
    }
    if (failure.get() != null) {
      throw failure.get();
    }
    return goesOn.get();
  }

  /** Passes texts on until it is shut. */
  private static final class Gate extends FilterWriter {
    private boolean open = true;

    Gate(Writer out) {
      super(out);
    }

    synchronized void shut() {
      open = false;
    }

    @Override
    public synchronized void write(int c) throws IOException {
      if (open) {
        out.write(c);
      }
    }

    @Override
    public synchronized void write(char[] text, int from, int length) throws IOException {
      if (open) {
        out.write(text, from, length);
      }
    }

    @Override
    public synchronized void write(String text, int from, int length) throws IOException {
      if (open) {
        out.write(text, from, length);
      }
    }

    @Override
    public synchronized void flush() throws IOException {
      if (open) {
        out.flush();
      }
    }
  }

  /** Answers a line; false if it is the last one. */
  private boolean answer(String typed, PrintWriter out, BooleanSupplier stop) throws IOException {
    List<String> words = Words.of(typed);
    switch (words.get(0)) {
      case "quit", "exit":
        return false;
      case "help", "?":
        help(out);
        break;
      case "trail":
        trail.steps().forEach(step -> out.println(SafeText.visible(step)));
        break;
      case "names":
        NamedSelections.of(snapshot)
            .forEach((key, text) -> out.println("$" + key + "  " + SafeText.visible(text)));
        break;
      case "name":
        name(words, out);
        break;
      case "back":
        again(trail.back(), "this is the first question", out, stop);
        break;
      case "forward":
        again(trail.forward(), "this is the last question", out, stop);
        break;
      default:
        question(typed, out, true, stop);
    }
    out.flush();
    return true;
  }

  private void again(String step, String none, PrintWriter out, BooleanSupplier stop)
      throws IOException {
    if (step == null) {
      out.println(none);
    } else {
      out.println("> " + SafeText.visible(step));
      question(step, out, false, stop);
    }
  }

  private void question(String typed, PrintWriter out, boolean noted, BooleanSupplier stop)
      throws IOException {
    String line = rows.meant(typed);
    List<String> words = Words.of(line);
    String command = words.get(0);
    if (!commands.contains(command)) {
      out.println("There is no command " + SafeText.visible(command) + " here; try: help");
      return;
    }
    if (List.of("sift", "refs", "why", "keepers").contains(command) && words.size() > 1) {
      StringBuilder text = new StringBuilder();
      for (String word : words.subList(1, words.size())) {
        if (word.startsWith("--")) {
          break;
        }
        text.append(text.length() == 0 ? "" : " ").append(word);
      }
      lastSelection = text.toString();
    }
    if (noted) {
      trail.add(line);
    }
    runner.run(words, rows::number, out, stop);
  }

  private void name(List<String> words, PrintWriter out) throws IOException {
    if (words.size() < 2 || !NamedSelections.isName(words.get(1))) {
      out.println("name takes a name of letters, digits, - and _");
      return;
    }
    String text =
        words.size() > 2 ? String.join(" ", words.subList(2, words.size())) : lastSelection;
    if (text.isEmpty()) {
      out.println("There is no selection yet: sift something first.");
      return;
    }
    NamedSelections.put(snapshot, words.get(1), text);
    out.println("$" + words.get(1) + " is now: " + SafeText.visible(text));
  }

  private void help(PrintWriter out) {
    out.println("Questions, without the snapshot's name: " + String.join(", ", commands));
    OWN.forEach((command, what) -> out.printf("  %-10s %s%n", command, what));
    out.println("Rows are numbered: `show 3` shows the third row's object.");
    out.println("Selections: `sift own and retained > 1kB`; see docs/selections.md.");
  }
}
