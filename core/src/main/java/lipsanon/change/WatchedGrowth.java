package lipsanon.change;

import java.util.ArrayList;
import java.util.List;
import lipsanon.label.TypeFilter;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;

/** What grew over the series of a watched heap: by the counts of its types. */
public final class WatchedGrowth {
  /** Evenly spread over the time: more say no more. */
  private static final int MOST_TABLES = 8;

  private WatchedGrowth() {}

  /** How what survives moved, by the sums of the live counts, or else by what collections left. */
  public static SurvivalTrend trend(HeapSeries series) {
    List<long[]> points = new ArrayList<>();
    for (HeapSeries.Types counts : series.counts()) {
      if (counts.live()) {
        points.add(new long[] {counts.atMillis(), counts.shallowBytes()});
      }
    }
    if (points.size() < 2) {
      points.clear();
      long collections = -1;
      for (HeapSeries.Heap heap : series.heap()) {
        if (heap.survivedBytes() >= 0 && heap.collections() > collections && collections >= 0) {
          points.add(new long[] {heap.atMillis(), heap.survivedBytes()});
        }
        collections = heap.collections();
      }
    }
    long[] millis = points.stream().mapToLong(point -> point[0]).toArray();
    long[] bytes = points.stream().mapToLong(point -> point[1]).toArray();
    return SurvivalTrend.of(millis, bytes, millis.length);
  }

  /**
   * Answers.
   *
   * @param file where the series is
   * @param mine what counts as the user's own types
   */
  public static GrowthAnswer ask(String file, HeapSeries series, TypeFilter mine) {
    List<HeapSeries.Types> counts = series.counts();
    List<TypeTable> tables = new ArrayList<>();
    int most = Math.min(MOST_TABLES, counts.size());
    for (int i = 0; i < most; i++) {
      int at = most == 1 ? 0 : (int) ((long) i * (counts.size() - 1) / (most - 1));
      HeapSeries.Types row = counts.get(at);
      LightSnapshot light =
          new LightSnapshot(
              series.runtime(),
              series.program(),
              series.process(),
              row.atMillis(),
              row.live(),
              row.types());
      tables.add(TypeTable.of(file, light, mine));
    }
    SurvivalTrend trend = trend(series);
    GrowthAnswer types =
        tables.size() < 2 ? nothing(series, tables) : TypesGrowth.ask(tables, new int[most - 1]);
    return judged(types, trend);
  }

  private static GrowthAnswer nothing(HeapSeries series, List<TypeTable> tables) {
    List<Long> heap = series.heap().stream().map(HeapSeries.Heap::usedBytes).toList();
    return new GrowthAnswer(
        tables.stream().map(TypeTable::summary).toList(),
        0,
        List.of(),
        "unclear",
        "",
        heap.isEmpty() ? List.of(0L) : List.of(heap.get(0), heap.get(heap.size() - 1)),
        List.of(),
        List.of());
  }

  /** The trend of all decides whether anything grows; the types then say what. */
  private static GrowthAnswer judged(GrowthAnswer types, SurvivalTrend trend) {
    boolean rises = trend.verdict() == SurvivalTrend.Verdict.RISING;
    boolean unknown = trend.verdict() == SurvivalTrend.Verdict.UNKNOWN;
    String words =
        rises
            ? String.format(
                java.util.Locale.ROOT,
                "What survives collections rises by %.1f kB a second. ",
                trend.bytesPerSecond() / 1000)
            : unknown
                ? "The series is too short to tell a trend. "
                : "What survives collections does not rise (" + trend.verdict().words() + "). ";
    String verdict = unknown ? "unclear" : rises ? "growth" : "none";
    return new GrowthAnswer(
        types.snapshots(),
        types.actions(),
        types.actionsBetween(),
        verdict,
        words + (rises || unknown ? types.sentence() : ""),
        types.heapBytes(),
        rises || unknown ? types.findings() : List.of(),
        types.setAside());
  }
}
