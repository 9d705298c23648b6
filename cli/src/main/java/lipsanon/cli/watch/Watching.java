package lipsanon.cli.watch;

import java.io.IOException;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import lipsanon.cli.term.Format;
import lipsanon.format.light.SeriesWriter;
import lipsanon.live.HeapSeries;

/**
 * Reads a heap at intervals and counts its types as seldom as their cost demands: at most two of a
 * hundred parts of the target's time go into it.
 */
public final class Watching {
  /** The share of the target's time that counting may take. */
  private static final double MOST_SHARE = 0.02;

  /** Counting forces a collection: not more often than this, however quick it is. */
  private static final long LEAST_INTERVAL_MILLIS = 5_000;

  private static final int MOST_ROUNDS = 4;

  /** The threads that run finalizers and cleaners need a moment. */
  private static final long BETWEEN_ROUNDS_MILLIS = 200;

  /** How types are counted. */
  public enum Counting {
    /** What is live: after a collection. */
    LIVE,
    /** Garbage included: a walk over the heap. */
    ALL,
    /** Not at all. */
    NONE
  }

  private final HeapMeter meter;
  private final Watched watched;
  private final Counting counting;
  private final SeriesWriter series;
  private final long started = System.nanoTime();
  private long nextCount;

  /** Where counting takes a whole snapshot: when one may be taken. */
  private long nextSnapshot;

  private long lastCollections = -1;

  /**
   * Begins.
   *
   * @param series where all is kept, or null
   */
  public Watching(HeapMeter meter, Counting counting, SeriesWriter series) {
    this.meter = meter;
    this.counting = counting;
    this.series = series;
    this.watched = new Watched(meter.tellsSurvivors(), meter.counts());
    this.nextCount = started;
    this.nextSnapshot = started;
  }

  /** What was seen so far. */
  public Watched watched() {
    return watched;
  }

  /** Reads, and counts if it is time to; whether it counted. */
  public boolean tick() throws IOException {
    HeapReading reading = meter.read();
    watched.add(reading);
    if (series != null) {
      series.write(
          new HeapSeries.Heap(
              reading.atMillis(),
              reading.usedBytes(),
              reading.committedBytes(),
              reading.maxBytes(),
              reading.collections(),
              reading.pauseMicros(),
              reading.survivedBytes()));
    }
    if (!meter.counts()) {
      return counting != Counting.NONE && bySnapshots();
    }
    boolean due = counting != Counting.NONE && System.nanoTime() >= nextCount;
    // right after a collection there is least garbage among what is counted
    boolean fresh = reading.collections() > lastCollections || lastCollections < 0;
    long late = nextCount + 2 * LEAST_INTERVAL_MILLIS * 1_000_000;
    lastCollections = reading.collections();
    if (due && (counting == Counting.LIVE || fresh || System.nanoTime() >= late)) {
      count(counting == Counting.LIVE);
      return true;
    }
    return false;
  }

  /**
   * Where counting takes a whole snapshot that is done seldom, and what survives is seen by forced
   * collections between, which are quick; each takes half of the time that watching may.
   */
  private boolean bySnapshots() throws IOException {
    long now = System.nanoTime();
    if (now >= nextSnapshot) {
      TypeCounts counts = count(true);
      double rest = Math.max(LEAST_INTERVAL_MILLIS, counts.costMillis() * 2 / MOST_SHARE);
      nextSnapshot = System.nanoTime() + Math.round(rest * 1e6);
      return true;
    }
    if (now >= nextCount) {
      long cost = meter.collectOnce();
      watched.spent(cost);
      HeapReading left = meter.read();
      watched.collected(left);
      if (series != null) {
        series.write(
            new HeapSeries.Heap(
                left.atMillis(),
                left.usedBytes(),
                left.committedBytes(),
                left.maxBytes(),
                watched.collectedCount(),
                -1,
                left.usedBytes()));
      }
      double rest = Math.max(LEAST_INTERVAL_MILLIS, cost * 2 / MOST_SHARE);
      nextCount = System.nanoTime() + Math.round(rest * 1e6);
    }
    return false;
  }

