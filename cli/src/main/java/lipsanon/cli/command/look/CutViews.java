package lipsanon.cli.command.look;

import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.question.CutAnswer;

/** What clearing references frees. */
final class CutViews {
  private CutViews() {}

  static View of(CutAnswer answer, String file, Format format) {
    View view = new View();
    boolean set = answer.count() > 0 || !answer.selection().isEmpty();
    if (answer.cuts().isEmpty()) {
      return view.heading(
              "No few references free these " + Format.count(answer.count()) + " objects")
          .line(
              answer.heldBy().isEmpty()
                  ? "They are roots themselves, nothing keeps them, or they are held in too many"
                      + " ways."
                  : "What holds them: " + answer.heldBy() + ".")
          .next(
              "lipsanon refs " + Answering.quote(file) + " " + Answering.quote(answer.selection()),
              "all ways in which they are held");
    }
    CutAnswer.Row first = answer.cuts().get(0);
    view.heading(
        "Clearing "
            + String.join(" and ", first.places())
            + " frees "
            + format.size(first.freesBytes())
            + " in "
            + Format.count(first.freesCount())
            + " objects"
            + (set
                ? ", "
                    + Format.count(first.freesOfSet())
                    + " of the "
                    + Format.count(answer.count())
                    + " asked about"
                : ""));
    if (first.freesCount() == 0) {
      view.line("Nothing goes: everything behind it is reached in other ways as well.");
    } else {
      view.line("Most of it: " + String.join(", ", first.freesTypes()) + ".");
    }
    if (answer.cuts().size() > 1) {
      Table table =
          new Table()
              .number("of these")
              .number("frees")
              .number("objects")
              .longText("cleared")
              .text("id");
      for (CutAnswer.Row row : answer.cuts().subList(1, answer.cuts().size())) {
        table.row(
            row.freesOfSet(),
            format.cell(row.freesBytes()),
            row.freesCount(),
            String.join(" and ", row.places()),
            row.from());
      }
      view.heading("Other references on the way, each cleared alone").table(table);
    }
    if (!first.from().isEmpty()) {
      view.next(
          "lipsanon show " + Answering.quote(file) + " " + first.from(),
          "the object that has this reference");
    }
    return view;
  }
}
