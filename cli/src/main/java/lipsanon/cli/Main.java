package lipsanon.cli;

import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.PrintWriter;
import java.nio.charset.Charset;
import java.util.Map;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.term.Terminal;
import lipsanon.index.BrokenIndexException;
import lipsanon.index.IndexStore;
import picocli.CommandLine;

/** The entry of the command line. */
public final class Main {
  private Main() {}

  /** Runs a command and exits with its code. */
  public static void main(String[] args) {
    // before anything else is loaded: the answer to this one needs nothing
    if (args.length == 1 && args[0].equals("--version")) {
      System.out.println(Version.text());
      return;
    }
    shortenStart();
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

  /**
   * Leaves out what picocli looks for at each start and no command uses: a class of another
   * language, in all jars, and converters for times. A fifth of what a short command takes.
   */
  private static void shortenStart() {
    System.setProperty("picocli.disable.closures", "true");
    System.setProperty("picocli.converters.excludes", "java\\.(time|sql)\\..*");
  }

  /** All commands, for what describes them: manuals, completion. */
  public static CommandLine commands() {
    PrintWriter nowhere = new PrintWriter(java.io.Writer.nullWriter());
    Map<String, String> plain = Map.of();
    return Commands.line(new Context(nowhere, nowhere, Terminal.of(plain), plain));
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
    Failures failures = new Failures(context);
    CommandLine line;
    try {
      line = Commands.line(context, args);
    } catch (UsageException e) {
      int code = failures.failed(e);
      err.flush();
      return code;
    }
    line.setOut(out).setErr(err);
    line.setParameterExceptionHandler((e, given) -> failures.usage(e));
    boolean[] damaged = {false};
    line.setExecutionExceptionHandler(
        (e, command, result) -> {
          // once: an index that is damaged at its second reading has another cause
          damaged[0] = !again && forgotten(context, e);
          return damaged[0] ? ExitCodes.BAD_INPUT : failures.failed(e);
        });
    int code;
    try {
      code = line.execute(args);
    } catch (Error e) {
      // out of memory, a broken installation: picocli passes on only exceptions
      code = failures.failed(e);
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
}
