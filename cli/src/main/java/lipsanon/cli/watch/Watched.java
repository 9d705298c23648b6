package lipsanon.cli.watch;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import lipsanon.change.SurvivalTrend;

/** What was seen of a heap since it is watched. One thread. */
public final class Watched {
  /** Beyond so many readings every second one is dropped: a picture shows no more. */
  private static final int MOST = 20_000;

  /** What the trend looks back on. */
  private static final long WINDOW_MILLIS = 30 * 60_000L;

  /** Of the values that collections leave, the least in so long a time has least garbage. */
  private static final long BIN_MILLIS = 5_000;

  private static final int LEAST_COUNTS = 5;

  private final List<HeapReading> readings = new ArrayList<>();
  private final Points live = new Points();
  private final Points survived = new Points();
  private final List<Mark> marks = new ArrayList<>();
  private final boolean tellsSurvivors;
  private final boolean sums;
  private long costMillis;
  private TypeCounts baseline;
  private TypeCounts last;
  private TypeCounts before;

  /** Something that was done. */
  public record Mark(long atMillis, char sign, String text) {}

  /** A series of instants and bytes. */
  private static final class Points {
    long[] millis = new long[64];
    long[] bytes = new long[64];
    int size;
    private SurvivalTrend trend;

    void add(long at, long value) {
      trend = null;
      if (size == MOST) {
        size /= 2;
        for (int i = 0; i < size; i++) {
          millis[i] = millis[2 * i];
          bytes[i] = bytes[2 * i];
        }
      }
      if (size == millis.length) {
        millis = Arrays.copyOf(millis, 2 * size);
        bytes = Arrays.copyOf(bytes, 2 * size);
      }
      millis[size] = at;
      bytes[size++] = value;
    }

    /** The newest value, if this one is less. */
    void least(long value) {
      trend = null;
      bytes[size - 1] = Math.min(bytes[size - 1], value);
    }

    /** Kept until a value is added: a screen asks for it more often than that. */
    SurvivalTrend trend() {
      if (trend == null) {
        trend = reckon();
      }
      return trend;
    }

    private SurvivalTrend reckon() {
      int from = 0;
      while (from < size && millis[from] < millis[size - 1] - WINDOW_MILLIS) {
        from++;
      }
      return SurvivalTrend.of(
          Arrays.copyOfRange(millis, from, Math.max(from, size)),
          Arrays.copyOfRange(bytes, from, Math.max(from, size)),
          size - from);
    }
  }

  /**
   * Nothing yet.
   *
   * @param tellsSurvivors whether what collections leave can be believed under this collector
   * @param sums whether the sums of live counts are the series of what survives
   */
  public Watched(boolean tellsSurvivors, boolean sums) {
    this.tellsSurvivors = tellsSurvivors;
    this.sums = sums;
  }

  /** Adds a reading. */
  public void add(HeapReading reading) {
    HeapReading previous = readings.isEmpty() ? null : readings.get(readings.size() - 1);
    if (readings.size() == MOST) {
      for (int i = 0; i < MOST / 2; i++) {
        readings.set(i, readings.get(2 * i));
      }
      readings.subList(MOST / 2, MOST).clear();
    }
    readings.add(reading);
    boolean collected = previous != null && reading.collections() > previous.collections();
    if (collected && reading.survivedBytes() >= 0) {
      int end = survived.size - 1;
      if (end >= 0 && survived.millis[end] > reading.atMillis() - BIN_MILLIS) {
        survived.least(reading.survivedBytes());
      } else {
        survived.add(reading.atMillis(), reading.survivedBytes());
      }
    }
  }

  /** Adds a count; the first is the baseline. */
  public void add(TypeCounts counts) {
    costMillis += counts.costMillis();
    before = last;
    last = counts;
    if (baseline == null) {
      baseline = counts;
    }
    if (counts.live() && sums) {
      live.add(counts.atMillis(), counts.bytes());
    }
  }

  /** What was in use right after a collection that was forced. */
  void collected(HeapReading reading) {
    live.add(reading.atMillis(), reading.usedBytes());
  }

  /** How many collections were forced so. */
  int collectedCount() {
    return live.size;
  }

  /** What else cost the target time. */
  void spent(long millis) {
    costMillis += millis;
  }

  /** From now on differences are to the last count. */
  void rebase(long now) {
    if (last != null) {
      baseline = last;
      before = null;
      mark(now, 'b', "baseline");
    }
  }

  void mark(long at, char sign, String text) {
    marks.add(new Mark(at, sign, text));
  }

  List<HeapReading> readings() {
    return readings;
  }

  List<Mark> marks() {
    return marks;
  }

  /** The first count, or that of the last baseline; null if there is none. */
  public TypeCounts baseline() {
    return baseline;
  }

  /** The newest count, or null. */
  public TypeCounts last() {
    return last;
  }

  /** The count before it, or null. */
  TypeCounts before() {
    return before;
  }

  /** The newest reading, or null. */
  public HeapReading now() {
    return readings.isEmpty() ? null : readings.get(readings.size() - 1);
  }

  /** How long it is watched. */
  long spanMillis() {
    return readings.isEmpty() ? 0 : now().atMillis() - readings.get(0).atMillis();
  }

  /** How long the target was kept busy by what was asked. */
  long costMillis() {
    return costMillis;
  }

  /** What survives, newest value, or -1. */
  public long survivesBytes() {
    if (live.size > 0 && (live.size >= LEAST_COUNTS || survived.size == 0 || !tellsSurvivors)) {
      return live.bytes[live.size - 1];
    }
    return tellsSurvivors && survived.size > 0 ? survived.bytes[survived.size - 1] : -1;
  }

  /**
   * How what survives moves: by the sums of live counts where there are enough of them, which are
   * exact under every collector; else by what collections leave.
   */
  public SurvivalTrend trend() {
    SurvivalTrend counted = live.trend();
    boolean known = counted.verdict() != SurvivalTrend.Verdict.UNKNOWN;
    if (known || !tellsSurvivors) {
      return counted;
    }
    SurvivalTrend left = survived.trend();
    return left.verdict() != SurvivalTrend.Verdict.UNKNOWN && live.size < LEAST_COUNTS
        ? left
        : live.size > 0 ? counted : left;
  }

  /** What the trend rests on, in words. */
  String basis() {
    SurvivalTrend trend = trend();
    boolean counted = trend.equals(live.trend()) && live.size > 0;
    return trend.points() + (counted && sums ? " live counts" : " values after collections");
  }

  /** The line of what survives, for a picture: instants and bytes. */
  List<long[]> survivors() {
    boolean counted = live.size >= 2 || survived.size == 0 || !tellsSurvivors;
    Points points = counted ? live : survived;
    List<long[]> line = new ArrayList<>();
    for (int i = 0; i < points.size; i++) {
      line.add(new long[] {points.millis[i], points.bytes[i]});
    }
    return line;
  }
}
