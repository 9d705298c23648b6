package lipsanon.cli.command;

import java.util.ArrayList;
import java.util.List;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.Series;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.holder.Finding;
import lipsanon.label.Loaders;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.Step;
import lipsanon.label.Threads;

/** Growth as people read it. */
public final class GrowthViews {
  private static final String BARS = "▁▂▃▄▅▆▇█";
  private static final int STEPS = 14;

  private GrowthViews() {}

  /** A small picture of a series. */
  public static String sparkline(List<Long> series) {
    long least = series.stream().mapToLong(Long::longValue).min().orElse(0);
    long most = series.stream().mapToLong(Long::longValue).max().orElse(0);
    StringBuilder line = new StringBuilder();
    for (long value : series) {
      int bar = most == least ? 0 : (int) Math.round((value - least) * 7.0 / (most - least));
      line.append(BARS.charAt(bar));
    }
    return line.toString();
  }

  /** A bar for a share of the most, 0 to 1. */
  public static char bar(double share) {
    return BARS.charAt((int) Math.round(Math.max(0, Math.min(1, share)) * 7));
  }

  public static View view(GrowthAnswer answer, Format format) {
    View view = new View();
    view.heading(
        switch (answer.verdict()) {
          case "growth" ->
              answer.snapshots().size() == 2
                  ? "It grew between the two snapshots"
                  : answer.findings().size() == 1
                      ? "Something grows steadily"
                      : answer.findings().size() + " places grow steadily";
          case "none" -> "No steady growth";
          default -> unclear(answer);
        });
    boolean watched = answer.snapshots().stream().map(SnapshotSummary::file).distinct().count() < 2;
    if (watched) {
      view.line(answer.sentence());
    }
    view.line(
        answer.snapshots().size()
            + (watched ? " counts of those kept" : " snapshots")
            + actions(answer)
            + "; the heap: "
            + sizes(answer.heapBytes(), format)
            + "  "
            + sparkline(answer.heapBytes()));
    int number = 0;
    for (Finding finding : answer.findings()) {
      finding(view, ++number, finding, answer, format);
    }
    if (answer.findings().isEmpty()) {
      view.line("Nothing piles up from snapshot to snapshot.");
    }
    series(view, "Collections that grew", "entries", answer.collections());
    series(view, "Elements that are in no page any more", "elements", answer.detached());
    series(view, "Event listeners that became more", "listeners", answer.listeners());
    series(view, "What the page counts itself", "count", answer.counters());
    adders(view, answer);
    setAside(view, answer, format);
    if (!answer.ownCode().isEmpty()) {
      view.line(answer.ownCode());
    }
    // .NET's event streams name no fields
    if (answer.findings().stream().anyMatch(finding -> finding.heldBy().startsWith("a field of"))) {
      view.line(
          "An event stream does not name fields; a dump of the same process does: `lipsanon capture"
              + " --dump`, then `lipsanon why`.");
    }
    next(view, answer);
    return view.main(main(answer));
  }

  private static String unclear(GrowthAnswer answer) {
    if (answer.snapshots().size() == 2) {
      return "It grew, but two snapshots show no trend";
    }
    return answer.findings().isEmpty()
        ? "No trend can be told yet"
        : "It grows, but is not sure to go on";
  }

  /** The findings as rows, for programs. */
  private static Table main(GrowthAnswer answer) {
    Table table =
        new Table()
            .text("what")
            .text("heldBy")
            .number("count")
            .number("grownCount")
            .number("grownBytes")
            .number("countPerAction")
            .number("bytesPerAction")
            .number("confidence")
            .number("freedShare")
            .text("root");
    for (Finding finding : answer.findings()) {
      long last = finding.counts().get(finding.counts().size() - 1);
      table.row(
          finding.what(),
          finding.heldBy(),
          last,
          last - finding.counts().get(0),
          finding.bytes().get(finding.bytes().size() - 1) - finding.bytes().get(0),
          plain(finding.countPerAction()),
          plain(finding.bytesPerAction()),
          plain(finding.confidence()),
          plain(finding.freedShare()),
          finding.root());
    }
    return table;
  }

  private static String plain(double value) {
    return String.format(java.util.Locale.ROOT, "%.4f", value);
  }

