package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.UUID;
import java.util.concurrent.TimeUnit;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import lipsanon.capture.CaptureException;
import lipsanon.capture.Destination;
import lipsanon.capture.Stop;

/**
 * Records with the VM's own event recorder over the attach channel: samples of allocations, samples
 * of what survives, and the heap after each collection. The recording is held in the VM's memory,
 * copied every few seconds to a file in its temporary folder, which is read and deleted at once.
 * Nothing stays behind: a recording ends by itself a little after it should have been ended.
 *
 * <p>The VM ends itself when it cannot write its own recordings; so there must be room for many
 * copies before each.
 */
public final class JvmRecorder implements AutoCloseable {
  private static final String SETTINGS =
      """
      <?xml version="1.0" encoding="UTF-8"?>
      <configuration version="2.0">
        %s
        <event name="jdk.OldObjectSample"><setting name="enabled">true</setting>
          <setting name="stackTrace">true</setting><setting name="cutoff">0 ns</setting></event>
        <event name="jdk.ThreadStart"><setting name="enabled">true</setting>
          <setting name="stackTrace">false</setting></event>
        <event name="jdk.GCHeapSummary"><setting name="enabled">true</setting></event>
        <event name="jdk.GarbageCollection"><setting name="enabled">true</setting>
          <setting name="threshold">0 ns</setting></event>
      </configuration>
      """;

  private static final String SAMPLES =
      """
      <event name="jdk.ObjectAllocationSample"><setting name="enabled">true</setting>
          <setting name="throttle">1000/s</setting><setting name="stackTrace">true</setting></event>
      """;

  /** What there is before {@link #FIRST_WITH_SAMPLES}: an event each time a thread takes memory. */
  private static final String EACH =
      """
      <event name="jdk.ObjectAllocationInNewTLAB"><setting name="enabled">true</setting>
          <setting name="stackTrace">true</setting></event>
        <event name="jdk.ObjectAllocationOutsideTLAB"><setting name="enabled">true</setting>
          <setting name="stackTrace">true</setting></event>
      """;

  private static final int FIRST_WITH_SAMPLES = 16;
  private static final Pattern VERSION = Pattern.compile("(?m)^JDK (\\d+)\\b");

  private static final Duration PATIENCE = Duration.ofSeconds(120);
  private static final long COPY_MILLIS = 5_000;

  /** A recording is followed by the next one after so long. */
  private static final long SEGMENT_MILLIS = 60_000;

  /** So long it runs on if nobody ends it: when we are killed. */
  private static final long LONGEST_SECONDS = 100;

  private static final long LEAST_ROOM = 200L << 20;

  private static final Pattern RUNNING =
      Pattern.compile("Recording \\d+: name=(.+?) .*\\(running\\)");
  private static final Pattern STOPPED =
      Pattern.compile("Recording \\d+: name=(.+?) .*\\(stopped\\)");
  private static final String NAME = "lipsanon-";

  private final long pid;
  private final AttachChannel channel;
  private final String base = NAME + ProcessHandle.current().pid();

  /** What to record: versions have other events. */
  private String settings = "";

  /** The recording that is running: one is followed by the next. */
  private String name = base;

  private int segment;

  /** The VM's temporary folder, as we and as it see it. */
  private final Path ours;

  private final String theirs = "/tmp";
  private final List<Path> left = new ArrayList<>();
  private final Thread hook;
  private boolean running;

  private JvmRecorder(long pid, AttachChannel channel) {
    this.pid = pid;
    this.channel = channel;
    this.ours = Path.of("/proc/" + pid + "/root/tmp");
    this.hook = new Thread(this::stopQuietly);
    Runtime.getRuntime().addShutdownHook(hook);
  }

  /** Connects; leftovers of a call that was killed are closed. */
  public static JvmRecorder connect(long pid) throws CaptureException {
    AttachChannel channel = AttachChannel.to(pid, PATIENCE);
    JvmRecorder recorder = new JvmRecorder(pid, channel);
    try {
      recorder.ready();
    } catch (CaptureException e) {
      recorder.close();
      throw e;
    }
    return recorder;
  }

