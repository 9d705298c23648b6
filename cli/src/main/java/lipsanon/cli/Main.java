package lipsanon.cli;

import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.charset.Charset;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import lipsanon.capture.CaptureException;
import lipsanon.capture.PlaceException;
import lipsanon.cli.command.Commands;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.Terminal;
import lipsanon.index.BrokenIndexException;
import lipsanon.index.IndexStore;
import lipsanon.io.InputException;
import picocli.CommandLine;
import picocli.CommandLine.ParameterException;

/** The entry of the command line. */
public final class Main {
  /** The version that {@code --version} prints. */
  public static final String VERSION = "0.1.0";

  private Main() {}

  /** Runs a command and exits with its code. */
  public static void main(String[] args) {
    // before anything else is loaded: the answer to this one needs nothing
    if (args.length == 1 && args[0].equals("--version")) {
      System.out.println("lipsanon " + VERSION);
      return;
    }
    Charset charset = Charset.forName(System.getProperty("native.encoding", "UTF-8"));
    WatchedOutput watched =
        new WatchedOutput(new java.io.FileOutputStream(java.io.FileDescriptor.out));
    PrintWriter out = new PrintWriter(new OutputStreamWriter(watched, charset), false);
    int code = run(out, new PrintWriter(System.err, true), System.getenv(), args);
    out.flush();
    if (watched.failure() != null && !watched.closedByReader()) {
      System.err.println(
          "lipsanon: the answer could not be written: "
              + SafeText.message(watched.failure().getMessage()));
      code = ExitCodes.OWN_FAULT;
    }
    System.exit(code);
  }

  /** Runs a command without ending the process. */
  public static int run(
      PrintWriter out, PrintWriter err, Map<String, String> environment, String... args) {
    return run(out, err, environment, false, args);
  }

  private static int run(
      PrintWriter out,
      PrintWriter err,
      Map<String, String> environment,
      boolean again,
      String... args) {
    Context context = new Context(out, err, Terminal.of(environment), environment);
    CommandLine line = Commands.line(context, args);
    line.setOut(out).setErr(err);
    line.setParameterExceptionHandler((e, given) -> usage(err, e));
    boolean[] damaged = {false};
    line.setExecutionExceptionHandler(
        (e, command, result) -> {
          // once: an index that is damaged at its second reading has another cause
          damaged[0] = !again && forgotten(context, e);
          return damaged[0] ? ExitCodes.BAD_INPUT : failed(context, e);
        });
    int code;
    try {
      code = line.execute(args);
    } catch (Error e) {
      // out of memory, a broken installation: picocli passes on only exceptions
      code = failed(context, e);
    }
    if (damaged[0]) {
      return run(out, err, environment, true, args);
    }
    out.flush();
    err.flush();
    return code;
  }

  /** Whether an error is an index that was found damaged, which is built anew then. */
  private static boolean forgotten(Context context, Throwable e) {
    Throwable cause = e instanceof java.io.UncheckedIOException ? e.getCause() : e;
    if (!(cause instanceof BrokenIndexException broken) || broken.folder() == null) {
      return false;
    }
    context
        .err()
        .println(
            "lipsanon: " + SafeText.message(broken.getMessage()) + "; the index is built anew");
    try {
      IndexStore.forget(broken.folder());
      return true;
    } catch (IOException notDeleted) {
      return false;
    }
  }

  private static int usage(PrintWriter err, ParameterException e) {
    err.println("lipsanon: " + SafeText.message(firstLine(e.getMessage())));
    List<String> near = new ArrayList<>();
    if (e instanceof CommandLine.UnmatchedArgumentException unmatched) {
      near.addAll(unmatched.getSuggestions());
    }
    String command = e.getCommandLine().getCommandSpec().qualifiedName(" ");
    err.println(
        (near.isEmpty() ? "" : "did you mean " + String.join(" or ", near) + "? ")
            + "See `"
            + command
            + " --help`.");
    return ExitCodes.USAGE;
  }

  private static int failed(Context context, Throwable e) {
    PrintWriter err = context.err();
    if (e instanceof UsageException) {
      err.println("lipsanon: " + SafeText.message(e.getMessage()));
      return ExitCodes.USAGE;
    }
    if (e instanceof PlaceException) {
      err.println("lipsanon: " + SafeText.message(e.getMessage()));
      return ExitCodes.USAGE;
    }
    if (e instanceof CaptureException) {
      err.println("lipsanon: " + SafeText.message(e.getMessage()));
      return ExitCodes.TARGET;
    }
    if (e instanceof InputException || e instanceof BrokenIndexException) {
      err.println("lipsanon: " + SafeText.message(e.getMessage()));
      return ExitCodes.BAD_INPUT;
    }
    if (e instanceof CancellationException) {
      err.println("lipsanon: stopped");
      return ExitCodes.STOPPED;
    }
    if (e instanceof java.io.UncheckedIOException unchecked) {
      return failed(context, unchecked.getCause());
    }
    if (e instanceof IOException) {
      err.println("lipsanon: " + SafeText.message(io((IOException) e)));
      return ExitCodes.BAD_INPUT;
    }
    if (e instanceof lipsanon.array.TooManyElementsException) {
      err.println("lipsanon: the snapshot has " + e.getMessage() + " of a kind, too many to index");
      return ExitCodes.BAD_INPUT;
    }
    if (e instanceof OutOfMemoryError) {
      err.println("lipsanon: not enough memory; give more with --memory, for example --memory 4g");
      return ExitCodes.BAD_INPUT;
    }
    if (e instanceof InternalError && String.valueOf(e.getMessage()).contains("unsafe memory")) {
      err.println("lipsanon: a file was cut off by another process while it was being read");
      return ExitCodes.BAD_INPUT;
    }
    return ownFault(context, e);
  }

  private static String io(IOException e) {
    String message = firstLine(String.valueOf(e.getMessage()));
    if (message.contains("No space left")) {
      return "the disk is full ("
          + message
          + "); nothing half-written was left. "
          + "Give another place with --index-dir, or set XDG_CACHE_HOME or HOME";
    }
    if (e instanceof java.nio.file.NoSuchFileException) {
      return message + " does not exist";
    }
    if (e instanceof java.nio.file.AccessDeniedException) {
      return message
          + ": permission denied (another place for indexes: --index-dir, XDG_CACHE_HOME or HOME)";
    }
    return message;
  }

  private static int ownFault(Context context, Throwable e) {
    StringWriter trace = new StringWriter();
    e.printStackTrace(new PrintWriter(trace));
    String where;
    try {
      Path folder = Files.createDirectories(context.cache().resolve("faults"));
      Path file = Files.createTempFile(folder, "fault-", ".log");
      Files.writeString(file, trace.toString());
      where = "The details are in " + file + "; please report them.";
    } catch (IOException logFailed) {
      where = "The details could not be logged (" + logFailed.getMessage() + ").";
    }
    context
        .err()
        .println("lipsanon: a fault of our own (" + e.getClass().getSimpleName() + "). " + where);
    return ExitCodes.OWN_FAULT;
  }

  private static String firstLine(String text) {
    int end = text.indexOf('\n');
    return end < 0 ? text : text.substring(0, end);
  }
}
