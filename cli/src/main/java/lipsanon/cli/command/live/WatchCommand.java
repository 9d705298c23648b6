package lipsanon.cli.command.live;

import java.io.IOException;
import java.io.OutputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.TypeCounts;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TextRenderer;
import lipsanon.cli.term.View;
import lipsanon.cli.watch.LightCounts;
import lipsanon.cli.watch.WatchLines;
import lipsanon.cli.watch.WatchTerminal;
import lipsanon.cli.watch.Watching;
import lipsanon.format.light.SeriesWriter;
import lipsanon.live.HeapSeries;
import org.jline.terminal.Terminal;
import org.jline.terminal.TerminalBuilder;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "watch",
    description =
        "Is the memory of a live process rising, and which types rise? Looks each second; counts"
            + " types as seldom as needed to take at most 2 %% of the target's time.")
public final class WatchCommand extends Answering {
  /** A live count stops a heap of this size for about a second; larger ones are only walked. */
  private static final long LARGE_BYTES = 1_000_000_000L;

  @Parameters(
      index = "0",
      arity = "0..1",
      paramLabel = "TARGET",
      description = "A process id, or a unique part of the command line; with --at a page.")
  private String target;

  @Mixin private TargetOptions where;

  @Option(
      names = "--every",
      paramLabel = "TIME",
      defaultValue = "1s",
      description = "Between two looks (default: 1s).")
  private String every;

  @Option(
      names = "--for",
      paramLabel = "TIME",
      description = "End after so long, for example 10m (default: until q or Ctrl-C).")
  private String duration;

  @Option(
      names = "--count",
      paramLabel = "live|all|none",
      description =
          "How types are counted: live collects garbage first, all walks the heap with its"
              + " garbage (default: live for heaps up to 1 GB, all for larger ones).")
  private Watching.Counting counting;

  @Option(
      names = "--match",
      paramLabel = "NAME",
      defaultValue = "",
      description = "Only types whose name has this part, or fits this pattern.")
  private String match;

  @Option(
      names = "--mine",
      arity = "0..1",
      fallbackValue = "",
      paramLabel = "PACKAGES",
      description = "Only your own types; with packages: what begins with one of these is yours.")
  private String mine;

  @Option(
      names = "--record",
      paramLabel = "FILE",
      description = "Keep the series: `lipsanon growth FILE` reads it.")
  private Path record;

  @Option(names = "--lines", description = "Print a line an interval, on a terminal too.")
  private boolean lines;

  @Option(names = "--force", description = "Overwrite the file of --record.")
  private boolean force;

  /** The command. */
  public WatchCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    long everyMillis = Spans.millis(every, "--every");
    long forMillis = duration == null ? Long.MAX_VALUE : Spans.millis(duration, "--for");
    if (everyMillis < 100) {
      throw new UsageException("--every takes 100ms or more");
    }
    RuntimeInfo info = where.find(target);
    if (record != null && Files.exists(record) && !force) {
      throw new UsageException(record + " exists; --force overwrites it");
    }
    WatchTerminal.Settings settings =
        new WatchTerminal.Settings(
            Names.program(info, this)
                + "  ("
                + info.kind()
                + " "
                + info.id()
                + ", "
                + info.version()
                + ")",
            everyMillis,
            forMillis,
            match,
            mine != null,
            split(mine),
            context.terminal().unicode(),
            context.terminal().color());
    try (HeapMeter meter = where.meter(info);
        SeriesWriter series = series(info)) {
      Watching watching = new Watching(meter, counting(info, meter), series);
      return watch(info, meter, watching, settings);
    }
  }

  private Watching.Counting counting(RuntimeInfo info, HeapMeter meter) throws CaptureException {
    if (counting != null) {
      return counting;
    }
    if (info.kind().equals(RuntimeInfo.DOTNET)) {
      // it tells by itself what collections leave; types only by whole snapshots
      return Watching.Counting.NONE;
    }
    return meter.read().usedBytes() > LARGE_BYTES ? Watching.Counting.ALL : Watching.Counting.LIVE;
  }

  private SeriesWriter series(RuntimeInfo info) throws IOException {
    if (record == null) {
      return null;
    }
    OutputStream out =
        Files.newOutputStream(
            record,
            force ? StandardOpenOption.CREATE : StandardOpenOption.CREATE_NEW,
            StandardOpenOption.TRUNCATE_EXISTING,
            StandardOpenOption.WRITE);
    long now = System.currentTimeMillis();
    return new SeriesWriter(
        out,
        new HeapSeries(
            LightCounts.runtime(info),
            info.program(),
            info.id(),
            now,
            List.of(),
            List.of(),
            List.of()));
  }

  private int watch(
      RuntimeInfo info, HeapMeter meter, Watching watching, WatchTerminal.Settings settings)
      throws Exception {
    boolean screen =
        !lines
            && !json()
            && "1".equals(context.environment().get("LIPSANON_OUT_TERMINAL"))
            && "1".equals(context.environment().get("LIPSANON_IN_TERMINAL"))
            && !"dumb".equals(context.environment().get("TERM"));
    String ended = null;
    try {
      if (screen) {
        try (Terminal terminal = TerminalBuilder.builder().system(true).build()) {
          new WatchTerminal(terminal, watching, actions(info, meter, watching), settings).run();
        }
      } else {
        new WatchLines(watching, context.out(), settings, json()).run(context.stop());
      }
    } catch (CaptureException e) {
      if (watching.watched().now() == null) {
        throw e;
      }
      ended = e.getMessage();
    }
    if (!json()) {
      new TextRenderer(context.out(), context.terminal()).render(end(info, watching, ended));
    }
    if (ended != null) {
      context.err().println("lipsanon: " + lipsanon.cli.term.SafeText.message(ended));
      return ExitCodes.TARGET;
    }
    return ExitCodes.FINE;
  }

  private WatchTerminal.Actions actions(RuntimeInfo info, HeapMeter meter, Watching watching) {
    return new WatchTerminal.Actions() {
      @Override
      public String light() throws IOException {
        TypeCounts counts = watching.fresh();
        Path file = Names.fresh(info, "light.jsonl");
        LightCounts.write(info, counts, file, false);
        watching.noted('l', "light snapshot", file.toString());
        return "Light snapshot: " + file;
      }

      @Override
      public String full() throws IOException {
        if (where.remote()) {
          return "A whole snapshot would be written there: lipsanon capture -o /FOLDER/FILE"
              + where.again();
        }
        Path file = Names.fresh(info, info.extension());
        LiveRuntime runtime = meter.runtime();
        CaptureResult result =
            runtime.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
        watching.noted('f', "snapshot", file.toString());
        return "Snapshot: "
            + file
            + ", "
            + format().size(result.fileBytes())
            + " in "
            + Format.duration(result.millis());
      }
    };
  }

  private View end(RuntimeInfo info, Watching watching, String ended) {
    View view = new View();
    if (watching.watched().now() == null) {
      return view;
    }
    view.line(WatchLines.summary(watching.watched(), format()));
    if (record != null) {
      view.next(
          "lipsanon growth " + quote(record.toString()), "which types rose over the whole time");
    }
    if (ended == null) {
      String id = (where.remote() ? "-o /FOLDER/NAME.hprof" : quote(info.id())) + where.again();
      view.next("lipsanon capture " + id, "a whole snapshot, which knows who holds what");
    }
    return view;
  }
}
