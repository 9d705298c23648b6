package lipsanon.cli.command.live;

import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Locale;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.Destination;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.Stop;
import lipsanon.capture.dotnet.DotnetRecorder;
import lipsanon.capture.jvm.JvmRecorder;
import lipsanon.capture.v8.V8Capture;
import lipsanon.change.FlightVerdict;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.command.FlightViews;
import lipsanon.cli.term.View;
import lipsanon.cli.watch.LightCounts;
import lipsanon.cli.watch.Watching;
import lipsanon.format.light.SeriesWriter;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "record",
    description =
        "Sample lightly, over a long time, where a live process or page allocates, and what"
            + " survives."
            + " (capture --record-allocations records every allocation, over a short one.)")
public final class RecordCommand extends Answering {
  /** What is recorded until Enter ends after a day. */
  private static final long LONGEST_MILLIS = 24 * 3_600_000L;

  /** The recorder's own classes are loaded meanwhile: they are no growth. */
  private static final long WARM_UP_MILLIS = 3_500;

  @Parameters(
      index = "0",
      arity = "0..1",
      paramLabel = "TARGET",
      description = "A process id, or a unique part of the command line; with --at a page.")
  private String target;

  @Mixin private TargetOptions where;

  @Option(
      names = "--for",
      paramLabel = "TIME|enter",
      defaultValue = "enter",
      description = "How long, for example 60s, or until Enter (the default).")
  private String duration;

  @Option(
      names = "--every",
      paramLabel = "BYTES",
      defaultValue = "16384",
      description = "Take a sample about every so many bytes allocated (default: 16384).")
  private long every;

  @Option(
      names = "--freed",
      description = "Keep the samples of objects that were freed since: all that was allocated.")
  private boolean freed;

  @Option(
      names = "--no-count",
      description =
          "JVM: do not count live objects meanwhile (each count collects garbage; at most 2 %% of"
              + " the target's time), and judge by the sampled objects alone.")
  private boolean noCount;

  @Option(
      names = "--no-paths",
      description =
          "JVM: do not ask at the end what keeps the sampled objects (stops the target for about a"
              + " second for each ten million objects).")
  private boolean noPaths;

  @Option(
      names = "--mine",
      paramLabel = "PACKAGES",
      description = "JVM: your own packages (default: all that is not the runtime's).")
  private String mine;

  @Option(
      names = {"-o", "--output"},
      paramLabel = "FILE",
      description = "Where the recording goes (default: PROGRAM-ID-TIME.heapprofile here).")
  private Path output;

  @Option(names = "--force", description = "Overwrite a file that is there.")
  private boolean force;

  /** The answer. */
  record Recorded(String id, String kind, String program, String file, long millis) {}