  private String ask(String command) throws CaptureException {
    return channel.ask(silent -> false, "jcmd", command);
  }

  private void ready() throws CaptureException {
    String check;
    try {
      check = ask("JFR.check");
    } catch (CaptureException e) {
      throw noRecorder(e);
    }
    Matcher version = VERSION.matcher(ask("VM.version"));
    boolean old = version.find() && Integer.parseInt(version.group(1)) < FIRST_WITH_SAMPLES;
    settings = String.format(SETTINGS, (old ? EACH : SAMPLES).strip());
    if (check.contains("jdk.jfr not found") || check.contains("can not be enabled")) {
      throw noRecorder(null);
    }
    Matcher stopped = STOPPED.matcher(check);
    while (stopped.find()) {
      if (stopped.group(1).startsWith(NAME)) {
        ask("JFR.stop name=" + stopped.group(1));
      }
    }
    Matcher others = RUNNING.matcher(check);
    while (others.find()) {
      String other = others.group(1);
      if (other.startsWith(NAME) && !alive(other)) {
        // of a call that was killed
        ask("JFR.stop name=" + other);
      } else if (other.startsWith(NAME)) {
        throw new CaptureException(
            "process "
                + pid
                + " is being recorded by another call of this program ("
                + other
                + ")");
      }
    }
  }

  private CaptureException noRecorder(CaptureException cause) {
    return new CaptureException(
        "process "
            + pid
            + " has no event recorder (a runtime image without the module jdk.jfr, or started with"
            + " -XX:-FlightRecorder): use `lipsanon watch` and snapshots instead",
        cause);
  }

  private static boolean alive(String recording) {
    String id = recording.substring(NAME.length()).replaceAll("-.*", "");
    return id.matches("[0-9]{1,10}") && Files.isDirectory(Path.of("/proc/" + id));
  }

  /**
   * Records until it is told to stop; the VM collects at the end, so that what survives is known.
   *
   * @param most how long it may take at most, in milliseconds
   * @param paths whether to ask at the end what keeps the survivors, which stops the VM for about a
   *     second for each ten million objects
   * @return how long it was, in milliseconds
   */
  public long record(Path file, boolean force, long most, boolean paths, Stop until)
      throws CaptureException {
    lipsanon.capture.CaptureOptions options =
        new lipsanon.capture.CaptureOptions(file, false, force, false);
    Destination destination = Destination.of(options);
    needRoom();
    long start = System.nanoTime();
    boolean disk = ask("JFR.check").contains("(running)");
    Path temporary = destination.partName();
    try (Destination.Part part = destination.part(temporary)) {
      begin(disk);
      try (FileChannel out = Destination.create(temporary)) {
        copies(out, start, most, disk, until);
        JvmCapture.collectOnce(channel, silent -> false);
        copy(out, paths);
        out.force(true);
      }
      stop();
      part.finish();
    } catch (CaptureException e) {
      throw Files.isDirectory(Path.of("/proc/" + pid))
          ? e
          : new CaptureException("process " + pid + " ended while it was recorded", e);
    } catch (IOException e) {
      throw new CaptureException("the recording could not be written: " + e.getMessage(), e);
    }
    return (System.nanoTime() - start) / 1_000_000;
  }

  /**
   * Starts a recording that ends by itself before long. With a file the VM writes nothing of its
   * own accord into its working folder at the end.
   */
  private void begin(boolean disk) throws IOException {
    String next = base + "-" + ++segment;
    Path file = write("settings.jfc", settings);
    try {
      ask(
          "JFR.start name="
              + next
              + " settings="
              + theirs
              + "/"
              + file.getFileName()
              + " disk="
              + disk
              + " duration="
              + LONGEST_SECONDS
              + "s filename=/dev/null");
    } finally {
      Files.deleteIfExists(file);
      left.remove(file);
    }
    name = next;
    running = true;
  }

