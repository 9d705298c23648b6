package lipsanon.cli.command.live;

import java.io.IOException;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDateTime;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.Destination;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.v8.V8Capture;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "record",
    description =
        "Sample lightly, over a long time, where a live Node.js process or page allocates."
            + " (capture --record-allocations records every allocation, over a short one.)")
public final class RecordCommand extends Answering {
  @Parameters(
      index = "0",
      arity = "0..1",
      paramLabel = "TARGET",
      description = "A process id, or a unique part of the command line; with --at a page.")
  private String target;

  @Mixin private TargetOptions where;

  @Option(
      names = "--for",
      paramLabel = "SECONDS|enter",
      defaultValue = "enter",
      description = "How long: seconds, or until Enter (the default).")
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
    V8Capture.Stop stop = stop(context, duration);
    RuntimeInfo info = where.find(target);
    Path file = output != null ? output : defaultFile(info);
    Destination destination = Destination.of(new CaptureOptions(file, false, force, false));
    long start = System.nanoTime();
    String profile;
    try (V8Capture capture = connect(info)) {
      profile = capture.sample(every, freed, stop);
    }
    long millis = (System.nanoTime() - start) / 1_000_000;
    write(destination, profile, millis);
    Recorded recorded =
        new Recorded(info.id(), info.kind(), info.program(), file.toString(), millis);
    print("record", recorded, () -> view(recorded));
    return ExitCodes.FINE;
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
  static V8Capture.Stop stop(Context context, String duration) {
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
    double seconds;
    try {
      seconds = Double.parseDouble(duration);
    } catch (NumberFormatException e) {
      seconds = -1;
    }
    if (!(seconds > 0) || seconds > 1e7) {
      throw new UsageException("\"" + duration + "\" is neither a number of seconds nor `enter`");
    }
    long millis = Math.round(seconds * 1000);
    return sofar -> sofar >= millis;
  }

  private static Path defaultFile(RuntimeInfo info) {
    String program = info.program().replaceAll(".*/(?=[^/]+/?$)", "");
    String time = DateTimeFormatter.ofPattern("yyyyMMdd-HHmmss").format(LocalDateTime.now());
    return Path.of(
        program.replaceAll("[^A-Za-z0-9_-]", "_") + "-" + info.id() + "-" + time + ".heapprofile");
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
