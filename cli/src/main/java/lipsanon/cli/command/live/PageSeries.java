package lipsanon.cli.command.live;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.v8.V8Capture;
import lipsanon.capture.v8.V8Page;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.Series;
import lipsanon.format.v8.WrittenPlaces;

/** What a page counts itself, round by round. */
public final class PageSeries {
  private static final int MOST = 8;

  private final List<Map<String, Long>> counters = new ArrayList<>();
  private final List<Map<String, Long>> listeners = new ArrayList<>();

  /** Reads a page's counts; of other targets nothing. */
  void look(RuntimeInfo target, LiveRuntime live) throws IOException {
    if (V8Page.isPage(target) && live instanceof V8Capture capture) {
      V8Page page = V8Page.of(capture);
      counters.add(page.counters());
      listeners.add(page.listeners(WrittenPlaces.of(capture.sourceMaps())::text));
    }
  }

  public GrowthAnswer addTo(GrowthAnswer answer) {
    List<Series> grown = new ArrayList<>(series(listeners));
    grown.removeIf(row -> row.growth() <= 0);
    grown.sort(Comparator.comparingLong(Series::growth).reversed());
    return answer.withPage(
        List.copyOf(grown.subList(0, Math.min(MOST, grown.size()))), series(counters));
  }

  private static List<Series> series(List<Map<String, Long>> rounds) {
    Set<String> keys = new LinkedHashSet<>();
    rounds.forEach(round -> keys.addAll(round.keySet()));
    List<Series> all = new ArrayList<>();
    for (String key : keys) {
      List<Long> counts = rounds.stream().map(round -> round.getOrDefault(key, 0L)).toList();
      all.add(new Series(key, "", "", counts));
    }
    return all;
  }
}