  private TypeCounts count(boolean collect) throws IOException {
    TypeCounts counts = LightCounts.count(meter, collect);
    watched.add(counts);
    if (series != null) {
      series.write(
          new HeapSeries.Types(
              counts.atMillis(),
              counts.costMillis(),
              counts.live(),
              counts.count(),
              counts.bytes(),
              LightCounts.types(counts)));
    }
    if (meter.counts()) {
      schedule();
    }
    return counts;
  }

  /** The next count comes when all that was spent is a small enough share of the time. */
  private void schedule() {
    long now = System.nanoTime();
    double spent = watched.costMillis() / MOST_SHARE;
    long allowed = started + Math.round(spent * 1e6);
    nextCount = Math.max(now + LEAST_INTERVAL_MILLIS * 1_000_000, allowed);
  }

  /** How types are counted, what it costs and when next, in words. */
  String counting() {
    if (counting == Counting.NONE) {
      return meter.counts()
          ? "not counted (--count none)"
          : "counted on request: --count live, by snapshots";
    }
    if (watched.last() == null) {
      return "not counted yet";
    }
    long at = meter.counts() ? nextCount : nextSnapshot;
    long next = Math.max(0, (at - System.nanoTime()) / 1_000_000);
    long ago = System.currentTimeMillis() - watched.last().atMillis();
    return (watched.last().live() ? "live objects" : "garbage included")
        + ", counted "
        + Format.duration(Math.max(0, ago))
        + " ago in "
        + watched.last().costMillis()
        + " ms, next in "
        + Format.duration(next)
        + "; "
        + Format.percent(share())
        + " of the target's time";
  }

  /** The share of the target's time that watching took so far, counted from the first count on. */
  public double share() {
    long planned = Math.max(nextCount, nextSnapshot) - started;
    double elapsed = Math.max(System.nanoTime() - started, planned) / 1e6;
    return elapsed <= 0 ? 0 : watched.costMillis() / elapsed;
  }

  /** From now on differences are to what is there now. */
  String rebase() throws IOException {
    count(counting != Counting.ALL);
    watched.rebase(System.currentTimeMillis());
    mark("baseline", "");
    return "Baseline set.";
  }

  /**
   * Collects in rounds until one frees nothing more: what finalizers and cleaners hold goes only
   * after these have run.
   *
   * @return what was freed, in words
   */
  String collect() throws IOException {
    long before = meter.read().usedBytes();
    long left = -1;
    int rounds = 0;
    while (rounds < MOST_ROUNDS) {
      watched.spent(meter.collectOnce());
      rounds++;
      pause();
      long now = meter.read().usedBytes();
      boolean same = left >= 0 && left - now < Math.max(100_000, left / 1000);
      left = now;
      if (same) {
        break;
      }
    }
    TypeCounts counts = counting == Counting.NONE ? null : count(true);
    long after = counts == null ? left : Math.min(left, meter.read().usedBytes());
    Format format = new Format(false);
    String text =
        "Collected "
            + rounds
            + " times: "
            + format.size(Math.max(0, before - after))
            + " freed, "
            + format.size(counts == null ? after : counts.bytes())
            + (counts == null ? " in use." : " are live.");
    watched.mark(System.currentTimeMillis(), 'c', text);
    mark("collection", text);
    return text;
  }

  private static void pause() throws CaptureException {
    try {
      Thread.sleep(BETWEEN_ROUNDS_MILLIS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    }
  }

  /** A last count, unless the one before was just now: two at once show no trend. */
  public void last() throws IOException {
    TypeCounts newest = watched.last();
    if (newest == null
        || System.currentTimeMillis() - newest.atMillis() > LEAST_INTERVAL_MILLIS / 2) {
      count(true);
    }
  }

  /** The newest count of what is live, made now. */
  public TypeCounts fresh() throws IOException {
    return count(true);
  }

  /** Notes what the user did. */
  public void noted(char sign, String what, String text) throws IOException {
    watched.mark(System.currentTimeMillis(), sign, text);
    mark(what, text);
  }

  private void mark(String what, String text) throws IOException {
    if (series != null) {
      series.write(new HeapSeries.Mark(System.currentTimeMillis(), what, text));
    }
  }
}
