package lipsanon.cli.watch;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import lipsanon.change.SurvivalTrend;
import lipsanon.change.TypeTable;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.SafeText;
import org.jline.utils.AttributedString;
import org.jline.utils.AttributedStringBuilder;
import org.jline.utils.AttributedStyle;

/** Draws what was watched as the lines of a screen of any size. */
final class WatchScreen {
  private static final int AXIS = 10;
  private static final int MOST_AREAS = 6;
  private static final AttributedStyle PLAIN = AttributedStyle.DEFAULT;
  private static final AttributedStyle BOLD = PLAIN.bold();
  private static final AttributedStyle FAINT = PLAIN.faint();
  private static final AttributedStyle USED = PLAIN.foreground(39);
  private static final AttributedStyle COMMITTED = PLAIN.foreground(242);
  private static final AttributedStyle SURVIVES = PLAIN.bold().foreground(214);
  private static final AttributedStyle WARN = PLAIN.bold().foreground(214);
  private static final AttributedStyle GOOD = PLAIN.foreground(71);

  private final Format format = new Format(false);
  private final boolean unicode;
  private final boolean color;
  private final int width;
  private final int height;
  private final List<AttributedString> lines = new ArrayList<>();

  /**
   * How things stand besides the heap.
   *
   * @param title what is watched
   * @param sort of the types
   * @param match filter of the types, or ""
   * @param own whether only the user's own types
   * @param mine the user's packages
   * @param paused whether nothing is read at present
   * @param typing what the user types, or null
   * @param message what was done last, or ""
   * @param counting how types are counted and when next
   */
  record State(
      String title,
      TypeRows.Sort sort,
      String match,
      boolean own,
      List<String> mine,
      boolean paused,
      String typing,
      String message,
      String counting) {}

  private WatchScreen(boolean unicode, boolean color, int width, int height) {
    this.unicode = unicode;
    this.color = color;
    this.width = width;
    this.height = height;
  }

  /** Exactly as many lines as the screen has, none wider than it. */
  static List<AttributedString> draw(
      Watched watched, State state, boolean unicode, boolean color, int width, int height) {
    WatchScreen screen = new WatchScreen(unicode, color, width, height);
    screen.all(watched, state);
    return screen.lines;
  }

  private void all(Watched watched, State state) {
    AttributedStringBuilder title = new AttributedStringBuilder();
    title.style(BOLD).append(SafeText.visible(state.title()));
    title.style(FAINT).append("  watched for " + Format.duration(watched.spanMillis()));
    if (state.paused()) {
      title.style(WARN).append("  PAUSED");
    }
    add(title);
    heap(watched);
    verdict(watched);
    if (!state.message().isEmpty()) {
      add(new AttributedStringBuilder().style(BOLD).append(SafeText.visible(state.message())));
    }
    int rest = height - lines.size();
    int chart = Math.max(4, Math.min(12, (rest - 2) * 2 / 5));
    if (rest > 12) {
      chart(watched, chart);
      areas(watched);
    }
    types(watched, state);
    while (lines.size() < height - 1) {
      lines.add(AttributedString.EMPTY);
    }
    keys(state);
  }

  private void add(AttributedStringBuilder line) {
    if (lines.size() < height - 1) {
      put(line);
    }
  }

  private void put(AttributedStringBuilder line) {
    AttributedString text = line.toAttributedString().columnSubSequence(0, width);
    lines.add(color ? text : new AttributedString(text.toString()));
  }

  private String size(long bytes) {
    return bytes < 0 ? "?" : format.size(bytes);
  }

  private void heap(Watched watched) {
    HeapReading now = watched.now();
    AttributedStringBuilder line = new AttributedStringBuilder();
    if (now == null) {
      add(line.append("reading ..."));
      return;
    }
    line.append("Heap ").style(USED).append(size(now.usedBytes()) + " used").style(PLAIN);
    line.append(" of " + size(now.committedBytes()) + " committed");
    if (now.maxBytes() > 0) {
      line.append(", " + size(now.maxBytes()) + " at most");
    }
    if (now.collections() >= 0) {
      HeapReading first = watched.readings().get(0);
      long collections = now.collections() - first.collections();
      double seconds = (now.pauseMicros() - first.pauseMicros()) / 1e6;
      line.append(
          String.format(
              Locale.ROOT,
              "   %,d collections since, %.2f s of pauses (%.1f %%)",
              collections,
              seconds,
              watched.spanMillis() <= 0 ? 0 : 100 * seconds * 1000 / watched.spanMillis()));
    }
    add(line);
  }