  /** The next recording begins before the last one ends: what is sampled goes on. */
  private void follow(FileChannel out, boolean disk) throws IOException {
    String last = name;
    begin(disk);
    String newest = name;
    name = last;
    copy(out, false);
    ask("JFR.stop name=" + last);
    name = newest;
  }

  private void copies(FileChannel out, long start, long most, boolean disk, Stop until)
      throws IOException {
    long next = COPY_MILLIS;
    long follow = SEGMENT_MILLIS;
    while (true) {
      long sofar = (System.nanoTime() - start) / 1_000_000;
      if (until.stop(sofar) || sofar >= most) {
        return;
      }
      if (sofar >= follow) {
        needRoom();
        follow(out, disk);
        follow = sofar + SEGMENT_MILLIS;
        next = sofar + COPY_MILLIS;
      } else if (!disk && sofar >= next) {
        // a recording that is kept on the VM's disk is copied as a whole when it ends
        needRoom();
        copy(out, false);
        next = sofar + COPY_MILLIS;
      }
      try {
        TimeUnit.MILLISECONDS.sleep(100);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new CaptureException("interrupted", e);
      }
    }
  }

  /** Has the VM copy what is new, and adds it to the file: recordings can be put in a row. */
  private void copy(FileChannel out, boolean paths) throws IOException {
    // a name that nobody can foresee: the folder is everybody's
    String file = "." + base + "-" + UUID.randomUUID() + ".jfr";
    Path seen = ours.resolve(file);
    left.add(seen);
    try {
      String answer =
          ask(
              "JFR.dump name="
                  + name
                  + " filename="
                  + theirs
                  + "/"
                  + file
                  + " path-to-gc-roots="
                  + paths);
      if (!Files.exists(seen)) {
        throw new CaptureException(
            "process " + pid + " did not write its recording: " + firstLine(answer));
      }
      try (FileChannel in = FileChannel.open(seen, StandardOpenOption.READ)) {
        long size = in.size();
        for (long at = 0; at < size; ) {
          at += in.transferTo(at, size - at, out);
        }
      }
    } finally {
      Files.deleteIfExists(seen);
      left.remove(seen);
    }
  }

  private static String firstLine(String text) {
    return text.lines().filter(line -> !line.isBlank()).findFirst().orElse("no answer");
  }

  /** The VM ends itself when the folder of its recordings is full. */
  private void needRoom() throws CaptureException {
    try {
      FileStore store = Files.getFileStore(ours);
      long free = store.getUsableSpace();
      if (free < LEAST_ROOM) {
        throw new CaptureException(
            "the temporary folder of process "
                + pid
                + " has only "
                + (free >> 20)
                + " MB of room: a full one would end the process; make room there first");
      }
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException("the temporary folder of process " + pid + " cannot be seen", e);
    }
  }

  private Path write(String ending, String text) throws CaptureException {
    Path file = ours.resolve("." + base + "-" + ending);
    try {
      Files.deleteIfExists(file);
      Files.writeString(file, text, StandardOpenOption.CREATE_NEW);
      left.add(file);
      return file;
    } catch (IOException e) {
      throw new CaptureException(
          "nothing can be written to the temporary folder of process "
              + pid
              + ": "
              + e.getMessage(),
          e);
    }
  }

  private void stop() throws CaptureException {
    if (running) {
      running = false;
      ask("JFR.stop name=" + name);
    }
  }

  private void stopQuietly() {
    try {
      stop();
      for (Path file : left) {
        Files.deleteIfExists(file);
      }
    } catch (IOException e) {
      // the process has ended, or the recording; its own time is over soon
      running = false;
    }
  }

  @Override
  public void close() {
    stopQuietly();
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // going down already; the hook does the same
    }
  }
}
