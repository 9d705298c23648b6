package lipsanon.cli.command.live;

import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.v8.V8Capture;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "capture",
    description =
        "Take a heap snapshot of a live JVM, Node.js process or page, after a full collection.")
public final class CaptureCommand extends Answering {
  @Parameters(
      index = "0",
      arity = "0..1",
      paramLabel = "TARGET",
      description =
          "A process id, or a unique part of the command line; with --at a page's id or a part"
              + " of its address, or nothing if there is only one.")
  private String target;

  @Option(
      names = {"-o", "--output"},
      paramLabel = "FILE",
      description = "Where the snapshot goes (default: PROGRAM-ID-TIME here).")
  private Path output;

  @Option(names = "--all", description = "Keep garbage: no collection before.")
  private boolean all;

  @Option(names = "--force", description = "Overwrite a file that is there.")
  private boolean force;

  @Option(
      names = "--numbers",
      description = "Record the values of numbers too (V8 leaves most of them out otherwise).")
  private boolean numbers;

  @Option(
      names = "--record-allocations",
      paramLabel = "SECONDS|enter",
      description =
          "Record for so long, or until Enter, where objects are allocated: then every object of"
              + " the snapshot knows. V8 only; slows the target down while it lasts.")
  private String recording;

  @Mixin private TargetOptions where;

  /** The answer. */
  record Captured(
      String id,
      long pid,
      String kind,
      String program,
      String file,
      long fileBytes,
      long millis,
      long heapBeforeBytes,
      long heapAfterBytes) {}

  /** The command. */
  public CaptureCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    RuntimeInfo info = where.find(target);
    Path file = output != null ? output : defaultFile(info);
    CaptureOptions options = new CaptureOptions(file, all, force, numbers);
    Captured captured =
        recording == null ? capture(context, info, options) : recorded(info, options);
    print("capture", captured, () -> view(captured));
    return ExitCodes.FINE;
  }

  private Captured recorded(RuntimeInfo info, CaptureOptions options) throws Exception {
    V8Capture.Stop stop = RecordCommand.stop(context, recording);
    try (V8Capture capture = RecordCommand.connect(info);
        TerminalProgress progress = context.progress()) {
      return captured(info, capture.record(options, drawn(progress), stop).result());
    }
  }

  static Captured capture(Context context, RuntimeInfo info, CaptureOptions options)
      throws Exception {
    try (LiveRuntime capture = Runtimes.connect(info);
        TerminalProgress progress = context.progress()) {
      return captured(info, capture.capture(options, drawn(progress)));
    }
  }

  private static Captured captured(RuntimeInfo info, CaptureResult result) {
    return new Captured(
        info.id(),
        info.pid(),
        info.kind(),
        info.program(),
        result.file().toString(),
        result.fileBytes(),
        result.millis(),
        result.heapBeforeBytes(),
        result.heapAfterBytes());
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
    boolean dotted = info.kind().equals(RuntimeInfo.JVM);
    String program =
        info.program().replaceAll(dotted ? ".*[./\\\\](?=[^./\\\\]+$)" : ".*/(?=[^/]+/?$)", "");
    String name = program.replaceAll("[^A-Za-z0-9_-]", "_");
    String time = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").format(LocalDateTime.now());
    return Path.of(name + "-" + info.id() + "-" + time + "." + info.extension());
  }

  private View view(Captured captured) {
    Format format = format();
    View view = new View();
    view.line(
        "Captured "
            + captured.program()
            + " ("
            + captured.kind()
            + " "
            + captured.id()
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
              + " in use; the snapshot's own figure is smaller by what is free between objects,"
              + " and by what only the runtime itself uses.");
    }
    if (recording != null) {
      view.next("lipsanon origins " + quote(captured.file()), "where its objects were allocated");
    }
    return view.next("lipsanon survey " + quote(captured.file()), "a first look at it");
  }
}