  /** The command. */
  public RecordCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (every < 1) {
      throw new UsageException("--every takes a number of bytes from 1 on");
    }
    Stop stop = stop(context, duration);
    RuntimeInfo info = where.find(target);
    if (where.remote()) {
      throw new UsageException(
          "recordings go through the local attach channel: run lipsanon on that machine, or have"
              + " it record and give the file to `lipsanon origins`");
    }
    if (info.kind().equals(RuntimeInfo.JVM)) {
      return flight(info, stop);
    }
    if (info.kind().equals(RuntimeInfo.DOTNET)) {
      Path to = output != null ? output : Names.fresh(info, "nettrace");
      long span = DotnetRecorder.record(info.pid(), to, force, stop);
      Recorded recorded =
          new Recorded(info.id(), info.kind(), Names.program(info, this), to.toString(), span);
      print("record", recorded, () -> view(recorded));
      return ExitCodes.FINE;
    }
    Path file = output != null ? output : Names.fresh(info, "heapprofile");
    Destination destination = Destination.of(new CaptureOptions(file, false, force, false));
    long start = System.nanoTime();
    String profile;
    try (V8Capture capture = connect(info)) {
      profile = capture.sample(every, freed, stop);
    }
    long millis = (System.nanoTime() - start) / 1_000_000;
    write(destination, profile, millis);
    Recorded recorded =
        new Recorded(info.id(), info.kind(), Names.program(info, this), file.toString(), millis);
    print("record", recorded, () -> view(recorded));
    return ExitCodes.FINE;
  }

  /** What a JVM's recording came to. */
  record Flown(
      String id, String kind, String program, String file, long millis, FlightVerdict verdict) {}

  private int flight(RuntimeInfo info, Stop stop) throws Exception {
    Path file = output != null ? output : Names.fresh(info, "jfr");
    long most = duration.equals("enter") ? LONGEST_MILLIS : Spans.millis(duration, "--for");
    long millis;
    Path counts = FlightViews.counts(file);
    try (JvmRecorder recorder = JvmRecorder.connect(info.pid());
        HeapMeter meter = Runtimes.meter(info);
        SeriesWriter series = noCount ? null : series(info, counts)) {
      Watching.Counting counting = noCount ? Watching.Counting.NONE : Watching.Counting.LIVE;
      Watching watching = new Watching(meter, counting, series);
      long[] next = {WARM_UP_MILLIS};
      millis =
          recorder.record(
              file,
              force,
              most,
              !noPaths,
              sofar -> {
                boolean over = stop.stop(sofar) || sofar >= most;
                if (over && !noCount && sofar > WARM_UP_MILLIS) {
                  // while it records still: what the recorder itself keeps goes with its end
                  watching.last();
                } else if (!noCount && sofar >= next[0]) {
                  next[0] = sofar + 1_000;
                  watching.tick();
                }
                return over;
              });
    } catch (IOException | RuntimeException e) {
      Files.deleteIfExists(counts);
      throw e;
    }
    Flight flight = Snapshots.flight(file);
    FlightVerdict verdict = FlightViews.verdict(file, flight, split(mine));
    Flown flown =
        new Flown(
            info.id(), info.kind(), Names.program(info, this), file.toString(), millis, verdict);
    print("record", flown, () -> view(flown));
    return ExitCodes.FINE;
  }

  private SeriesWriter series(RuntimeInfo info, Path counts) throws IOException {
    HeapSeries head =
        new HeapSeries(
            LightCounts.runtime(info),
            info.program(),
            info.id(),
            System.currentTimeMillis(),
            List.of(),
            List.of(),
            List.of());
    return new SeriesWriter(Files.newOutputStream(counts), head);
  }

  private View view(Flown flown) throws IOException {
    View view = new View();
    FlightViews.verdict(view, flown.verdict());
    view.heading("The recording");
    view.line(
        "Recorded "
            + flown.program()
            + " ("
            + flown.kind()
            + " "
            + flown.id()
            + ") for "
            + lipsanon.cli.term.Format.duration(flown.millis())
            + ": "
            + flown.file()
            + ", "
            + format().size(Files.size(Path.of(flown.file())))
            + (noCount ? "." : "; the counts of live objects beside it in ")
            + (noCount ? "" : FlightViews.counts(Path.of(flown.file())) + "."));
    view.next("lipsanon origins " + quote(flown.file()), "which code allocated, and what survives");
    return view.next(
        "lipsanon capture " + flown.id(), "a whole snapshot: it knows exactly who holds what");
  }

  /** The profile as V8 gives it, with a note on how it was taken. */
  private void write(Destination destination, String profile, long millis) throws IOException {
    String note =
        String.format(
            Locale.ROOT,
            ",\"lipsanon\":{\"millis\":%d,\"everyBytes\":%d,\"freedToo\":%b}}",
            millis,
            every,
            freed);
    Path temporary = destination.partName();
    try (Destination.Part part = destination.part(temporary)) {
      try (FileChannel channel = Destination.create(temporary)) {
        Channels.newOutputStream(channel)
            .write(
                (profile.substring(0, profile.length() - 1) + note)
                    .getBytes(StandardCharsets.UTF_8));
        channel.force(true);
      }
      part.finish();
    }
  }

  static V8Capture connect(RuntimeInfo info) throws CaptureException {
    if (info.address().isEmpty()) {
      throw new CaptureException(
          info.kind() + " " + info.id() + " cannot record allocations: only V8 can");
    }
    return V8Capture.connect(info);
  }

  /** When a recording ends: after so many seconds, or at Enter. */
  static Stop stop(Context context, String duration) {
    if (duration.equals("enter")) {
      boolean[] told = new boolean[1];
      return millis -> {
        if (!told[0]) {
          told[0] = true;
          context.err().println("lipsanon: recording; press Enter to end it");
          context.err().flush();
        }
        if (System.in.available() > 0) {
          return System.in.read() >= 0;
        }
        return false;
      };
    }
    long millis = Spans.millis(duration, "--for");
    return sofar -> sofar >= millis;
  }

  private View view(Recorded recorded) throws IOException {
    return new View()
        .line(
            "Recorded "
                + recorded.program()
                + " ("
                + recorded.kind()
                + " "
                + recorded.id()
                + ") for "
                + lipsanon.cli.term.Format.duration(recorded.millis())
                + ": "
                + recorded.file()
                + ", "
                + format().size(Files.size(Path.of(recorded.file())))
                + ".")
        .next("lipsanon origins " + quote(recorded.file()), "which functions allocated");
  }
}