  private void verdict(Watched watched) {
    SurvivalTrend trend = watched.trend();
    AttributedStringBuilder line = new AttributedStringBuilder();
    long survives = watched.survivesBytes();
    line.append("What survives collections: ");
    line.style(SURVIVES).append(survives < 0 ? "not known yet" : size(survives)).style(PLAIN);
    line.append("   ");
    AttributedStyle style =
        trend.verdict() == SurvivalTrend.Verdict.RISING
            ? WARN
            : trend.verdict() == SurvivalTrend.Verdict.FLAT ? GOOD : BOLD;
    line.style(style).append(words(trend, format)).style(PLAIN);
    if (trend.points() > 1) {
      line.style(FAINT)
          .append("   (" + watched.basis() + " in " + Format.duration(trend.spanMillis()) + ")")
          .style(PLAIN);
    }
    add(line);
  }

  /** A verdict in words. */
  static String words(SurvivalTrend trend, Format format) {
    return switch (trend.verdict()) {
      case RISING, FALLING ->
          trend.verdict().words().toUpperCase(Locale.ROOT)
              + " by "
              + rate(Math.abs(trend.bytesPerSecond()), format);
      case UNKNOWN ->
          "cannot tell yet whether it rises: about "
              + Format.duration(Math.max(1000, trend.waitMillis()))
              + " more";
      default -> trend.verdict().words();
    };
  }

  /** Bytes over time, in the unit that reads best. */
  static String rate(double bytesPerSecond, Format format) {
    return bytesPerSecond >= 1000
        ? format.size(Math.round(bytesPerSecond)) + "/s"
        : format.size(Math.round(bytesPerSecond * 3600)) + "/h";
  }

  private void chart(Watched watched, int rows) {
    List<HeapReading> readings = watched.readings();
    int columns = width - AXIS - 1;
    if (readings.isEmpty() || columns < 10) {
      return;
    }
    List<long[]> used = new ArrayList<>();
    List<long[]> committed = new ArrayList<>();
    for (HeapReading reading : readings) {
      used.add(new long[] {reading.atMillis(), reading.usedBytes()});
      committed.add(new long[] {reading.atMillis(), reading.committedBytes()});
    }
    long low = Long.MAX_VALUE;
    long high = 0;
    for (List<long[]> line : List.of(used, watched.survivors())) {
      for (long[] point : line) {
        low = Math.min(low, point[1]);
        high = Math.max(high, point[1]);
      }
    }
    // what is committed is shown where it is near: it must not press the others flat
    boolean near = watched.now().committedBytes() < 2 * high;
    high = near ? Math.max(high, watched.now().committedBytes()) : high;
    low = low < high / 2 ? 0 : Math.max(0, low - (high - low) / 4);
    high += (high - low) / 20;
    long from = readings.get(0).atMillis();
    long to = Math.max(from + 30_000, watched.now().atMillis());
    Chart chart = new Chart(columns, rows, unicode, from, to, low, high);
    if (near) {
      chart.draw(new Chart.Line(committed, true, COMMITTED, '.'));
    }
    chart.draw(new Chart.Line(used, false, USED, '*'));
    chart.draw(new Chart.Line(watched.survivors(), false, SURVIVES, '#'));
    List<AttributedString> drawn = chart.rows();
    for (int r = 0; r < drawn.size(); r++) {
      boolean labelled = r == 0 || r == rows - 1 || r == rows / 2;
      long value = Math.round(high - (high - low) * (double) r / Math.max(1, rows - 1));
      AttributedStringBuilder line = new AttributedStringBuilder();
      line.style(FAINT).append(String.format("%9s", labelled ? size(value) : ""));
      line.append(unicode ? (labelled ? "┤" : "│") : "|").style(PLAIN).append(drawn.get(r));
      add(line);
    }
    marks(watched, chart, columns, from, to);
  }

  /** What happened when, below the chart: collections of its own, and what the user did. */
  private void marks(Watched watched, Chart chart, int columns, long from, long to) {
    char[] signs = new char[columns];
    java.util.Arrays.fill(signs, ' ');
    List<HeapReading> readings = watched.readings();
    for (int i = 1; i < readings.size(); i++) {
      if (readings.get(i).collections() > readings.get(i - 1).collections()) {
        int at = chart.column(readings.get(i).atMillis());
        if (at >= 0 && at < columns) {
          signs[at] = unicode ? '·' : '.';
        }
      }
    }
    for (Watched.Mark mark : watched.marks()) {
      int at = chart.column(mark.atMillis());
      if (at >= 0 && at < columns) {
        signs[at] = mark.sign();
      }
    }
    AttributedStringBuilder line = new AttributedStringBuilder();
    line.style(FAINT).append(" events   ").style(PLAIN).append(new String(signs));
    add(line);
    String begin = "-" + Format.duration(to - from);
    String legend =
        (unicode ? "─ used  ─ survives  ─ committed   · a collection" : "* used  # survives  . all")
            + "  b c l f: what you did";
    AttributedStringBuilder axis = new AttributedStringBuilder();
    axis.style(FAINT).append(" ".repeat(AXIS) + begin + "  ").style(PLAIN);
    if (color && unicode) {
      axis.style(USED).append("─ used  ").style(SURVIVES).append("─ survives  ");
      axis.style(COMMITTED).append("─ committed  ").style(FAINT);
      axis.append("· a collection  b c l f: what you did").style(PLAIN);
    } else {
      axis.append(legend);
    }
    int gap = columns + AXIS - axis.columnLength() - 3;
    axis.style(FAINT).append(" ".repeat(Math.max(1, gap)) + "now").style(PLAIN);
    add(axis);
  }

