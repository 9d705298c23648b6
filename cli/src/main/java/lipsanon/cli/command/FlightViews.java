package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Predicate;
import lipsanon.change.FlightVerdict;
import lipsanon.change.SurvivalTrend;
import lipsanon.change.TypeTable;
import lipsanon.change.WatchedGrowth;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.label.TypeFilter;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.origin.FlightAnswer;
import lipsanon.snapshot.Snapshots;

/** Recordings of a Java VM as people read them. */
public final class FlightViews {
  /** What is counted while it is recorded is kept beside the recording. */
  private static final String COUNTS = ".counts";

  private static final int MOST_CHAIN = 8;

  private FlightViews() {}

  /** Where the counts of a recording are. */
  public static Path counts(Path recording) {
    return recording.resolveSibling(recording.getFileName() + COUNTS);
  }

  /** The counts beside a recording, or null. */
  public static HeapSeries series(Path recording) throws IOException {
    Path beside = counts(recording);
    return Files.isRegularFile(beside) ? Snapshots.series(beside) : null;
  }

  /** Whether a class is the user's own, by its name. */
  public static Predicate<String> own(List<String> mine) {
    return type -> TypeTable.own(type, mine);
  }

  /** What is likely to pile up. */
  public static FlightVerdict verdict(Path file, Flight flight, List<String> mine)
      throws IOException {
    TypeFilter filter = new TypeFilter(null, mine, false);
    return FlightVerdict.of(flight, series(file), filter, own(mine));
  }

  /** Adds a verdict with its evidence. */
  public static void verdict(View view, FlightVerdict verdict) {
    view.heading(verdict.sentence());
    if (verdict.piles().isEmpty()) {
      return;
    }
    Table table =
        new Table()
            .longText("what piles up")
            .text(verdict.piles().get(0).counted() ? "live objects" : "survivors by quarter")
            .longText("allocated in")
            .longText("held by");
    for (FlightVerdict.Pile pile : verdict.piles()) {
      List<Long> counts = pile.counts();
      String ends =
          Format.count(counts.get(0)) + " → " + Format.count(counts.get(counts.size() - 1));
      table.row(
          pile.type(),
          GrowthViews.sparkline(counts) + (pile.counted() ? " " + ends : ""),
          pile.place().isEmpty() ? "not sampled" : pile.place(),
          pile.heldBy().isEmpty() ? "not told" : pile.heldBy());
    }
    view.table(table);
  }

  /** How what survives collections moved, by the counts or the collections. */
  public static void trend(View view, Path file, Flight flight, Format format) throws IOException {
    HeapSeries series = series(file);
    SurvivalTrend trend;
    if (series != null && series.counts().size() > 2) {
      trend = WatchedGrowth.trend(series);
    } else {
      long[] millis = flight.heap().stream().mapToLong(Flight.AfterCollection::atMillis).toArray();
      long[] bytes = flight.heap().stream().mapToLong(Flight.AfterCollection::usedBytes).toArray();
      trend = SurvivalTrend.of(millis, bytes, millis.length);
    }
    if (trend.points() > 1) {
      view.line(
          "What survives collections: "
              + trend.verdict().words()
              + (trend.bytesPerSecond() == 0
                  ? ""
                  : ", "
                      + format.difference(Math.round(trend.bytesPerSecond()))
                      + " a second over "
                      + Format.duration(trend.spanMillis()))
              + (trend.verdict() == SurvivalTrend.Verdict.UNKNOWN
                  ? " (a trend takes a minute and five values)."
                  : "."));
    }
  }

  /** Adds tables by type and by thread, and of the survivors. */
  public static void tables(View view, FlightAnswer answer, Format format) {
    view.heading("By type");
    Table types =
        new Table()
            .number("allocated")
            .number("share")
            .number("samples")
            .number("alive at the end")
            .longText("type");
    for (FlightAnswer.TypeRow row : answer.types()) {
      types.row(
          format.cell(row.bytes()),
          Format.share(row.share()),
          row.samples(),
          row.aliveSamples(),
          row.type());
    }
    view.table(types);
    view.heading("By thread");
    Table threads = new Table().number("allocated").number("share").longText("thread");
    for (FlightAnswer.ThreadRow row : answer.threads()) {
      threads.row(format.cell(row.bytes()), Format.share(row.share()), row.thread());
    }
    view.table(threads);
    survivors(view, answer);
  }

  private static void survivors(View view, FlightAnswer answer) {
    if (answer.survivors().isEmpty()) {
      return;
    }
    view.heading(
        "Still alive at the end: "
            + Format.count(answer.survivorCount())
            + " sampled objects, by type and place");
    Table table =
        new Table()
            .number("samples")
            .text("age")
            .longText("type")
            .longText("allocated in")
            .longText("held by");
    for (FlightAnswer.SurvivorRow row : answer.survivors()) {
      table.row(
          row.samples(),
          Format.duration(row.youngestMillis()) + " to " + Format.duration(row.oldestMillis()),
          row.type(),
          row.place(),
          row.heldBy());
    }
    view.table(table);
    FlightAnswer.SurvivorRow first = answer.survivors().get(0);
    if (!first.chain().isEmpty()) {
      int skip = Math.max(0, first.chain().size() - MOST_CHAIN);
      view.line(
          "One of the first is kept by "
              + String.join(" ← ", first.chain().subList(0, Math.min(4, first.chain().size())))
              + (skip > 0 ? " ← … ← " : first.chain().size() > 4 ? " ← " : "")
              + String.join(
                  " ← ",
                  first
                      .chain()
                      .subList(
                          Math.min(first.chain().size(), Math.max(4, skip + 4)),
                          first.chain().size()))
              + ".");
    }
  }
}
