package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.HeapReading;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.Processes;
import lipsanon.capture.TypeCounts;

/**
 * Looks at a JVM through the performance data that it keeps in a file, which costs it nothing;
 * counts and collections are asked over the attach channel, and so is what is in use, which is
 * noted there only now and then (a millisecond).
 */
public final class JvmMeter implements HeapMeter {
  private static final Duration PATIENCE = Duration.ofSeconds(120);
  private static final long DEFAULT_TICKS_A_SECOND = 1_000_000_000L;

  private final long pid;
  private final long startTicks;
  private final Path perfFile;
  private final AttachChannel channel;
  private final boolean z;

  private JvmMeter(long pid, long startTicks, Path perfFile, AttachChannel channel)
      throws CaptureException {
    this.pid = pid;
    this.startTicks = startTicks;
    this.perfFile = perfFile;
    this.channel = channel;
    String info = channel.ask(silent -> false, "jcmd", "GC.heap_info");
    this.z = info.stripLeading().startsWith("Z");
  }

  /** Connects; the channel is made now, so that what hinders is told at once. */
  public static JvmMeter connect(long pid) throws CaptureException {
    AttachChannel channel = AttachChannel.to(pid, PATIENCE);
    Path process = Path.of("/proc/" + pid);
    return new JvmMeter(
        pid, Processes.startTicks(process), JvmTargets.perfDataFile(process, pid), channel);
  }

  @Override
  public HeapReading read() throws CaptureException {
    if (Processes.startTicks(Path.of("/proc/" + pid)) != startTicks) {
      throw new CaptureException("process " + pid + " has ended");
    }
    PerfData data = data();
    long now = System.currentTimeMillis();
    List<HeapReading.Area> areas = areas(data);
    if (z || areas.isEmpty()) {
      return asked(now, data, areas);
    }
    long used = 0;
    long survived = 0;
    // of the two halves for survivors only one counts, as in the VM's own beans
    long committed = 0;
    for (HeapReading.Area area : areas) {
      if (area.heap()) {
        used += area.usedBytes();
        committed += area.committedBytes();
        survived += area.name().equals("eden") ? 0 : area.usedBytes();
      }
    }
    // most collectors note only after a collection what is in use: that is asked
    long asked = heapInfo().usedBytes();
    if (asked >= 0) {
      used = Math.max(survived, asked);
      refill(areas, used - survived);
    }
    return new HeapReading(
        now, used, committed, data.heapMax(), collections(data), pauses(data), survived, areas);
  }

  private PerfData data() {
    try {
      return PerfData.read(perfFile);
    } catch (IOException e) {
      return PerfData.EMPTY;
    }
  }

  private HeapInfo heapInfo() throws CaptureException {
    return HeapInfo.of(channel.ask(silent -> false, "jcmd", "GC.heap_info"));
  }

  /** What is in use and survived no collection is in eden. */
  private static void refill(List<HeapReading.Area> areas, long bytes) {
    for (int i = 0; i < areas.size(); i++) {
      HeapReading.Area area = areas.get(i);
      if (area.heap() && area.name().equals("eden")) {
        long room = Math.max(bytes, area.committedBytes());
        areas.set(i, new HeapReading.Area(area.name(), bytes, room, area.maxBytes(), true));
      }
    }
  }

  private HeapReading asked(long now, PerfData data, List<HeapReading.Area> areas)
      throws CaptureException {
    HeapInfo info = heapInfo();
    long max = data.heapMax();
    return new HeapReading(
        now,
        info.usedBytes(),
        info.committedBytes(),
        max > 0 ? max : info.maxBytes(),
        collections(data),
        pauses(data),
        -1,
        areas.stream().filter(area -> !area.heap()).toList());
  }

  private static long collections(PerfData data) {
    return sum(data, ".invocations");
  }

  private static long sum(PerfData data, String what) {
    long sum = -1;
    for (int i = 0; i < 4; i++) {
      long one = data.number("sun.gc.collector." + i + what);
      if (one >= 0) {
        sum = Math.max(0, sum) + one;
      }
    }
    return sum;
  }

  private static long pauses(PerfData data) {
    long ticks = sum(data, ".time");
    long second = data.number("sun.os.hrt.frequency");
    double each = second > 0 ? second : DEFAULT_TICKS_A_SECOND;
    return ticks < 0 ? -1 : Math.round(ticks / each * 1e6);
  }

  private static List<HeapReading.Area> areas(PerfData data) {
    List<HeapReading.Area> areas = new ArrayList<>();
    for (int generation = 0; generation < 2; generation++) {
      String prefix = "sun.gc.generation." + generation;
      String generationName = data.text(prefix + ".name");
      long survivors = -1;
      long survivorRoom = 0;
      for (int space = 0; data.number(prefix + ".space." + space + ".used") >= 0; space++) {
        String at = prefix + ".space." + space;
        String name = data.text(at + ".name");
        long used = data.number(at + ".used");
        long room = data.number(at + ".capacity");
        if (name.matches("s[01]")) {
          // the two change their roles with each collection
          survivors = Math.max(0, survivors) + used;
          survivorRoom = Math.max(survivorRoom, room);
        } else {
          String called = name.equals("space") || name.isEmpty() ? generationName : name;
          areas.add(
              new HeapReading.Area(called, used, room, data.number(at + ".maxCapacity"), true));
        }
      }
      if (survivors >= 0) {
        areas.add(new HeapReading.Area("survivors", survivors, survivorRoom, -1, true));
      }
    }
    area(areas, data, "metaspace", "sun.gc.metaspace");
    area(areas, data, "class space", "sun.gc.compressedclassspace");
    return areas;
  }

  private static void area(
      List<HeapReading.Area> areas, PerfData data, String name, String prefix) {
    long used = data.number(prefix + ".used");
    if (used >= 0) {
      long room = data.number(prefix + ".capacity");
      long max = data.number(prefix + ".maxCapacity");
      areas.add(new HeapReading.Area(name, used, room, max, false));
    }
  }

  @Override
  public TypeCounts count(boolean collect) throws CaptureException {
    long start = System.nanoTime();
    String text = channel.ask(silent -> false, "inspectheap", collect ? "-live" : "-all");
    long cost = (System.nanoTime() - start) / 1_000_000;
    return Histogram.parse(text, System.currentTimeMillis(), cost, collect || z);
  }

  @Override
  public long collectOnce() throws CaptureException {
    long start = System.nanoTime();
    JvmCapture.collectOnce(channel, silent -> false);
    return (System.nanoTime() - start) / 1_000_000;
  }

  @Override
  public boolean counts() {
    return true;
  }

  /** ZGC counts what is allocated while it works as survived. */
  @Override
  public boolean tellsSurvivors() {
    return !z;
  }

  @Override
  public LiveRuntime runtime() throws CaptureException {
    return JvmCapture.connect(pid);
  }

  @Override
  public void close() {
    // a connection lasts for one request only
  }
}
