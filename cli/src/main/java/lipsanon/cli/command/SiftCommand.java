package lipsanon.cli.command;

import java.nio.file.Path;
import lipsanon.analysis.ObjectRow;
import lipsanon.analysis.SiftAnswer;
import lipsanon.analysis.SiftQuestion;
import lipsanon.array.IntList;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "sift",
    description = "List the objects of a type, the largest first, page by page; or only new ones.")
final class SiftCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "The snapshot.")
  private Path file;

  @Parameters(
      index = "1",
      paramLabel = "TYPE",
      description = "A type's name, a part of it, or a pattern with * and ?.")
  private String type;

  @Option(
      names = "--new-since",
      paramLabel = "EARLIER",
      description =
          "Only objects that this earlier snapshot of the same run does not have. Where"
              + " identifiers are stable only (V8).")
  private Path earlier;

  @Option(names = "--by-shallow", description = "Sort by the objects' own sizes.")
  private boolean byShallow;

  @Option(
      names = "--skip",
      paramLabel = "N",
      defaultValue = "0",
      description = "Leave out the first N: the next page.")
  private int skip;

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "20",
      description = "Rows at most (default: 20).")
  private int limit;

  SiftCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (skip < 0) {
      throw new UsageException("--skip takes a whole number from 0 on");
    }
    try (Snapshot snapshot = open(file)) {
      IntList nodes = objectsOf(snapshot, type);
      String selection = type;
      if (earlier != null) {
        nodes = newOnes(snapshot, nodes);
        selection += " new since " + earlier;
      }
      SiftAnswer answer =
          SiftQuestion.ask(
              snapshot, nodes, new SiftQuestion.Options(selection, byShallow, skip, limit(limit)));
      print("sift", answer, () -> view(answer));
    }
    return ExitCodes.FINE;
  }

  private IntList newOnes(Snapshot snapshot, IntList nodes) throws Exception {
    try (Snapshot before = open(earlier)) {
      IntList added = SiftQuestion.newSince(before, snapshot, nodes);
      if (added == null) {
        throw new UsageException(
            "objects of "
                + earlier
                + " and "
                + file
                + " cannot be told to be the same: identifiers stay only within one rehearsal, or"
                + " in snapshots that a V8 program writes itself");
      }
      return added;
    }
  }

  private View view(SiftAnswer answer) {
    Format format = format();
    View view = new View();
    view.heading(
        Format.count(answer.count())
            + " objects: "
            + answer.selection()
            + ", "
            + format.size(answer.shallowBytes())
            + " shallow");
    if (answer.objects().isEmpty()) {
      return view.line(answer.count() == 0 ? "None." : "No more: that was the last page.");
    }
    Table table =
        new Table()
            .number("retained")
            .number("shallow")
            .text("id")
            .longText("object")
            .longText("held by");
    for (ObjectRow row : answer.objects()) {
      table.row(
          format.cell(row.retainedBytes()),
          format.cell(row.shallowBytes()),
          row.id(),
          KeepersCommand.name(row),
          row.heldBy());
    }
    view.table(table);
    long next = answer.skipped() + answer.objects().size();
    String name = file(answer.snapshot());
    if (next < answer.count()) {
      view.next(
          "lipsanon sift "
              + name
              + " "
              + quote(type)
              + (earlier == null ? "" : " --new-since " + quote(earlier.toString()))
              + " --skip "
              + next,
          "the next page");
    }
    return view.next(
        "lipsanon why " + name + " " + answer.objects().get(0).id(), "what keeps the first alive");
  }
}
