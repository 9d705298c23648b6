package lipsanon.capture.v8;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.regex.Pattern;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.Destination;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Stop;

/**
 * Takes heap snapshots of a V8 isolate over its inspector: a Node.js process, a page, a worker. The
 * target sends the snapshot in pieces, which go to the disk as they come. Identifiers of objects
 * are the same in all snapshots of one connection, and not beyond: V8 forgets them when it ends.
 */
public final class V8Capture implements LiveRuntime {
  private static final String CHUNK = "HeapProfiler.addHeapSnapshotChunk";

  private static final String BEGINNING = "{\"snapshot\":{\"meta\"";

  /** Much longer than it takes V8 to say that it records. */
  private static final int SIGN_MILLIS = 1000;

  private static final int MOST_BLANK = 1000;

  /** Snapshots take some four times the heap; what sends so many times more is no snapshot. */
  private static final int MOST_TIMES = 20;

  private static final long LEAST_BOUND = 256L << 20;

  /** The whole object {@code snapshot} stands within so many characters. */
  private static final int HEAD_LENGTH = 8192;

  /** The head of a snapshot that knows at least one stack besides the root. */
  private static final Pattern TRACKED = Pattern.compile("\"trace_function_count\"\\s*:\\s*[1-9]");

  private static final String STEP = "HeapProfiler.reportHeapSnapshotProgress";

  /** Closes an inspector that was opened for us, once our connection has ended. */
  private static final String CLOSE_INSPECTOR =
      "(() => { const inspector = (process.getBuiltinModule ?? require)('inspector');"
          + " setTimeout(() => inspector.close(), 20).unref(); return true; })()";

  private final Inspector inspector;
  private final Thread closing;

  /** V8 numbers all objects anew after a session: only within one do identifiers stay. */
  private final String session = UUID.randomUUID().toString();

  private final ScriptMaps maps;

  private V8Capture(Inspector inspector, boolean opened, boolean files) {
    this.inspector = inspector;
    this.maps = new ScriptMaps(inspector, files);
    this.closing = opened ? new Thread(this::closeInspector) : null;
    if (opened) {
      Runtime.getRuntime().addShutdownHook(closing);
    }
  }

  private void closeInspector() {
    try {
      inspector.evaluate(CLOSE_INSPECTOR);
    } catch (CaptureException e) {
      // the process is gone, and its inspector with it
    }
  }

  /** Connects to a runtime that has an inspector. */
  public static V8Capture connect(RuntimeInfo info) throws CaptureException {
    return connect(info, Inspector.PATIENCE);
  }

  /** Connects to a runtime that may be silent for so long. */
  static V8Capture connect(RuntimeInfo info, Duration patience) throws CaptureException {
    String name = info.pid() >= 0 ? "process " + info.pid() : info.kind() + " " + info.program();
    return new V8Capture(
        Inspector.connect(name, info.pid(), info.address(), patience),
        info.access().equals(RuntimeInfo.OPENED),
        info.kind().equals(RuntimeInfo.NODE) && info.pid() >= 0);
  }

  /**
   * The source maps of the target's scripts, by script, as a JSON object: what snapshots get as a
   * member of their own; "" if there are none.
   */
  public String sourceMaps() throws CaptureException {
    return maps.all();
  }

  Inspector inspector() {
    return inspector;
  }

  @Override
  public long heapUsed() throws CaptureException {
    return inspector.call("Runtime.getHeapUsage").path("usedSize").asLong();
  }

  @Override
  public void collect() throws CaptureException {
    inspector.call("HeapProfiler.collectGarbage");
  }

