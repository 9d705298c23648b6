package lipsanon.cli.command;

import java.nio.file.Path;
import lipsanon.analysis.ObjectRow;
import lipsanon.analysis.SurveyAnswer;
import lipsanon.analysis.SurveyQuestion;
import lipsanon.analysis.TypeFilter;
import lipsanon.analysis.TypeRow;
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
    name = "survey",
    description = "A first look: how big, what kinds, who keeps most, what looks wrong.")
final class SurveyCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "7",
      description = "Rows at most in each list (default: 7).")
  private int limit;

  SurveyCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      TypeFilter mine = new TypeFilter(null, minePackages(), false);
      SurveyAnswer answer = SurveyQuestion.ask(snapshot, mine, limit(limit));
      print("survey", answer, () -> view(answer));
    }
    return ExitCodes.FINE;
  }

  private View view(SurveyAnswer answer) {
    Format format = format();
    View view = new View();
    view.heading(
        answer.snapshot().runtime()
            + " heap of "
            + heap(answer.snapshot(), format)
            + (answer.snapshot().capturedAt() == null
                ? ""
                : ", captured " + answer.snapshot().capturedAt()));
    answer.warnings().forEach(view::warning);
    view.line(
        "Besides, nothing keeps "
            + Format.count(answer.unretainedObjects())
            + " objects ("
            + format.size(answer.unretainedBytes())
            + "); soft references alone keep "
            + format.size(answer.totals().softBytes())
            + ", waiting finalizers "
            + format.size(answer.totals().finalizerBytes())
            + ".");
    FindingViews.add(view, answer.findings(), format);
    view.heading("Who keeps most");
    Table keepers =
        new Table()
            .number("retained")
            .number("share")
            .text("id")
            .longText("object")
            .longText("held by");
    for (ObjectRow row : answer.keepers()) {
      keepers.row(
          format.cell(row.retainedBytes()),
          Format.share(row.share()),
          row.id(),
          KeepersCommand.name(row),
          row.heldBy());
    }
    view.table(keepers);
    view.heading("Your own types, by what they retain at least");
    types(view, answer.types(), format, true);
    view.heading("Types with most bytes of their own");
    types(view, answer.libraryTypes(), format, false);
    layout(view, answer);
    view.line(
        "One snapshot cannot tell what grows: take another later, and give both to `lipsanon"
            + " growth`.");
    String name = file(answer.snapshot());
    if (!answer.keepers().isEmpty()) {
      String first = answer.keepers().get(0).id();
      view.next("lipsanon keepers " + name + " --under " + first, "what the largest keeper keeps");
    }
    if (!answer.types().isEmpty()) {
      String type =
          quote(
              answer.findings().isEmpty()
                  ? answer.types().get(0).type()
                  : answer.findings().get(0).what());
      view.next("lipsanon why " + name + " " + type, "why these objects are alive");
    }
    return view;
  }

  /** How the runtime lays out objects, where sizes follow from that and are not in the file. */
  private static void layout(View view, SurveyAnswer answer) {
    if (answer.layout().objectHeaderBytes() == 0) {
      return;
    }
    view.line(
        "Layout: object header "
            + answer.layout().objectHeaderBytes()
            + " bytes, array header "
            + answer.layout().arrayHeaderBytes()
            + ", reference "
            + answer.layout().referenceBytes()
            + ", alignment "
            + answer.layout().alignmentBytes()
            + (answer.estimatedTypes().isEmpty()
                ? "; every size is exact."
                : "; estimated: " + String.join(", ", answer.estimatedTypes()) + "."));
  }

  private static void types(
      View view, java.util.List<TypeRow> rows, Format format, boolean retained) {
    Table table = new Table().number("count").number("shallow");
    if (retained) {
      table.number("retained");
    }
    table.longText("type");
    for (TypeRow row : rows) {
      if (retained) {
        table.row(
            row.count(),
            format.cell(row.shallowBytes()),
            new Table.Cell(
                "≥ " + format.size(row.retainedBytes()), Long.toString(row.retainedBytes())),
            row.type());
      } else {
        table.row(row.count(), format.cell(row.shallowBytes()), row.type());
      }
    }
    view.table(table);
  }
}
