package lipsanon.cli.watch;

import java.util.ArrayList;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.HeapReading;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.TypeCounts;
import lipsanon.capture.dotnet.DotnetEvents;
import lipsanon.format.nettrace.HeapFeed;

/** Looks at the heap of a .NET process by what it tells of itself; nothing is forced. */
final class DotnetMeter implements HeapMeter {
  private static final List<String> AREAS =
      List.of("generation 0", "generation 1", "generation 2", "large objects", "pinned");

  /** The counters come a second after the session has begun. */
  private static final long FIRST_MILLIS = 5_000;

  private final RuntimeInfo info;
  private final HeapFeed feed = new HeapFeed();
  private final DotnetEvents events;

  private DotnetMeter(RuntimeInfo info) throws CaptureException {
    this.info = info;
    this.events = DotnetEvents.open(info.pid(), feed::feed);
  }

  static DotnetMeter connect(RuntimeInfo info) throws CaptureException {
    DotnetMeter meter = new DotnetMeter(info);
    long end = System.nanoTime() + FIRST_MILLIS * 1_000_000;
    while (meter.feed.heapBytes() < 0 && System.nanoTime() < end && !meter.events.ended()) {
      try {
        Thread.sleep(20);
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        break;
      }
    }
    return meter;
  }

  @Override
  public HeapReading read() throws CaptureException {
    if (events.ended()) {
      throw new CaptureException("process " + info.id() + " has ended");
    }
    List<HeapReading.Area> areas = new ArrayList<>();
    long survived = -1;
    long[] left = feed.left();
    if (left != null) {
      survived = 0;
      for (int i = 0; i < left.length; i++) {
        areas.add(new HeapReading.Area(AREAS.get(i), left[i], left[i], -1, true));
        survived += left[i];
      }
    }
    if (feed.fragmentation() >= 0 && feed.heapBytes() > 0) {
      long free = Math.round(feed.heapBytes() * feed.fragmentation());
      areas.add(new HeapReading.Area("free between objects", free, free, -1, false));
    }
    return new HeapReading(
        System.currentTimeMillis(),
        feed.heapBytes(),
        feed.committedBytes(),
        -1,
        feed.collections(),
        Math.round(feed.pauseMillis() * 1000),
        survived,
        areas);
  }

  @Override
  public TypeCounts count(boolean collect) {
    return null;
  }

  @Override
  public long collectOnce() throws CaptureException {
    long start = System.nanoTime();
    try (LiveRuntime live = Connections.to(info)) {
      live.collect();
    }
    return (System.nanoTime() - start) / 1_000_000;
  }

  @Override
  public boolean counts() {
    return false;
  }

  @Override
  public boolean tellsSurvivors() {
    return true;
  }

  @Override
  public LiveRuntime runtime() throws CaptureException {
    return Connections.to(info);
  }

  @Override
  public void close() {
    events.close();
  }
}
