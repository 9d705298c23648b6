package lipsanon.cli.command.live;

import java.nio.file.Path;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.DumpingRuntime;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Stop;
import lipsanon.capture.TypeCounts;
import lipsanon.capture.v8.V8Capture;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.cli.watch.LightCounts;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "capture",
    description =
        "Take a heap snapshot of a live JVM, Node.js or .NET process or page, after a full"
            + " collection.")
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
      names = "--light",
      description =
          "A light snapshot: only counts and bytes by type, in a fraction of the time. diff, growth"
              + " and prove take it.")
  private boolean light;

  @Option(
      names = "--dump",
      description =
          "Of a .NET process: a dump of its memory, with the values of fields and texts. It stands"
              + " still for seconds, and its runtime prints lines on its output.")
  private boolean dump;

  @Option(
      names = "--when",
      paramLabel = "CONDITION",
      description =
          "Wait until it holds: 'heap > 80%%', 'heap > 500MB', 'survivors > 200MB' or"
              + " 'survivors rise > 1MB/min for 10m'.")
  private String when;

  @Option(
      names = "--every",
      paramLabel = "TIME",
      description = "Again and again: with --when at most once in so long, else each time.")
  private String every;

  @Option(
      names = "--keep",
      paramLabel = "N",
      description = "Keep the newest N of what this call takes, and delete older ones.")
  private int keep;

  @Option(
      names = "--times",
      paramLabel = "N",
      description = "End after so many (default: one with --when alone, else until stopped).")
  private int times;

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
    if (when != null || every != null || keep > 0 || times > 0) {
      return repeated();
    }
    RuntimeInfo info = where.find(target);
    if (light && !dump) {
      Light counted = light(info, output);
      print("capture", counted.captured(), counted::view);
      return ExitCodes.FINE;
    }
    if (dump && (light || recording != null)) {
      throw new UsageException("--dump is of all memory: leave out --light, --record-allocations");
    }
    Path file = output != null ? output : Names.fresh(info, dump ? "core" : info.extension());
    CaptureOptions options = new CaptureOptions(file, all, force, numbers);
    Captured captured = recording == null ? capture(info, options) : recorded(info, options);
    print("capture", captured, () -> view(captured));
    return ExitCodes.FINE;
  }

  private int repeated() throws Exception {
    if (output != null || recording != null) {
      throw new UsageException(
          "--when and --every take many files, with names of their own: leave out --output and"
              + " --record-allocations");
    }
    if (keep < 0 || times < 0 || when == null && every == null) {
      throw new UsageException("--keep and --times take numbers from 1 on, with --when or --every");
    }
    boolean once = when != null && every == null && keep == 0 && times == 0;
    Standby.Plan plan =
        new Standby.Plan(
            target,
            where,
            when == null ? null : Condition.parse(when),
            every == null ? -1 : Spans.millis(every, "--every"),
            keep,
            once ? 1 : times == 0 ? Integer.MAX_VALUE : times);
    new Standby(context, plan, this::one).run();
    return ExitCodes.FINE;
  }

  /** Takes one of a series and prints it. */
  private Path one(RuntimeInfo info) throws Exception {
    Path file = Names.fresh(info, light ? "light.jsonl" : dump ? "core" : info.extension());
    Captured captured =
        light
            ? light(info, file).captured()
            : capture(info, new CaptureOptions(file, all, force, numbers));
    View line =
        new View()
            .line(file + ", " + format().size(captured.fileBytes()) + (light ? ", light" : ""));
    print("capture", captured, () -> line);
    return file;
  }

  private record Light(Captured captured, View view) {}

  private Light light(RuntimeInfo info, Path given) throws Exception {
    Path file = given != null ? given : Names.fresh(info, "light.jsonl");
    long start = System.nanoTime();
    TypeCounts counts;
    try (HeapMeter meter = where.meter(info)) {
      counts = LightCounts.count(meter, !all);
    }
    LightCounts.write(info, counts, file, force);
    long millis = (System.nanoTime() - start) / 1_000_000;
    View view =
        new View()
            .line(
                "Counted "
                    + Names.program(info, this)
                    + " ("
                    + info.kind()
                    + " "
                    + info.id()
                    + ") in "
                    + Format.duration(millis)
                    + ": "
                    + Format.count(counts.count())
                    + " objects of "
                    + Format.count(counts.types().size())
                    + " types, "
                    + format().size(counts.bytes())
                    + (counts.live() ? " live" : ", garbage included")
                    + ": "
                    + file
                    + ".")
            .next(
                "lipsanon diff " + quote(file.toString()) + " LATER",
                "what changed until a later one, light or whole");
    Captured captured =
        new Captured(
            info.id(),
            info.pid(),
            info.kind(),
            Names.program(info, this),
            file.toString(),
            java.nio.file.Files.size(file),
            millis,
            -1,
            counts.live() ? counts.bytes() : -1);
    return new Light(captured, view);
  }

  private Captured recorded(RuntimeInfo info, CaptureOptions options) throws Exception {
    Stop stop = RecordCommand.stop(context, recording);
    try (V8Capture capture = RecordCommand.connect(info);
        TerminalProgress progress = context.progress()) {
      return captured(info, capture.record(options, drawn(progress), stop).result());
    }
  }

  private Captured capture(RuntimeInfo info, CaptureOptions options) throws Exception {
    try (LiveRuntime capture = where.connect(info);
        TerminalProgress progress = context.progress()) {
      if (dump) {
        return captured(info, dumped(info, capture, options, drawn(progress)));
      }
      return captured(info, capture.capture(options, drawn(progress)));
    }
  }

  private CaptureResult dumped(
      RuntimeInfo info, LiveRuntime capture, CaptureOptions options, CaptureProgress progress)
      throws Exception {
    if (!(capture instanceof DumpingRuntime dumping)) {
      throw new UsageException(
          "--dump is of .NET processes; the snapshot of "
              + info.id()
              + " has the values anyway: leave it out");
    }
    context
        .err()
        .println(
            "lipsanon: "
                + Names.program(info, this)
                + " stands still for some seconds while about "
                + format().size(dumping.dumpBytes())
                + " are written; its runtime prints lines that begin with [createdump] on its"
                + " output");
    context.err().flush();
    return dumping.dump(options, progress);
  }

  private Captured captured(RuntimeInfo info, CaptureResult result) {
    return new Captured(
        info.id(),
        info.pid(),
        info.kind(),
        Names.program(info, this),
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

  private View view(Captured captured) throws java.io.IOException {
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
            + (captured.fileBytes() < 0
                ? ", on the disk of " + captured.id().replaceAll(":\\d+$", "") + "."
                : ", " + format.size(captured.fileBytes()) + "."));
    boolean dotnet = captured.kind().equals(RuntimeInfo.DOTNET);
    long pause = dotnet ? Snapshots.pauseMillis(Path.of(captured.file())) : -1;
    if (pause >= 0) {
      view.line(
          "It stood still for "
              + Format.duration(pause)
              + ", in the collection that tells of the heap; a shorter one followed.");
    }
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
    if (dump) {
      view.line(
          "All that the process had in memory is in it, secrets included: keep it to yourself.");
    }
    if (recording != null) {
      view.next("lipsanon origins " + quote(captured.file()), "where its objects were allocated");
    }
    return captured.fileBytes() < 0
        ? view.line("Copy it here to ask about it.")
        : view.next("lipsanon survey " + quote(captured.file()), "a first look at it");
  }
}
