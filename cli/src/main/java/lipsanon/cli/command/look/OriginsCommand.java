package lipsanon.cli.command.look;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.change.FlightVerdict;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.FlightViews;
import lipsanon.cli.command.GrowthViews;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.PictureOptions;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.SourceLines;
import lipsanon.cli.draw.StacksPicture;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;
import lipsanon.io.UnsupportedInputException;
import lipsanon.label.Wildcard;
import lipsanon.live.Flight;
import lipsanon.origin.FlightAnswer;
import lipsanon.origin.FlightQuestion;
import lipsanon.origin.OriginsAnswer;
import lipsanon.origin.OriginsQuestion;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "origins",
    description = "Where were the objects (or the bytes) allocated: by function and by stack?")
public final class OriginsCommand extends SnapshotCommand {
  private static final int DRAWN = 150;

  private static final int BARS = 60;
  private static final int SOURCES = 3;

  @Parameters(
      index = "0",
      paramLabel = "FILE",
      description =
          "A snapshot with recorded allocations, or a recording: of `lipsanon record`, or of a Java"
              + " VM's own event recorder.")
  private Path file;

  @Option(
      names = "--of",
      paramLabel = "OBJECTS",
      description = "Only these: an identifier, a type, or any selection.")
  private String selection;

  @Option(
      names = "--from",
      paramLabel = "SECONDS",
      description = "Only what was allocated from then on.")
  private double from;

  @Option(
      names = "--to",
      paramLabel = "SECONDS",
      description = "Only what was allocated before then.")
  private Double to;

  @Option(
      names = "--innermost",
      description = "Name the innermost function, not the nearest of your own.")
  private boolean innermost;

  @Option(
      names = "--callers",
      description = "Turn the tree of stacks round: from the allocating function to its callers.")
  private boolean callers;

  @Option(
      names = "--source",
      paramLabel = "DIR",
      description = "Show the lines of the source, found below this folder.")
  private Path source;

  @Mixin private LimitOption limit;

  @Mixin private PictureOptions picture;

