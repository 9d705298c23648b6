package lipsanon.cli.command.look;

import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.question.RefsAnswer;
import lipsanon.question.SetKeepersAnswer;

/** Who must go so that a set goes, as a tree. */
final class SetKeepersViews {
  private SetKeepersViews() {}

  static View of(SetKeepersAnswer answer, Format format) {
    View view = new View();
    view.heading(
        "Who must go so that these go: "
            + Format.objects(answer.count())
            + ", "
            + answer.selection()
            + ", retaining "
            + format.size(answer.retainedBytes()));
    boolean down = answer.direction().equals("down");
    view.line(
        (down
                ? "From the roots down. Each row: if these objects went, so many of the set would."
                : "From the set up. Each row keeps what the row above it, one step left, is.")
            + (answer.unretained() > 0
                ? " Nothing keeps " + Format.count(answer.unretained()) + " of them even now."
                : ""));
    Table table =
        new Table()
            .number("frees")
            .number("share")
            .number("retained")
            .number("objects")
            .longText(down ? "keeper" : "kept by")
            .longText("how it is held")
            .text("id");
    for (SetKeepersAnswer.Row row : answer.keepers()) {
      table.row(
          row.frees(),
          Format.share(row.share()),
          format.cell(row.retainedBytes()),
          row.objects(),
          Table.Cell.below(
              row.level(), name(row) + (row.members() == row.objects() ? " (the set)" : "")),
          row.place(),
          row.id());
    }
    view.table(table);
    if (answer.otherKeepers() > 0) {
      view.line(
          "And " + Format.count(answer.otherKeepers()) + " smaller branches; --limit shows more.");
    }
    sides(view, answer);
    String file = Answering.quote(answer.snapshot().file());
    String set = Answering.quote(answer.selection());
    view.next("lipsanon why " + file + " " + set + " --cuts", "the few references to clear");
    return view.next(
        "lipsanon keepers " + file + " " + set + (down ? " --up" : ""),
        down ? "the same from the set up" : "the same from the roots down");
  }

  private static String name(SetKeepersAnswer.Row row) {
    if (row.type().equals("java.lang.Class") && !row.label().isEmpty()) {
      return row.label();
    }
    return row.type() + (row.label().isEmpty() ? "" : " " + row.label());
  }

  private static void sides(View view, SetKeepersAnswer answer) {
    if (answer.heldFromSeveralSides() == 0) {
      return;
    }
    view.heading(
        Format.count(answer.heldFromSeveralSides())
            + " are held from several sides: no single object keeps them, all of these must let go");
    Table table =
        new Table().number("held so").number("holders").longText("by").longText("type of holder");
    for (RefsAnswer.Row row : answer.sides()) {
      table.row(row.members(), row.others(), row.place(), row.type());
    }
    view.table(table);
  }
}
