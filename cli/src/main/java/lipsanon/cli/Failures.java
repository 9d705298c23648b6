package lipsanon.cli;

import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CancellationException;
import lipsanon.capture.CaptureException;
import lipsanon.capture.PlaceException;
import lipsanon.cli.term.SafeText;
import lipsanon.index.BrokenIndexException;
import lipsanon.io.InputException;
import picocli.CommandLine;
import picocli.CommandLine.ParameterException;

/** Says what went wrong, never with a stack trace. */
final class Failures {
  private final Context context;

  /** A message; the lines of one that points into a text stay lines. */
  private void tell(String message) {
    String[] lines = String.valueOf(message).split("\\R");
    context.err().println("lipsanon: " + SafeText.message(lines[0]));
    for (int i = 1; i < lines.length; i++) {
      context.err().println(SafeText.message(lines[i]));
    }
  }

  Failures(Context context) {
    this.context = context;
  }

  /** Wrong usage: the message, and what may have been meant. */
  int usage(ParameterException e) {
    PrintWriter err = context.err();
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

  /** What went wrong, in one line; the exit code for it. */
  int failed(Throwable e) {
    PrintWriter err = context.err();
    if (e instanceof UsageException) {
      tell(e.getMessage());
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
      tell(e.getMessage());
      return ExitCodes.BAD_INPUT;
    }
    if (e instanceof CancellationException) {
      err.println("lipsanon: stopped");
      return ExitCodes.STOPPED;
    }
    if (e instanceof java.io.UncheckedIOException unchecked) {
      return failed(unchecked.getCause());
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
    return ownFault(e);
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

  private int ownFault(Throwable e) {
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
