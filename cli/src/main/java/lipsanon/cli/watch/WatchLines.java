package lipsanon.cli.watch;

import java.io.IOException;
import java.io.PrintWriter;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.List;
import java.util.function.BooleanSupplier;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import lipsanon.change.SurvivalTrend;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.JsonAnswers;
import lipsanon.cli.term.SafeText;

/** Watches where there is no terminal: a line an interval, for people or as JSON. */
public final class WatchLines {
  private static final int MOST_TYPES = 20;
  private static final DateTimeFormatter CLOCK = DateTimeFormatter.ofPattern("HH:mm:ss");

  private final Watching watching;
  private final PrintWriter out;
  private final WatchTerminal.Settings settings;
  private final boolean json;
  private final Format format = new Format(false);

  /**
   * A look, as programs get it.
   *
   * @param survivesBytes what survives collections, -1 if not known yet
   * @param trend what that does: {@code rising}, {@code flat}, {@code up and down}, {@code
   *     falling}, {@code cannot tell yet}
   * @param bytesPerSecond its slope
   * @param costShare the share of the target's time that watching took so far
   * @param types after a new count: what grew most since the baseline; else empty
   */
  record Look(
      long atMillis,
      long usedBytes,
      long committedBytes,
      long maxBytes,
      long collections,
      long pauseMicros,
      long survivesBytes,
      String trend,
      double bytesPerSecond,
      double costShare,
      List<HeapReading.Area> areas,
      List<TypeRows.Row> types) {}

  /** Prints to a writer. */
  public WatchLines(
      Watching watching, PrintWriter out, WatchTerminal.Settings settings, boolean json) {
    this.watching = watching;
    this.out = out;
    this.settings = settings;
    this.json = json;
  }

  /** Until the time is over, nobody listens any more, or the target ends. */
  public void run(BooleanSupplier stop) throws IOException {
    long begun = System.nanoTime();
    long next = begun;
    while (!stop.getAsBoolean() && !out.checkError()) {
      boolean counted = watching.tick();
      line(counted);
      out.flush();
      next = Math.max(next + settings.everyMillis() * 1_000_000, System.nanoTime());
      long end = begun + Math.min(settings.forMillis(), Long.MAX_VALUE / 2_000_000) * 1_000_000;
      if (next > end) {
        return;
      }
      try {
        Thread.sleep(Math.max(0, (next - System.nanoTime()) / 1_000_000));
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        return;
      }
    }
  }

  private void line(boolean counted) throws IOException {
    Watched watched = watching.watched();
    HeapReading now = watched.now();
    SurvivalTrend trend = watched.trend();
    if (json) {
      JsonAnswers.line(
          out,
          new Look(
              now.atMillis(),
              now.usedBytes(),
              now.committedBytes(),
              now.maxBytes(),
              now.collections(),
              now.pauseMicros(),
              watched.survivesBytes(),
              trend.verdict().words(),
              trend.bytesPerSecond(),
              watching.share(),
              now.areas(),
              counted ? rows(MOST_TYPES) : List.of()));
      return;
    }
    List<String> parts = new ArrayList<>();
    parts.add(
        LocalTime.ofInstant(java.time.Instant.ofEpochMilli(now.atMillis()), ZoneId.systemDefault())
            .format(CLOCK));
    parts.add(format.size(now.usedBytes()) + " used of " + format.size(now.committedBytes()));
    long survives = watched.survivesBytes();
    parts.add("survives " + (survives < 0 ? "?" : format.size(survives)));
    parts.add(WatchScreen.words(trend, format));
    if (now.collections() >= 0) {
      parts.add(
          Format.count(now.collections())
              + (now.collections() == 1 ? " collection" : " collections"));
    }
    out.println(String.join("  ", parts));
    if (counted && watched.last() != watched.baseline()) {
      for (TypeRows.Row row : rows(3)) {
        if (row.bytesDifference() > 0) {
          out.println(
              "          "
                  + format.difference(row.bytesDifference())
                  + " in "
                  + Format.countDifference(row.countDifference())
                  + " "
                  + SafeText.visible(row.type())
                  + " since the baseline");
        }
      }
    }
  }

  private List<TypeRows.Row> rows(int most) {
    List<TypeRows.Row> rows =
        TypeRows.of(
            watching.watched(),
            TypeRows.Sort.GROWTH,
            settings.match(),
            settings.own(),
            settings.mine());
    return List.copyOf(rows.subList(0, Math.min(most, rows.size())));
  }

  /** What came of it, at the end. */
  public static String summary(Watched watched, Format format) {
    SurvivalTrend trend = watched.trend();
    TypeCounts last = watched.last();
    return "Watched for "
        + Format.duration(watched.spanMillis())
        + ": what survives collections is "
        + (watched.survivesBytes() < 0 ? "not known" : format.size(watched.survivesBytes()))
        + ", "
        + WatchScreen.words(trend, format)
        + (last == null
            ? "."
            : "; "
                + Format.count(last.count())
                + " objects at the last count. Counting took "
                + watched.costMillis()
                + " ms of the target's time.");
  }
}