  @Override
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    if (options.all()) {
      throw new CaptureException("V8 always collects garbage before a snapshot: leave out --all");
    }
    Destination destination = Destination.of(options);
    long start = System.nanoTime();
    inspector.report(progress);
    String sources = maps.member();
    progress.at("collecting garbage", 0, 0);
    long before = heapUsed();
    collect();
    long after = heapUsed();
    // some 80 bytes a node, of about 40 bytes each
    long expected = 2 * after;
    destination.needRoom(expected + expected / 2 + (4 << 20));
    ObjectNode params =
        Inspector.params()
            .put("reportProgress", true)
            .put("captureNumericValue", options.numbers());
    write(
        destination,
        expected,
        progress,
        "HeapProfiler.takeHeapSnapshot",
        params,
        head -> {},
        () -> sources);
    return result(destination, options, start, before, after);
  }

  /**
   * Records where objects are allocated, and then takes a snapshot that tells it of each.
   *
   * @param until when to stop
   * @return the snapshot, and what was allocated in each interval
   */
  public Recorded record(CaptureOptions options, CaptureProgress progress, Stop until)
      throws CaptureException {
    Destination destination = Destination.of(options);
    inspector.report(progress);
    long start = System.nanoTime();
    collect();
    long before = heapUsed();
    destination.needRoom(3 * before + (4 << 20));
    Intervals intervals = new Intervals();
    try {
      inspector.call(
          "HeapProfiler.startTrackingHeapObjects",
          Inspector.params().put("trackAllocations", true),
          intervals);
      inspector.listen(() -> until.stop((System.nanoTime() - start) / 1_000_000), intervals);
      if (!stillRecording(intervals)) {
        throw lost();
      }
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException(e.getMessage(), e);
    }
    ObjectNode params =
        Inspector.params()
            .put("reportProgress", true)
            .put("captureNumericValue", options.numbers());
    write(
        destination,
        2 * before,
        progress,
        "HeapProfiler.stopTrackingHeapObjects",
        params,
        head -> {
          if (!TRACKED.matcher(head).find()) {
            throw lost();
          }
        },
        () -> ",\n\"lipsanon_interval_bytes\":" + intervals.allocated() + maps.member());
    return new Recorded(result(destination, options, start, -1, -1), intervals.allocated());
  }

  /**
   * A recording.
   *
   * @param result the snapshot
   * @param allocatedBytes by interval of the snapshot's own timeline: bytes allocated in it, those
   *     freed since included as far as the runtime saw them
   */
  public record Recorded(CaptureResult result, List<Long> allocatedBytes) {}

  /**
   * Samples allocations lightly: about one for every so many bytes.
   *
   * @param freedToo samples of objects that were freed since count too
   * @return the profile as V8 gives it, JSON, with the scripts' source maps if they have any
   */
  public String sample(long intervalBytes, boolean freedToo, Stop until) throws CaptureException {
    long start = System.nanoTime();
    ObjectNode params =
        Inspector.params()
            .put("samplingInterval", intervalBytes)
            .put("includeObjectsCollectedByMajorGC", freedToo)
            .put("includeObjectsCollectedByMinorGC", freedToo);
    inspector.call("HeapProfiler.startSampling", params);
    try {
      inspector.listen(
          () -> until.stop((System.nanoTime() - start) / 1_000_000), Inspector.Events.NONE);
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException(e.getMessage(), e);
    }
    if (!freedToo) {
      collect();
    }
    try {
      String profile = inspector.call("HeapProfiler.stopSampling").path("profile").toString();
      String sources = maps.member();
      return sources.isEmpty()
          ? profile
          : profile.substring(0, profile.length() - 1) + sources + "}";
    } catch (CaptureException e) {
      throw e.getMessage().contains("not started") ? lost() : e;
    }
  }

  /** While it records V8 tells so every 50 ms, unless the target is busy. */
  private boolean stillRecording(Intervals intervals) throws IOException {
    // an answer says that the target is not busy now
    heapUsed();
    int heard = intervals.heard;
    long begun = System.nanoTime();
    inspector.listen(
        () -> intervals.heard > heard + 1 || System.nanoTime() - begun > SIGN_MILLIS * 1_000_000L,
        intervals);
    return intervals.heard > heard;
  }

  private static CaptureException lost() {
    return new CaptureException(
        "the recording was lost: another debugging client took a snapshot, recorded or detached"
            + " meanwhile, which ends all recordings; close it and record again");
  }

  /** Hears what is allocated; an interval's figure falls as its objects are freed. */
  private static final class Intervals implements Inspector.Events {
    private final List<Long> most = new ArrayList<>();

    /** Signs that the recording goes on. */
    private int heard;

    @Override
    public void event(String method, JsonNode params) {
      heard += method.equals("HeapProfiler.lastSeenObjectId") ? 1 : 0;
      if (method.equals("HeapProfiler.heapStatsUpdate")) {
        JsonNode update = params.path("statsUpdate");
        for (int i = 0; i + 2 < update.size(); i += 3) {
          int interval = update.get(i).asInt();
          while (most.size() <= interval) {
            most.add(0L);
          }
          most.set(interval, Math.max(most.get(interval), update.get(i + 2).asLong()));
        }
      }
    }

    List<Long> allocated() {
      return List.copyOf(most);
    }
  }

  static CaptureResult result(
      Destination destination, CaptureOptions options, long start, long before, long after)
      throws CaptureException {
    try {
      long millis = (System.nanoTime() - start) / 1_000_000;
      long bytes = Files.size(destination.file());
      return new CaptureResult(options.file(), bytes, millis, before, after);
    } catch (IOException e) {
      throw new CaptureException(destination.file() + " vanished after it was written", e);
    }
  }

  /**
   * Gives a command that answers with a snapshot, and writes it.
   *
   * @param check hears the beginning of the file, and may refuse it
   * @param addition what to put before the closing brace of the file
   */
  void write(
      Destination destination,
      long expected,
      CaptureProgress progress,
      String method,
      ObjectNode params,
      Check check,
      Addition addition)
      throws CaptureException {
    Path temporary = destination.partName();
    try (Destination.Part part = destination.part(temporary)) {
      Pieces pieces = new Pieces(temporary, expected, progress, check);
      try (pieces) {
        inspector.call(method, params, pieces);
        pieces.finish(addition.text() + ",\n\"lipsanon_session\":\"" + session + "\"");
      }
      part.finish();
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException(
          "the snapshot could not be written to " + destination.file() + ": " + e.getMessage(), e);
    }
  }

  /** Asked once the snapshot has come. */
  interface Addition {
    /** What to put before the closing brace of the file. */
    String text() throws CaptureException;
  }

  /** Looks at the head of a snapshot. */
  interface Check {
    /** The first thousands of characters. */
    void head(String head) throws CaptureException;
  }

  /** Writes pieces of a snapshot as they come. */
  private static final class Pieces implements Inspector.Events, AutoCloseable {
    private final FileChannel channel;
    private final Writer writer;
    private final CaptureProgress progress;
    private final long expected;
    private final Check check;
    private final StringBuilder head = new StringBuilder();
    private long written;
    private int blank;
    private boolean known;
    private String last = "";

    Pieces(Path file, long expected, CaptureProgress progress, Check check) throws IOException {
      this.check = check;
      this.channel = Destination.create(file);
      this.writer =
          new BufferedWriter(
              new OutputStreamWriter(Channels.newOutputStream(channel), StandardCharsets.UTF_8),
              1 << 16);
      this.progress = progress;
      this.expected = expected;
    }

    @Override
    public void event(String method, JsonNode params) throws IOException {
      if (method.equals(CHUNK)) {
        String piece = params.path("chunk").asText();
        check(piece);
        // the last piece is held back: something may be added to it
        if (!piece.isBlank()) {
          writer.write(last);
          last = "";
        }
        written += piece.length();
        if (head.length() < HEAD_LENGTH) {
          head.append(piece, 0, Math.min(piece.length(), HEAD_LENGTH));
        }
        last += piece;
        progress.at("writing", written, expected);
      } else if (method.equals(STEP)) {
        progress.at("collecting objects", 0, 0);
      }
    }

    /** A server may send anything, and without end. */
    private void check(String piece) throws CaptureException {
      blank = piece.isBlank() ? blank + 1 : 0;
      if (blank > MOST_BLANK) {
        throw new CaptureException("the target sends pieces with nothing in them: given up");
      }
      String begin = known ? "" : (head + piece).replaceAll("\\s", "");
      if (begin.length() >= BEGINNING.length()) {
        known = begin.startsWith(BEGINNING);
        if (!known) {
          throw new CaptureException("what the target sends is no heap snapshot: given up");
        }
      }
      long most = LEAST_BOUND + MOST_TIMES * expected;
      if (written + piece.length() > most) {
        throw new CaptureException(
            "the target sends more than "
                + (most >> 20)
                + " MB, far more than its heap can make: given up");
      }
    }

    /** The reply came: the snapshot must be whole. */
    void finish(String addition) throws IOException {
      check.head(head.toString());
      String end = last.stripTrailing();
      if (!known || !end.endsWith("}")) {
        throw new CaptureException("the target sent a snapshot that is not whole");
      }
      writer.write(end.substring(0, end.length() - 1) + addition + "}\n");
      writer.flush();
      channel.force(true);
    }

    @Override
    public void close() throws IOException {
      channel.close();
    }
  }

  @Override
  public void close() {
    if (closing != null) {
      closeInspector();
      try {
        Runtime.getRuntime().removeShutdownHook(closing);
      } catch (IllegalStateException e) {
        // going down already; the hook does the same
      }
    }
    inspector.close();
  }
}
