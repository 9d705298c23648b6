package lipsanon.cli.command;

import java.nio.file.Path;
import lipsanon.analysis.ObjectRow;
import lipsanon.analysis.Selections;
import lipsanon.analysis.Step;
import lipsanon.analysis.WhyAnswer;
import lipsanon.analysis.WhyQuestion;
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
    name = "why",
    description =
        "Why is this still alive? The nearest path from a root, for one object or a type.")
final class WhyCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Parameters(
      index = "1",
      paramLabel = "ID|TYPE",
      description = "An object's identifier, or a type: its name or a part of it.")
  private String subject;

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "3",
      description = "Paths at most (default: 3).")
  private int limit;

  @Option(
      names = "--whole",
      description = "Paths from the root on, what keeps your own code loaded included.")
  private boolean whole;

  WhyCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      WhyAnswer answer =
          Selections.isIdentifier(subject)
              ? WhyQuestion.ofObject(snapshot, object(snapshot, subject), whole)
              : WhyQuestion.ofObjects(
                  snapshot, subject, objectsOf(snapshot, subject), limit(limit), whole);
      print("why", answer, () -> view(snapshot, answer));
    }
    return ExitCodes.FINE;
  }

  private View view(Snapshot snapshot, WhyAnswer answer) {
    View view = new View();
    warnings(view, snapshot);
    boolean one = Selections.isIdentifier(subject);
    if (answer.paths().isEmpty()) {
      return view.heading(answer.subject() + " is not retained")
          .line(
              "Nothing that the snapshot records keeps it: it is garbage, held weakly, or held by"
                  + " the runtime itself.");
    }
    if (!one) {
      view.line(sample(answer));
    }
    for (WhyAnswer.Path path : answer.paths()) {
      Step last = path.steps().get(path.steps().size() - 1);
      view.heading(
          one
              ? last.type() + " " + last.id() + " is kept by this path"
              : Format.count(path.count())
                  + " ("
                  + Format.percent(path.share())
                  + ") are kept like this one, "
                  + last.id());
      if (!path.strength().equals("strong")) {
        view.line("It is kept only by references of strength " + path.strength() + ".");
      }
      view.table(steps(path.steps()));
      ShowCommand.origin(view, path.origin());
    }
    if (answer.otherPaths() > 0) {
      view.line(answer.otherPaths() + " further paths lead to the others; --limit shows more.");
    }
    dominators(view, answer);
    Step last = answer.paths().get(0).steps().get(answer.paths().get(0).steps().size() - 1);
    String name = file(answer.snapshot());
    return view.next(
        "lipsanon show " + name + " " + last.id(), "this object's fields and references");
  }

  private static String sample(WhyAnswer answer) {
    String text = Format.count(answer.objects()) + " objects fit " + answer.subject();
    if (answer.looked() < answer.objects()) {
      text += "; " + Format.count(answer.looked()) + " evenly spaced ones were followed";
    }
    if (answer.unretained() > 0) {
      text += "; " + Format.count(answer.unretained()) + " of these nothing keeps";
    }
    return text + ".";
  }

  private void dominators(View view, WhyAnswer answer) {
    if (answer.dominators().isEmpty()) {
      return;
    }
    view.heading("Every path to it runs through each of these: removing one frees it");
    Table table = new Table().number("retained").text("id").longText("object").longText("held by");
    for (ObjectRow row : answer.dominators()) {
      table.row(
          format().cell(row.retainedBytes()), row.id(), KeepersCommand.name(row), row.heldBy());
    }
    view.table(table);
  }

  private Table steps(java.util.List<Step> steps) {
    Table table =
        new Table().longText("reference").longText("object").text("id").number("retained");
    String indent = "";
    for (Step step : steps) {
      String object =
          step.type().equals("java.lang.Class")
              ? step.label()
              : step.type() + (step.label().isEmpty() ? "" : " " + step.label());
      table.row(
          indent + (indent.isEmpty() ? GrowthViews.begin(step) : step.via()),
          object
              + (step.repeats() > 1 ? " (× " + Format.count(step.repeats()) + " in a chain)" : ""),
          step.id(),
          format().cell(step.retainedBytes()));
      indent = indent.length() >= 20 ? indent : indent + " ";
    }
    return table;
  }
}
