package lipsanon.cli.command;

import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.question.RefsAnswer;

/** References merged over a set, as people read them. */
public final class RefsViews {
  private RefsViews() {}

  /** The whole answer. */
  public static View of(RefsAnswer answer, String file) {
    View view = new View();
    boolean in = answer.direction().equals("in");
    view.heading(Format.objects(answer.count()) + ": " + answer.selection());
    for (RefsAnswer.Level level : answer.levels()) {
      level(view, level, in, answer.levels().size() > 1);
    }
    if (!answer.ended().isEmpty()) {
      view.line("End: " + answer.ended() + ".");
    }
    RefsAnswer.Row first = first(answer);
    if (first != null && answer.levels().size() == 1) {
      view.next(
          "lipsanon refs "
              + Answering.quote(file)
              + " "
              + Answering.quote(answer.selection())
              + (in ? "" : " --out")
              + " --follow",
          in ? "further up, to something of your own" : "further down");
    }
    if (first != null) {
      String begin = "lipsanon sift " + Answering.quote(file) + " ";
      view.next(
          begin + Answering.quote(first.membersSelection()),
          "the " + Format.count(first.members()) + " that are " + said(in, first));
      if (first.notMembers() > 0) {
        view.next(
            begin + Answering.quote(first.notMembersSelection()),
            "the " + Format.count(first.notMembers()) + " that are not");
      }
      if (!first.othersSelection().isEmpty()) {
        view.next(
            begin + Answering.quote(first.othersSelection()),
            in ? "the holders themselves" : "what they refer to");
      }
    }
    return view;
  }

  private static String said(boolean in, RefsAnswer.Row row) {
    return in ? "held by " + row.place() : "referring by " + row.place();
  }

  private static RefsAnswer.Row first(RefsAnswer answer) {
    if (answer.levels().isEmpty() || answer.levels().get(0).rows().isEmpty()) {
      return null;
    }
    return answer.levels().get(0).rows().get(0);
  }

  private static void level(View view, RefsAnswer.Level level, boolean in, boolean several) {
    if (several) {
      view.heading(
          "Level " + level.depth() + ": " + Format.count(level.count()) + " × " + level.what());
    }
    StringBuilder said = new StringBuilder();
    said.append(Format.count(level.reached()))
        .append(in ? " are held" : " refer to something")
        .append(in ? " by " : ", to ")
        .append(Format.objects(level.others()));
    long not = level.count() - level.reached();
    if (not > 0) {
      said.append("; ")
          .append(Format.count(not))
          .append(in ? " by nothing (garbage, or held weakly)" : " refer to nothing");
    }
    if (level.fromWithin() > 0) {
      said.append("; ")
          .append(Format.count(level.fromWithin()))
          .append(" are also linked within (lists, trees, back references), which is folded below");
    }
    view.line(said.append('.').toString());
    if (level.rows().isEmpty()) {
      return;
    }
    Table table =
        new Table()
            .number(in ? "held so" : "refer so")
            .number("not")
            .number(in ? "holders" : "targets")
            .longText(in ? "by" : "through")
            .longText(in ? "type of holder" : "type");
    for (RefsAnswer.Row row : level.rows()) {
      table.row(
          row.members(),
          row.notMembers(),
          row.others(),
          row.place() + (row.within() ? " (within)" : row.own() ? " (yours)" : ""),
          row.type());
    }
    view.table(table);
    if (level.otherRows() > 0) {
      view.line("And " + level.otherRows() + " more ways; --limit shows more.");
    }
  }
}
