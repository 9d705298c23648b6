package lipsanon.cli.command.fleet;

import java.util.Locale;
import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.fleet.FleetAnswer;
import lipsanon.fleet.LocalFleet;

/** Tells what a fleet's tables say. */
final class FleetViews {
  private FleetViews() {}

  /**
   * The view.
   *
   * @param run what was done before, or null
   */
  static View of(FleetAnswer answer, LocalFleet.Result run, Format format) {
    View view = new View();
    view.line(answer.sentence());
    view.line(
        plural(answer.snapshots(), "snapshot")
            + " of "
            + plural(answer.hosts(), "host")
            + ", "
            + plural(answer.services(), "service")
            + (answer.builds() > 0 ? ", " + plural(answer.builds(), "build") : "")
            + (answer.failed() > 0
                ? "; " + Format.count(answer.failed()) + " could not be looked at (below)"
                : ""));
    if (answer.openFirst() != null) {
      view.line("Open first: " + answer.openFirst().file());
      view.line("  " + answer.openFirst().why());
    }
    growing(view, answer, format);
    everywhere(view, answer, format);
    outliers(view, answer, format);
    failures(view, answer);
    cost(view, answer, run, format);
    next(view, answer);
    return view;
  }

  /** What a run on a cluster did whose tables are not on this machine. */
  static View ofRun(LocalFleet.Result run, String tables) {
    return new View()
        .line(
            plural(run.done(), "snapshot")
                + " looked at, "
                + Format.count(run.failed())
                + " failed, "
                + Format.count(run.before())
                + " done before. The tables are at "
                + tables
                + ".")
        .next(
            "lipsanon fleet --tables " + Answering.quote(tables) + " --copy-to lipsanon-fleet",
            "copy them here and read them");
  }

  private static String plural(long count, String what) {
    return Format.count(count) + " " + what + (count == 1 ? "" : "s");
  }

  private static void growing(View view, FleetAnswer answer, Format format) {
    if (answer.growing().isEmpty()) {
      return;
    }
    view.heading("What grows");
    Table table =
        new Table()
            .text("hosts")
            .text("since build")
            .number("a snapshot")
            .number("count")
            .number("largest")
            .longText("what")
            .longText("held by")
            .text("service");
    for (FleetAnswer.Growing row : answer.growing()) {
      table.row(
          Format.count(row.hostsGrowing()) + " of " + Format.count(row.hostsWatched()),
          row.since().isEmpty() ? "" : row.since() + (row.newInSince() ? "" : " or before"),
          format.cell(Math.round(row.bytesPerSnapshot())),
          String.format(Locale.ROOT, "+%,.0f", row.countPerSnapshot()),
          format.cell(row.largestBytes()),
          row.what(),
          row.heldBy(),
          row.service());
      table.bar(Math.round(row.bytesPerSnapshot()));
    }
    view.table(table);
    view.line(
        "hosts: those on which it rises steadily, of those with three or more snapshots of one"
            + " build. A snapshot: what comes with each, the median.");
  }

  private static void everywhere(View view, FleetAnswer answer, Format format) {
    if (answer.everywhere().isEmpty()) {
      return;
    }
    view.heading("What retains a tenth of the heap or more on a host, the median");
    Table table =
        new Table()
            .text("hosts")
            .number("retained")
            .number("share")
            .number("count")
            .longText("what")
            .longText("held by")
            .text("service");
    for (FleetAnswer.Everywhere row : answer.everywhere()) {
      table.row(
          Format.count(row.hostsWith()) + " of " + Format.count(row.hosts()),
          format.cell(row.medianBytes()),
          Format.share(row.medianShare()),
          row.medianCount(),
          row.what(),
          row.heldBy(),
          row.service());
    }
    view.table(table);
  }

  private static void outliers(View view, FleetAnswer answer, Format format) {
    if (answer.outliers().isEmpty()) {
      return;
    }
    view.heading("Hosts that retain twice the usual of their service, or more");
    Table table =
        new Table()
            .number("retained")
            .number("usual")
            .number("times")
            .text("host")
            .text("build")
            .text("service")
            .longText("snapshot");
    for (FleetAnswer.Outlier row : answer.outliers()) {
      table.row(
          format.cell(row.retainedBytes()),
          format.cell(row.medianBytes()),
          String.format(Locale.ROOT, "%.1f", row.times()),
          row.host(),
          row.build(),
          row.service(),
          row.file());
    }
    view.table(table);
  }

  private static void failures(View view, FleetAnswer answer) {
    if (answer.failures().isEmpty()) {
      return;
    }
    view.heading("Could not be looked at: " + Format.count(answer.failed()));
    Table table = new Table().longText("snapshot").longText("why");
    for (FleetAnswer.Failure row : answer.failures()) {
      table.row(row.file(), row.problem());
    }
    view.table(table);
  }

  private static void cost(View view, FleetAnswer answer, LocalFleet.Result run, Format format) {
    long each = answer.snapshots() == 0 ? 0 : answer.processorMillis() / answer.snapshots();
    StringBuilder line = new StringBuilder("Cost: ");
    line.append(
        String.format(
            Locale.ROOT,
            "%.1f s of processor time a snapshot, %s of rows from %s of snapshots",
            each / 1000.0,
            format.size(answer.rowBytes()),
            format.size(answer.fileBytes())));
    if (run != null) {
      line.append("; this time ").append(plural(run.done() + run.failed(), "snapshot"));
      if (run.before() > 0) {
        line.append(", ").append(Format.count(run.before())).append(" done before");
      }
    }
    view.line(line.append(".").toString());
  }

  private static void next(View view, FleetAnswer answer) {
    if (answer.openFirst() != null && !lipsanon.fleet.Inputs.isAddress(answer.openFirst().file())) {
      view.next(
          "lipsanon survey " + Answering.quote(answer.openFirst().file()), "the one to open first");
    }
    view.next(
        "lipsanon sql "
            + Answering.quote(answer.folder())
            + " \"select service, host, taken, retained_bytes from snapshots order by taken\"",
        "ask the tables: snapshots, types, keepers, holders, findings");
  }
}
