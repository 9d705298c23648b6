package lipsanon.cli.command;

import java.nio.file.Path;
import lipsanon.analysis.KeepersAnswer;
import lipsanon.analysis.KeepersQuestion;
import lipsanon.analysis.ObjectRow;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "keepers",
    description = "Which objects retain most? One level of the dominator tree.")
final class KeepersCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--under",
      paramLabel = "ID",
      description = "The level below this object, in place of the top.")
  private String under;

  @Option(
      names = "--match",
      paramLabel = "NAME",
      description = "Only types whose name fits: a glob, or a part of the name.")
  private String match;

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "15",
      description = "Rows at most (default: 15).")
  private int limit;

  KeepersCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      int node = under == null ? -1 : object(snapshot, under);
      KeepersAnswer answer = KeepersQuestion.ask(snapshot, node, filter(match), limit(limit));
      print("keepers", answer, () -> view(snapshot, answer));
    }
    return ExitCodes.FINE;
  }

  private View view(Snapshot snapshot, KeepersAnswer answer) {
    Format format = format();
    View view = new View();
    warnings(view, snapshot);
    ObjectRow top = answer.under();
    view.heading(
        top == null
            ? "What keeps the heap of " + heap(answer.snapshot(), format)
            : "What "
                + name(top)
                + " "
                + top.id()
                + " keeps: "
                + format.size(top.retainedBytes())
                + " ("
                + Format.percent(top.share())
                + " of the heap)");
    view.line(
        Format.count(answer.children())
            + (answer.children() == 1 ? " object" : " objects")
            + (top == null ? " at the top of the dominator tree" : " directly below it")
            + ", retaining "
            + format.size(answer.childrenRetainedBytes())
            + "; each frees its retained size if it alone goes.");
    if (!answer.groups().isEmpty()) {
      Table groups =
          new Table()
              .number("count")
              .number("retained")
              .number("share")
              .longText("type")
              .text("largest");
      for (KeepersAnswer.GroupRow row : answer.groups()) {
        groups.row(
            row.count(),
            format.cell(row.retainedBytes()),
            Format.share(row.share()),
            row.type() + TypesCommand.loader(row.loader()),
            row.example());
      }
      if (top != null) {
        view.heading("By type").table(groups).heading("One by one");
      }
    }
    Table table =
        new Table()
            .number("retained")
            .number("share")
            .text("id")
            .longText("object")
            .longText("held by");
    for (ObjectRow row : answer.keepers()) {
      table.row(
          format.cell(row.retainedBytes()),
          Format.share(row.share()),
          row.id(),
          name(row),
          row.heldBy());
    }
    view.table(table);
    if (!answer.keepers().isEmpty()) {
      String first = answer.keepers().get(0).id();
      String name = file(answer.snapshot());
      view.next(
          "lipsanon keepers " + name + " --under " + first, "one level down from the largest");
      view.next("lipsanon why " + name + " " + first, "what keeps it alive");
      view.next("lipsanon show " + name + " " + first, "its fields and references");
    }
    return view;
  }

  static String name(ObjectRow row) {
    String type = row.type() + TypesCommand.loader(row.loader());
    if (row.label().isEmpty()) {
      return type;
    }
    return row.type().equals("java.lang.Class") ? row.label() : type + " " + row.label();
  }
}