  private void areas(Watched watched) {
    List<HeapReading.Area> areas = new ArrayList<>(watched.now().areas());
    areas.sort((a, b) -> Long.compare(b.committedBytes(), a.committedBytes()));
    AttributedStringBuilder line = new AttributedStringBuilder();
    line.style(FAINT).append("Areas  ").style(PLAIN);
    int shown = 0;
    for (HeapReading.Area area : areas) {
      if (shown == MOST_AREAS || area.committedBytes() <= 0) {
        break;
      }
      long share = Math.round(100.0 * area.usedBytes() / area.committedBytes());
      String text =
          area.name()
              + " "
              + size(area.usedBytes())
              + (area.usedBytes() == area.committedBytes()
                  ? ""
                  : " of " + size(area.committedBytes()) + " (" + share + " %)");
      if (line.columnLength() + text.length() + 3 > width) {
        break;
      }
      line.append((shown++ == 0 ? "" : " | ") + SafeText.visible(text));
    }
    add(line);
  }

  private void types(Watched watched, State state) {
    TypeCounts last = watched.last();
    AttributedStringBuilder head = new AttributedStringBuilder();
    head.style(BOLD).append("Types").style(PLAIN);
    head.append(" by " + state.sort().words());
    head.append(
        state.own() ? ", your own only" : state.sort().ownFirst() ? ", your own first" : "");
    head.append(state.match().isEmpty() ? "" : ", with \"" + state.match() + "\"");
    head.style(FAINT).append("   " + state.counting()).style(PLAIN);
    add(head);
    if (last == null) {
      return;
    }
    AttributedStringBuilder columns = new AttributedStringBuilder();
    columns
        .style(FAINT)
        .append(
            String.format(
                "%10s %11s %11s %11s %10s %10s  %s",
                "bytes", "since base", "since last", "count", "since base", "since last", "type"));
    add(columns.style(PLAIN));
    int room = Math.max(0, height - 1 - lines.size());
    List<TypeRows.Row> rows =
        TypeRows.of(watched, state.sort(), state.match(), state.own(), state.mine());
    for (TypeRows.Row row : rows.subList(0, Math.min(room, rows.size()))) {
      AttributedStringBuilder line = new AttributedStringBuilder();
      line.append(String.format("%10s ", size(row.shallowBytes())));
      line.style(row.bytesDifference() > 0 ? SURVIVES : PLAIN);
      line.append(String.format("%11s ", format.difference(row.bytesDifference()))).style(PLAIN);
      line.append(String.format("%11s ", format.difference(row.bytesRecent())));
      line.append(String.format("%11s ", Format.count(row.count())));
      line.append(String.format("%10s ", Format.countDifference(row.countDifference())));
      line.append(String.format("%10s  ", Format.countDifference(row.countRecent())));
      boolean own = TypeTable.own(row.type(), state.mine());
      line.style(own ? BOLD : PLAIN).append(SafeText.visible(row.type())).style(PLAIN);
      add(line);
    }
    if (rows.isEmpty()) {
      add(new AttributedStringBuilder().append("  none fits"));
    }
  }

  private void keys(State state) {
    AttributedStringBuilder line = new AttributedStringBuilder();
    if (state.typing() != null) {
      line.append(
          "Types with: " + SafeText.visible(state.typing()) + "_   (Enter, or Esc for all)");
    } else {
      String[] keys = {
        "b baseline",
        "c collect",
        "l light snapshot",
        "f full snapshot",
        "s sort",
        "/ filter",
        "o own",
        "p " + (state.paused() ? "go on" : "pause"),
        "q quit"
      };
      for (String key : keys) {
        line.style(BOLD).append(key.substring(0, 1)).style(PLAIN).append(key.substring(1) + "  ");
      }
    }
    put(line);
  }
}
