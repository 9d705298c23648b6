package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.CheckedCapture;
import lipsanon.capture.Destination;
import lipsanon.capture.DumpingRuntime;
import lipsanon.capture.LiveRuntime;

/**
 * Takes heap snapshots of a .NET process as a stream of its own events. One session reads; a
 * second, short one forces the collection in which the heap is told. So the target need not hold
 * the whole stream in memory, as it does where one session does both.
 */
public final class DotnetCapture implements LiveRuntime, CheckedCapture, DumpingRuntime {
  private static final String RUNTIME = "Microsoft-Windows-DotNETRuntime";

  /** Types with names, nodes and edges, ranges of generations, the collector's marks. */
  private static final long READING = 0x1580001;

  /** Forces a collection when the session begins, and another one when it ends. */
  private static final long COLLECTING = 0x800000;

  /** At the end: names of methods. */
  private static final long METHODS = 0x10;

  private static final int INFORMATIONAL = 4;
  private static final int[] BUFFERS = {256, 1024, 4000};

  /** A collection of 100 million objects with its telling takes a minute. */
  private static final Duration PATIENCE = Duration.ofSeconds(300);

  private static final Duration ANSWER_PATIENCE = Duration.ofSeconds(30);

  private final long pid;
  private final DiagnosticPort port;
  private SnapshotCheck check = file -> "";

  private DotnetCapture(long pid, DiagnosticPort port) {
    this.pid = pid;
    this.port = port;
  }

  /** Connects. */
  public static DotnetCapture connect(long pid) throws CaptureException {
    Path socket = DotnetTargets.socket(pid);
    if (socket == null) {
      throw new CaptureException(
          "process "
              + pid
              + " has no diagnostics port (started with DOTNET_EnableDiagnostics=0, or just"
              + " starting?)");
    }
    return new DotnetCapture(pid, new DiagnosticPort(pid, socket));
  }

  @Override
  public void check(SnapshotCheck how) {
    check = how;
  }

  /** The runtime tells it with a collection only. */
  @Override
  public long heapUsed() {
    return -1;
  }

  private static DiagnosticPort.Provider provider(long keywords) {
    return new DiagnosticPort.Provider(RUNTIME, keywords, INFORMATIONAL, "");
  }

  @Override
  public void collect() throws CaptureException {
    try (TraceSession session =
        TraceSession.begin(port, 1, 0, false, PATIENCE, some -> {}, provider(COLLECTING))) {
      session.stop();
    }
  }

  @Override
  public long dumpBytes() {
    return resident() + (32 << 20);
  }

  @Override
  public CaptureResult dump(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    Destination.of(options).needRoom(dumpBytes());
    return new DotnetDump(pid, port, check)
        .write(
            options,
            progress,
            () ->
                TraceSession.begin(port, 1, 0, false, PATIENCE, some -> {}, provider(COLLECTING)));
  }

  @Override
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    if (options.all()) {
      throw new CaptureException(".NET tells of its heap in a collection: leave out --all");
    }
    Destination destination = Destination.of(options);
    long start = System.nanoTime();
    destination.needRoom(resident() + (16 << 20));
    String missing = "";
    for (int buffer : BUFFERS) {
      Path temporary = destination.partName();
      try (Destination.Part part = destination.part(temporary)) {
        try (FileChannel channel = Destination.create(temporary)) {
          record(channel, buffer, progress);
          channel.force(true);
        }
        missing = check.missing(temporary);
        if (missing.isEmpty()) {
          progress.at("looking up names", 0, 0);
          check.complete(temporary, LoadedAssemblies.of(pid));
          part.finish();
          long millis = (System.nanoTime() - start) / 1_000_000;
          return new CaptureResult(options.file(), Files.size(destination.file()), millis, -1, -1);
        }
        progress.at("not whole; once more with a larger buffer", 0, 0);
      } catch (CaptureException e) {
        throw gone(e);
      } catch (IOException e) {
        throw new CaptureException(
            "the snapshot could not be written to " + destination.file() + ": " + e.getMessage(),
            e);
      }
    }
    throw new CaptureException("process " + pid + " gave no whole snapshot: " + missing);
  }

  private CaptureException gone(CaptureException e) {
    return Files.isDirectory(Path.of("/proc/" + pid))
        ? e
        : new CaptureException("process " + pid + " vanished while it was captured", e);
  }

  /** What the process has in memory: no stream of its heap is larger. */
  private long resident() {
    try {
      String[] pages = Files.readString(Path.of("/proc/" + pid + "/statm")).split(" ");
      return Long.parseLong(pages[1]) * 4096;
    } catch (IOException | NumberFormatException e) {
      return 0;
    }
  }

  private void record(FileChannel out, int bufferMegabytes, CaptureProgress progress)
      throws CaptureException {
    progress.at("opening a session", 0, 0);
    long[] written = {0};
    TraceSession.Sink sink =
        some -> {
          while (some.hasRemaining()) {
            written[0] += out.write(some);
          }
          progress.at("reading the heap", written[0], 0);
        };
    try (Sessions sessions = new Sessions()) {
      sessions.reading =
          TraceSession.begin(
              port, bufferMegabytes, METHODS, false, ANSWER_PATIENCE, sink, provider(READING));
      // this one's answer comes when the collection is done, and with it the heap is told
      sessions.collecting =
          TraceSession.begin(port, 1, 0, false, PATIENCE, some -> {}, provider(COLLECTING));
      // its end forces one more collection, which the first must not record
      sessions.reading.stop();
      sessions.collecting.stop();
    }
  }

  /** Sessions that are ended in any case, when we are stopped too. */
  private static final class Sessions implements AutoCloseable {
    private volatile TraceSession reading;
    private volatile TraceSession collecting;
    private final Thread hook = new Thread(this::end);

    Sessions() {
      Runtime.getRuntime().addShutdownHook(hook);
    }

    private void end() {
      if (reading != null) {
        reading.close();
      }
      if (collecting != null) {
        collecting.close();
      }
    }

    @Override
    public void close() {
      end();
      try {
        Runtime.getRuntime().removeShutdownHook(hook);
      } catch (IllegalStateException e) {
        // going down already; the hook does the same
      }
    }
  }

  @Override
  public void close() {
    // a connection lasts for one request only
  }
}
