package lipsanon.cli.command.look;

import lipsanon.cli.command.Answering;
import lipsanon.cli.term.Bars;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.question.GroupsAnswer;

/** The heap in a few parts, with bars. */
final class GroupViews {
  private static final int BAR = 24;

  private GroupViews() {}

  static View of(GroupsAnswer answer, Format format) {
    View view = new View();
    boolean keepers = answer.of().equals("keepers");
    view.heading(
        "The heap of "
            + format.size(answer.snapshot().retainedBytes())
            + " by "
            + (answer.by().equals("root") ? "kind of root" : answer.by())
            + (keepers ? " of the topmost object that keeps it" : ""));
    Table table =
        new Table()
            .number("bytes")
            .number("share")
            .text("")
            .number(keepers ? "keepers" : "objects")
            .longText(answer.by())
            .longText(keepers ? "largest" : "mostly")
            .text("id");
    double most = answer.groups().isEmpty() ? 1 : answer.groups().get(0).share();
    for (GroupsAnswer.Row row : answer.groups()) {
      table.row(
          format.cell(row.bytes()),
          Format.share(row.share()),
          new Table.Cell(Bars.of(row.share() / Math.max(1e-12, most), BAR), ""),
          row.count(),
          row.group(),
          row.largestType(),
          row.example());
    }
    view.table(table);
    if (answer.otherGroups() > 0) {
      view.line(
          "And "
              + Format.count(answer.otherGroups())
              + " more, "
              + format.size(answer.otherBytes())
              + " in "
              + Format.count(answer.otherCount())
              + (keepers ? " keepers." : " objects."));
    }
    String file = Answering.quote(answer.snapshot().file());
    if (!answer.groups().isEmpty()) {
      GroupsAnswer.Row first = answer.groups().get(0);
      if (keepers) {
        view.next(
            "lipsanon keepers " + file + " --under " + first.example(),
            "what the largest of the first row keeps");
      } else {
        view.next(
            "lipsanon refs " + file + " " + Answering.quote(first.largestType()) + " --follow",
            "who holds the largest type of the first row");
      }
    }
    return view;
  }
}
