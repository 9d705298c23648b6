package lipsanon.cli.command;

import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.jvm.JvmCapture;
import lipsanon.capture.jvm.JvmTargets;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "capture",
    description = "Take a heap snapshot of a live JVM, after a full collection.")
final class CaptureCommand extends Answering {
  @Parameters(
      index = "0",
      paramLabel = "TARGET",
      description = "A process id, or a unique part of the command line.")
  private String target;

  @Option(
      names = {"-o", "--output"},
      paramLabel = "FILE",
      description = "Where the snapshot goes (default: PROGRAM-PID-TIME.hprof here).")
  private Path output;

  @Option(names = "--all", description = "Keep garbage: no collection before.")
  private boolean all;

  @Option(names = "--force", description = "Overwrite a file that is there.")
  private boolean force;

  /** The answer. */
  record Captured(
      long pid,
      String program,
      String file,
      long fileBytes,
      long millis,
      long heapBeforeBytes,
      long heapAfterBytes) {}

  CaptureCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    RuntimeInfo info = JvmTargets.find(target);
    Path file = output != null ? output : defaultFile(info);
    Captured captured = capture(context, info, new CaptureOptions(file, all, force));
    print("capture", captured, () -> view(captured));
    return ExitCodes.FINE;
  }

  static Captured capture(Context context, RuntimeInfo info, CaptureOptions options)
      throws Exception {
    try (JvmCapture capture = JvmCapture.connect(info.pid());
        TerminalProgress progress = context.progress()) {
      CaptureResult result = capture.capture(options, drawn(progress));
      return new Captured(
          info.pid(),
          info.program(),
          result.file().toString(),
          result.fileBytes(),
          result.millis(),
          result.heapBeforeBytes(),
          result.heapAfterBytes());
    }
  }

  private static CaptureProgress drawn(TerminalProgress progress) {
    return new CaptureProgress() {
      private String current = "";

      @Override
      public void at(String what, long done, long total) {
        if (!what.equals(current)) {
          current = what;
          progress.phase(what, total);
        }
        progress.at(done);
      }
    };
  }

  private static Path defaultFile(RuntimeInfo info) {
    String program = info.program().replaceAll(".*[./\\\\](?=[^./\\\\]+$)", "");
    String name = program.replaceAll("[^A-Za-z0-9_-]", "_");
    String time = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").format(LocalDateTime.now());
    return Path.of(name + "-" + info.pid() + "-" + time + ".hprof");
  }

  private View view(Captured captured) {
    Format format = format();
    View view = new View();
    view.line(
        "Captured "
            + captured.program()
            + " (process "
            + captured.pid()
            + ") in "
            + Format.duration(captured.millis())
            + ": "
            + captured.file()
            + ", "
            + format.size(captured.fileBytes())
            + ".");
    if (captured.heapBeforeBytes() >= 0) {
      long freed = captured.heapBeforeBytes() - captured.heapAfterBytes();
      view.line(
          "The collection before it freed "
              + format.size(Math.max(0, freed))
              + " and left "
              + format.size(captured.heapAfterBytes())
              + " in use.");
    }
    return view.next("lipsanon survey " + quote(captured.file()), "a first look at it");
  }
}