  private static String actions(GrowthAnswer answer) {
    List<Integer> between = answer.actionsBetween();
    if (answer.actions() == 0) {
      return "";
    }
    if (between.stream().distinct().count() == 1) {
      return ", " + answer.actions() + " actions between each two";
    }
    return ", with "
        + String.join(", ", between.stream().map(String::valueOf).toList())
        + " actions between them";
  }

  private static void finding(
      View view, int number, Finding finding, GrowthAnswer answer, Format format) {
    view.heading(number + ". " + finding.sentence());
    Table table = new Table().text("").longText(" ");
    table.row("count", counts(finding.counts()) + "  " + sparkline(finding.counts()));
    table.row(
        finding.heldBy().isEmpty() ? "own size" : "retained",
        sizes(finding.bytes(), format) + "  " + sparkline(finding.bytes()));
    if (answer.actions() > 0) {
      String each = format.size(Math.round(finding.bytesPerAction()));
      table.row(
          "an action",
          String.format(java.util.Locale.ROOT, "%.2f objects, %s", finding.countPerAction(), each));
    }
    if (!finding.heldBy().isEmpty()) {
      table.row("held by", finding.heldBy());
    }
    for (GrowthAnswer.Origin origin : answer.allocatedIn()) {
      if (origin.what().equals(finding.what())) {
        table.row("allocated in", origin.place());
      }
    }
    if (!finding.inside().isEmpty() && finding.holders().size() < 2) {
      table.row("inside it", inside(finding.inside()));
    }
    clearing(table, finding, format);
    if (!finding.containerId().isEmpty()) {
      table.row("piles up in", finding.container() + " " + finding.containerId());
    }
    view.table(table);
    view.line(
        "Sure to "
            + Math.round(finding.confidence() * 100)
            + " %: "
            + String.join("; ", finding.reasons())
            + ".");
    if (number == 1 && !finding.steps().isEmpty()) {
      view.line("The path to one of them:");
      view.table(steps(finding.steps()));
    }
  }

  private static String inside(List<String> places) {
    int most = 4;
    return String.join(" > ", places.subList(0, Math.min(most, places.size())))
        + (places.size() > most ? " > …" : "");
  }

  /** What the clearing of each place frees; of several that free nothing alone once for all. */
  private static void clearing(Table table, Finding finding, Format format) {
    List<Finding.Holder> holders = finding.holders();
    if (holders.size() == 1) {
      table.row("clearing it", frees(finding, holders.get(0), format));
      return;
    }
    String name = "clearing";
    for (Finding.Holder holder : holders) {
      if (holder.freesCount() > 0 && !holder.id().isEmpty()) {
        table.row(name, holder.place() + " alone " + frees(finding, holder, format));
        name = "";
      }
    }
    if (holders.stream().anyMatch(holder -> holder.place().startsWith(Threads.ANY_RUNNING))) {
      table.row(name, "they go only when each of the threads ends");
    } else if (!holders.isEmpty()
        && holders.stream().anyMatch(holder -> holder.freesCount() == 0)) {
      boolean all = holders.stream().allMatch(holder -> holder.freesCount() == 0);
      table.row(
          name,
          (all ? "one of them alone" : "each of the others alone")
              + " frees nothing: the others hold them too");
    }
  }

  private static String frees(Finding finding, Finding.Holder holder, Format format) {
    long all = finding.counts().get(finding.counts().size() - 1);
    boolean variable =
        holder.place().matches("(a |thread )?static variable .*|local variable .*in .*");
    if (holder.place().startsWith(Loaders.LOADER)) {
      return "they go only with the loader: make each class once, and keep it";
    }
    if (holder.id().isEmpty() && !variable) {
      return "they go only when each of them ends";
    }
    if (holder.freesCount() == 0) {
      return "they go when they are taken out of it";
    }
    boolean single = finding.holders().size() == 1;
    double share =
        single
            ? finding.freedShare()
            : Math.min(1, holder.freesCount() / (double) Math.max(1, all));
    return "frees "
        + (single && share >= 1 ? "all of them" : Format.percent(share) + " of them")
        + ", "
        + format.size(holder.freesBytes())
        + " in all";
  }