  /** The command. */
  public OriginsCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (from < 0 || to != null && to <= from) {
      throw new UsageException("--from and --to take seconds since the recording began, in order");
    }
    OriginsQuestion.Options options =
        new OriginsQuestion.Options(
            innermost,
            callers,
            Math.round(from * 1000),
            to == null ? Long.MAX_VALUE : Math.round(to * 1000),
            limit.or(12));
    Flight flight = Snapshots.flight(file);
    if (flight != null) {
      return flight(flight, options);
    }
    OriginsAnswer answer = ask(options);
    picture.draw(() -> new StacksPicture(title(answer), ask(wide(options)).stacks()));
    print("origins", answer, () -> view(answer));
    return ExitCodes.FINE;
  }

  /** A picture has room for more than a screen. */
  private static OriginsQuestion.Options wide(OriginsQuestion.Options narrow) {
    return new OriginsQuestion.Options(
        narrow.innermost(), narrow.callers(), narrow.fromMillis(), narrow.toMillis(), DRAWN);
  }

  private static String title(OriginsAnswer answer) {
    return "Where it was allocated: " + answer.file() + ", " + answer.kind();
  }

  /** A Java VM's own recording, with what is likely to pile up. */
  record Recorded(FlightVerdict verdict, FlightAnswer recording) {}

  private int flight(Flight flight, OriginsQuestion.Options options) throws Exception {
    Wildcard types = selection == null ? null : Wildcard.of(selection);
    FlightQuestion.Options wanted =
        new FlightQuestion.Options(
            type -> types == null || types.fits(type),
            selection == null ? "" : selection,
            FlightViews.own(minePackages()),
            options);
    FlightVerdict verdict = FlightViews.verdict(file, flight, minePackages());
    FlightAnswer answer = FlightQuestion.ask(file.toString(), flight, wanted);
    picture.draw(
        () -> {
          FlightQuestion.Options more =
              new FlightQuestion.Options(
                  wanted.types(), wanted.selection(), wanted.own(), wide(options));
          OriginsAnswer all = FlightQuestion.ask(file.toString(), flight, more).origins();
          return new StacksPicture(title(all), all.stacks());
        });
    print("origins", new Recorded(verdict, answer), () -> view(flight, verdict, answer));
    return ExitCodes.FINE;
  }

  private View view(Flight flight, FlightVerdict verdict, FlightAnswer answer) throws IOException {
    Format format = format();
    View view = new View();
    if (answer.partial()) {
      view.warning("a part of the file is damaged: what stands before it was read");
    }
    if (!flight.survivors().isEmpty() || !verdict.piles().isEmpty()) {
      FlightViews.verdict(view, verdict);
    }
    FlightViews.trend(view, file, flight, format);
    OriginsAnswer origins = answer.origins();
    view.heading(
        format.size(origins.allBytes())
            + (origins.selection().isEmpty() ? "" : " of " + origins.selection())
            + " were allocated in "
            + Format.duration(flight.endMillis() - flight.beginMillis()));
    view.line(answer.exactness());
    functions(view, origins, format);
    for (FlightVerdict.Pile pile : verdict.piles()) {
      lines(view, pile.place(), pile.script(), pile.line());
    }
    sources(view, origins);
    FlightViews.tables(view, answer, format);
    stacks(view, origins, format);
    return next(view, origins);
  }

  private void lines(View view, String place, String script, int line) throws IOException {
    if (source == null || script.isEmpty()) {
      return;
    }
    List<String> text = new SourceLines(source).around(script, line);
    if (!text.isEmpty()) {
      view.heading("Allocates what piles up: " + place);
      text.forEach(view::line);
    }
  }

  private OriginsAnswer ask(OriginsQuestion.Options options) throws Exception {
    Recording samples = Snapshots.samples(file);
    if (samples != null) {
      if (selection != null || options.window()) {
        throw new UsageException(
            file
                + " holds samples, which know neither objects nor times: leave out --of, --from"
                + " and --to");
      }
      return OriginsQuestion.ofSamples(file.toString(), samples, options);
    }
    try (Snapshot snapshot = open(file)) {
      if (snapshot.objects().recording() == null) {
        throw new UnsupportedInputException(
            file.toString(),
            "does not tell where objects were allocated: take it with"
                + " `lipsanon capture --record-allocations`");
      }
      return OriginsQuestion.ofSnapshot(
          snapshot, selection == null ? "" : selection, nodes(snapshot), options);
    }
  }

  private IntList nodes(Snapshot snapshot) throws Exception {
    return selection == null ? null : IntList.of(select(snapshot, selection));
  }

  private View view(OriginsAnswer answer) throws IOException {
    Format format = format();
    View view = new View();
    boolean live = answer.liveBytes() > 0 || answer.allBytes() == 0;
    String what = answer.selection().isEmpty() ? "" : " (" + answer.selection() + ")";
    view.heading(
        Format.count(live ? answer.liveCount() : answer.allCount())
            + (answer.sampled() ? " samples" : " objects")
            + what
            + ", "
            + format.size(live ? answer.liveBytes() : answer.allBytes())
            + (live ? ", are still alive of what was allocated" : " were allocated")
            + (answer.seconds() > 0
                ? String.format(java.util.Locale.ROOT, " in %.1f s", answer.seconds())
                : " while it was recorded"));
    if (live && answer.allBytes() > 0) {
      view.line(
          "In all, "
              + Format.count(answer.allCount())
              + " allocations of "
              + format.size(answer.allBytes())
              + " were made. (One allocation can make several objects.)");
    }
    view.line("Recorded: " + answer.kind() + ".");
    timeline(view, answer, format);
    functions(view, answer, format);
    sources(view, answer);
    stacks(view, answer, format);
    return next(view, answer);
  }

  /** The recording's time in a few dozen bars: what was allocated when, and what of it is left. */
  private static void timeline(View view, OriginsAnswer answer, Format format) {
    List<OriginsAnswer.IntervalRow> rows = answer.intervals();
    if (rows.size() < 2) {
      return;
    }
    List<Long> alive = new ArrayList<>();
    List<Long> seen = new ArrayList<>();
    int bars = Math.min(BARS, rows.size());
    for (int bar = 0; bar < bars; bar++) {
      long aliveSum = 0;
      long seenSum = 0;
      for (int i = rows.size() * bar / bars; i < rows.size() * (bar + 1) / bars; i++) {
        aliveSum += rows.get(i).liveBytes();
        seenSum += Math.max(rows.get(i).seenBytes(), rows.get(i).liveBytes());
      }
      alive.add(aliveSum);
      seen.add(seenSum);
    }
    long most = Math.max(1, seen.stream().mapToLong(Long::longValue).max().orElse(1));
    view.heading("When (each bar: " + format.size(most) + " at most)");
    Table table = new Table().text("").longText(" ").number("in all");
    table.row("allocated then", bars(seen, most), format.cell(sum(seen)));
    table.row("still alive", bars(alive, most), format.cell(sum(alive)));
    view.table(table);
    double begin = rows.get(0).fromMillis() / 1000.0;
    double end = rows.get(rows.size() - 1).toMillis() / 1000.0;
    view.line(
        String.format(
            java.util.Locale.ROOT,
            "From %.1f s to %.1f s; what was freed within its own interval is not seen here.",
            begin,
            end));
  }

  private static long sum(List<Long> values) {
    return values.stream().mapToLong(Long::longValue).sum();
  }

  private static String bars(List<Long> values, long most) {
    StringBuilder line = new StringBuilder();
    for (long value : values) {
      line.append(value == 0 ? '·' : GrowthViews.bar(value / (double) most));
    }
    return line.toString();
  }

  private void functions(View view, OriginsAnswer answer, Format format) {
    boolean live = answer.functions().stream().anyMatch(row -> row.liveBytes() > 0);
    boolean all = answer.functions().stream().anyMatch(row -> row.allBytes() > 0);
    view.heading(innermost ? "By the innermost function" : "By function of your own");
    Table table = new Table();
    if (live) {
      table.number("alive").number("count");
    }
    if (all) {
      table.number("allocated").number("times");
    }
    table.number("share").longText("function");
    for (OriginsAnswer.FunctionRow row : answer.functions()) {
      List<Object> cells = new ArrayList<>();
      if (live) {
        cells.add(format.cell(row.liveBytes()));
        cells.add(Format.count(row.liveCount()));
      }
      if (all) {
        cells.add(format.cell(row.allBytes()));
        cells.add(Format.count(row.allCount()));
      }
      cells.add(Format.percent(row.share()));
      cells.add(place(row));
      table.row(cells.toArray());
    }
    view.table(table);
  }

  private static String place(OriginsAnswer.FunctionRow row) {
    return new Recording.Frame(row.function(), row.script(), row.line(), row.column(), false)
        .text();
  }

  private void sources(View view, OriginsAnswer answer) throws IOException {
    if (source == null) {
      return;
    }
    SourceLines lines = new SourceLines(source);
    int shown = 0;
    for (OriginsAnswer.FunctionRow row : answer.functions()) {
      List<String> text = lines.around(row.script(), row.line());
      if (!text.isEmpty() && shown++ < SOURCES) {
        view.heading(place(row));
        text.forEach(view::line);
      }
    }
    if (shown == 0) {
      view.line("None of these scripts was found below " + source + ".");
    }
  }

  private void stacks(View view, OriginsAnswer answer, Format format) {
    view.heading(
        callers
            ? "From the allocating function (above) to its callers (below)"
            : "By stack, from the outermost function inwards");
    Table table = new Table().number("bytes").number("share").longText("function");
    for (OriginsAnswer.StackRow row : answer.stacks()) {
      table.row(
          format.cell(row.bytes()),
          Format.percent(row.share()),
          Table.Cell.below(row.depth(), row.frame()));
    }
    view.table(table);
  }

  private View next(View view, OriginsAnswer answer) {
    String name = quote(answer.file());
    if (!callers) {
      view.next("lipsanon origins " + name + " --callers", "from each function to its callers");
    }
    if (source == null) {
      view.next("lipsanon origins " + name + " --source DIR", "with the lines of your source");
    }
    if (!answer.intervals().isEmpty() && selection == null) {
      view.next("lipsanon types " + name + " --mine=", "your own types; --of TYPE then narrows");
    }
    return view;
  }
}
