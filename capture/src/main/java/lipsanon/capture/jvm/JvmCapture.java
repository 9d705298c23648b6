package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.Destination;
import lipsanon.capture.LiveRuntime;

/**
 * Takes heap dumps of a live JVM over its attach channel. The dump is written by the JVM itself,
 * where it can write (its own /tmp, if it lives in another mount namespace), and then moved to its
 * place. Nothing is loaded into the JVM.
 */
public final class JvmCapture implements LiveRuntime {
  /** Without a sign of life for so long, the target is given up. */
  private static final Duration PATIENCE = Duration.ofSeconds(600);

  /** A target that collects garbage is silent for a moment: from so many seconds on it is told. */
  private static final int WORTH_TELLING_MILLIS = 2000;

  private static final String GC_DISABLED = "disabled";

  private final long pid;
  private final AttachChannel channel;
  private CaptureProgress progress = CaptureProgress.NONE;

  private JvmCapture(long pid, AttachChannel channel) {
    this.pid = pid;
    this.channel = channel;
  }

  /** Connects to a JVM. */
  public static JvmCapture connect(long pid) throws CaptureException {
    return connect(pid, PATIENCE);
  }

  /** Connects to a JVM that may be silent for so long. */
  static JvmCapture connect(long pid, Duration patience) throws CaptureException {
    return new JvmCapture(pid, AttachChannel.to(pid, patience));
  }

  private boolean waited(long silentMillis) {
    if (silentMillis >= WORTH_TELLING_MILLIS) {
      progress.at("no answer for " + silentMillis / 1000 + " s", 0, 0);
    }
    return false;
  }

  @Override
  public long heapUsed() throws CaptureException {
    return HeapInfo.of(channel.ask(this::waited, "jcmd", "GC.heap_info")).usedBytes();
  }

  /** Twice, since what cleaners hold goes only at the second. */
  @Override
  public void collect() throws CaptureException {
    collectOnce(channel, this::waited);
    collectOnce(channel, this::waited);
  }

  /** One round. */
  static void collectOnce(AttachChannel channel, AttachChannel.Waiting waiting)
      throws CaptureException {
    if (channel.ask(waiting, "jcmd", "GC.run").contains(GC_DISABLED)) {
      // with -XX:+DisableExplicitGC a count of live objects still collects first
      channel.ask(waiting, "inspectheap", "-live");
    }
  }

  @Override
  public CaptureResult capture(CaptureOptions options, CaptureProgress progress)
      throws CaptureException {
    Destination destination = Destination.of(options);
    Path file = destination.file();
    Path parent = file.getParent();
    long start = System.nanoTime();
    this.progress = progress;
    long before = -1;
    long after = -1;
    if (!options.all()) {
      progress.at("collecting garbage", 0, 0);
      before = heapUsed();
      collect();
      after = heapUsed();
    }
    long expected = after >= 0 ? after : heapUsed();
    // dumps write identifiers in full and headers for each object
    destination.needRoom(expected + expected / 2 + (4 << 20));
    write(destination, parent, options, expected, progress);
    try {
      long millis = (System.nanoTime() - start) / 1_000_000;
      return new CaptureResult(options.file(), Files.size(file), millis, before, after);
    } catch (IOException e) {
      throw new CaptureException(file + " vanished after it was written", e);
    }
  }

  private void write(
      Destination destination,
      Path parent,
      CaptureOptions options,
      long expected,
      CaptureProgress progress)
      throws CaptureException {
    Path file = destination.file();
    Path root = Path.of("/proc/" + pid + "/root");
    boolean elsewhere = livesElsewhere(root, parent);
    String temporaryName =
        "." + file.getFileName() + "." + ProcessHandle.current().pid() + ".part.hprof";
    // the name that the target uses, and the one by which we see the same file
    String theirs = elsewhere ? "/tmp/" + temporaryName : parent.resolve(temporaryName).toString();
    Path ours = elsewhere ? root.resolve("tmp").resolve(temporaryName) : Path.of(theirs);
    try (Destination.Part part = destination.part(ours)) {
      dump(theirs, ours, !options.all(), expected, progress);
      progress.at("moving", expected, expected);
      part.finish();
    } catch (IOException e) {
      throw e instanceof CaptureException known
          ? known
          : new CaptureException(
              "the dump could not be written to " + file + ": " + e.getMessage(), e);
    }
  }

  /** Whether a folder is not the same for the target and for us. */
  private static boolean livesElsewhere(Path root, Path folder) {
    try {
      Path seen = root.resolve(folder.toString().substring(1));
      return !Files.isDirectory(seen) || !Files.isSameFile(seen, folder);
    } catch (IOException e) {
      return false;
    }
  }

  private void dump(String theirs, Path ours, boolean live, long expected, CaptureProgress progress)
      throws IOException {
    long[] lastSize = {0};
    try {
      channel.ask(
          silent -> {
            long size = Files.exists(ours) ? Files.size(ours) : 0;
            boolean grows = size != lastSize[0];
            lastSize[0] = size;
            if (silent < WORTH_TELLING_MILLIS) {
              progress.at("writing", size, expected);
            } else {
              waited(silent);
            }
            return grows;
          },
          "dumpheap",
          theirs,
          live ? "-live" : "-all");
    } catch (CaptureException e) {
      boolean gone = !Files.exists(Path.of("/proc/" + pid));
      throw gone
          ? new CaptureException("process " + pid + " vanished while it was captured", e)
          : e;
    }
    if (!Files.exists(ours) || Files.size(ours) == 0) {
      throw new CaptureException("process " + pid + " could not write " + theirs);
    }
  }

  @Override
  public void close() {
    // a connection lasts for one request only
    progress = CaptureProgress.NONE;
  }
}