  /** Where a path begins: at a root, or at what lasts as long as its code is loaded. */
  public static String begin(Step step) {
    boolean anchor = step.via().matches("(static |variable |local variable).*");
    return anchor ? step.via() : "root: " + step.via();
  }

  public static Table steps(List<Step> steps) {
    Table table = new Table().longText("reference").longText("object").text("id");
    int skipped = Math.max(0, steps.size() - STEPS);
    int at = 0;
    for (Step step : steps) {
      at++;
      if (skipped > 0 && at > STEPS / 2 && at <= STEPS / 2 + skipped) {
        if (at == STEPS / 2 + 1) {
          table.row("… " + skipped + " more steps", "", "");
        }
        continue;
      }
      String label = step.label().isEmpty() ? "" : " " + step.label();
      table.row(
          at == 1 ? begin(step) : step.via(),
          (step.type().equals("java.lang.Class") ? step.label() : step.type() + label)
              + (step.repeats() > 1 ? " (× " + Format.count(step.repeats()) + " in a chain)" : ""),
          step.id());
    }
    return table;
  }

  private static void series(View view, String title, String counted, List<Series> rows) {
    if (rows.isEmpty()) {
      return;
    }
    view.heading(title);
    boolean held = rows.stream().anyMatch(row -> !row.heldBy().isEmpty());
    Table table = new Table().longText("what").text(counted).text("");
    if (held) {
      table.text("id").longText("held by");
    }
    for (Series row : rows) {
      List<Object> cells =
          new ArrayList<>(List.of(row.what(), counts(row.counts()), sparkline(row.counts())));
      if (held) {
        cells.add(row.id());
        cells.add(row.heldBy());
      }
      table.row(cells.toArray());
    }
    view.table(table);
  }

  private static void adders(View view, GrowthAnswer answer) {
    if (answer.adders().isEmpty()) {
      return;
    }
    view.heading("Who adds to it, in one action");
    Table table = new Table().number("times").longText("your own code").longText("called by");
    for (GrowthAnswer.Adder adder : answer.adders()) {
      int at = adder.frames().indexOf(adder.place());
      List<String> above = adder.frames().subList(at + 1, adder.frames().size());
      table.row(adder.count(), adder.place(), above.isEmpty() ? "" : above.get(0));
    }
    view.table(table);
  }

  private static void setAside(View view, GrowthAnswer answer, Format format) {
    if (answer.setAside().isEmpty()) {
      return;
    }
    view.heading("Looked at and set aside");
    Table table = new Table().longText("what").longText("held by").text("retained").longText("why");
    for (GrowthAnswer.SetAside aside : answer.setAside()) {
      table.row(
          aside.what(),
          aside.heldBy(),
          sparkline(aside.bytes()) + " " + format.size(aside.bytes().get(aside.bytes().size() - 1)),
          aside.why());
    }
    view.table(table);
  }

  private static void next(View view, GrowthAnswer answer) {
    String last = Answering.quote(answer.snapshots().get(answer.snapshots().size() - 1).file());
    if (answer.findings().stream().anyMatch(finding -> finding.heldBy().isEmpty())) {
      view.next(
          "lipsanon capture TARGET", "a whole snapshot: `lipsanon why FILE TYPE` names the holder");
      return;
    }
    if (last.endsWith(".jsonl")) {
      return;
    }
    if (answer.findings().isEmpty()) {
      view.next("lipsanon survey " + last, "a look at what is there, all the same");
      return;
    }
    Finding first = answer.findings().get(0);
    if (!first.steps().isEmpty()) {
      String id = first.steps().get(first.steps().size() - 1).id();
      view.next("lipsanon show " + last + " " + id, "one of them: fields, contents, references");
    }
    if (!first.containerId().isEmpty()) {
      view.next(
          "lipsanon keepers " + last + " --under " + first.containerId(), "all that is in there");
    }
    view.next(
        "lipsanon why " + last + " " + Answering.quote(first.what()), "how all of these are kept");
  }

  private static String sizes(List<Long> bytes, Format format) {
    return String.join(" → ", bytes.stream().map(format::size).toList());
  }

  private static String counts(List<Long> counts) {
    return String.join(" → ", counts.stream().map(Format::count).toList());
  }
}
