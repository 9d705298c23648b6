package lipsanon.cli.command.check;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import lipsanon.change.Budget;
import lipsanon.change.BudgetAnswer;
import lipsanon.change.BudgetQuestion;
import lipsanon.change.GrowthAnswer;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.SeriesFiles;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.change.GrowthCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selections;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

/** Budgets of heaps, for builds. */
@Command(
    name = "gate",
    description =
        "Does this heap, or series of heaps, keep to its budgets? Exit code 1 if not: for builds.")
public final class GateCommand extends SnapshotCommand {
  @Parameters(
      index = "0",
      arity = "1..*",
      paramLabel = "SNAPSHOT",
      description =
          "A snapshot, a series in time order, or a folder of one (as rehearse leaves it).")
  private List<Path> files;

  @Option(
      names = "--budget",
      required = true,
      paramLabel = "FILE",
      description = "The budgets, as YAML (docs/builds.md).")
  private Path budgetFile;

  @Option(
      names = "--baseline",
      paramLabel = "FILE",
      description = "The answer of an earlier run as JSON: tells what became worse.")
  private Path baseline;

  @Option(
      names = "--junit",
      paramLabel = "FILE",
      description = "Write the result as JUnit XML too.")
  private Path junit;

  @Option(
      names = "--actions",
      paramLabel = "N[,N...]",
      hideParamSyntax = true,
      split = ",",
      description = "As for growth: the action was done N times between each two snapshots.")
  private List<Integer> actions = List.of();

  /** The command. */
  public GateCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    BudgetFile budgets = BudgetFile.read(budgetFile);
    Map<String, Long> earlier = baseline == null ? Map.of() : Baseline.read(baseline);
    List<Path> series = SeriesFiles.of(files);
    List<Integer> between = actions.isEmpty() ? budgets.actions() : actions;
    boolean grows =
        budgets.budgets().stream().anyMatch(one -> one.measure() == Budget.Measure.GROWTH);
    if (grows && series.size() < 2) {
      throw new UsageException(
          budgetFile + ": a budget for growth needs a series of two or more snapshots");
    }
    GrowthAnswer growth = grows ? GrowthCommand.ask(this, series, between) : null;
    Path last =
        growth == null
            ? series.get(series.size() - 1)
            : Path.of(growth.snapshots().get(growth.snapshots().size() - 1).file());
    BudgetAnswer answer;
    try (Snapshot snapshot = open(last)) {
      TypeFilter mine = new TypeFilter(null, minePackages(), false);
      answer =
          beside(
              BudgetQuestion.ask(
                  snapshot, growth, mine, text -> selected(snapshot, text), budgets.budgets()),
              earlier);
    }
    if (junit != null) {
      JUnitFile.write(junit, answer);
    }
    print("gate", answer, () -> view(answer));
    return answer.kept() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }

  /** A type that has no objects any more is what the budget wants, not an error. */
  private BitSet selected(Snapshot snapshot, String text) throws Exception {
    boolean name = text.matches("[\\w.$\\[\\]]+");
    return name && Selections.types(snapshot, text).isEmpty()
        ? new BitSet()
        : select(snapshot, text);
  }

  private static BudgetAnswer beside(BudgetAnswer answer, Map<String, Long> earlier) {
    List<BudgetAnswer.Row> rows = new ArrayList<>();
    for (BudgetAnswer.Row row : answer.budgets()) {
      Long before = earlier.get(row.name());
      rows.add(before == null ? row : row.beside(before));
    }
    return new BudgetAnswer(answer.snapshot(), answer.kept(), answer.sentence(), rows);
  }

  private View view(BudgetAnswer answer) {
    Format format = format();
    View view = new View();
    view.heading(answer.sentence());
    boolean compared = answer.budgets().stream().anyMatch(row -> row.baseline() >= 0);
    Table table = new Table().text("").number("at most").number("found");
    if (compared) {
      table.number("before").text("change");
    }
    table.longText("budget");
    for (BudgetAnswer.Row row : answer.budgets()) {
      List<Object> cells = new ArrayList<>();
      cells.add(row.kept() ? "kept" : "EXCEEDED");
      cells.add(value(row, row.limit(), format));
      cells.add(value(row, row.value(), format));
      if (compared) {
        cells.add(row.baseline() < 0 ? "" : value(row, row.baseline(), format));
        cells.add(
            row.baseline() < 0
                ? "new"
                : row.worse() ? "worse" : row.value() < row.baseline() ? "better" : "same");
      }
      cells.add(row.name());
      table.row(cells.toArray());
    }
    view.table(table);
    for (BudgetAnswer.Row row : answer.budgets()) {
      if (!row.kept()) {
        view.heading(row.name());
        view.line(row.sentence());
        path(view, row.steps());
      }
    }
    for (BudgetAnswer.Row row : answer.budgets()) {
      if (!row.kept() && !row.selection().isEmpty()) {
        view.next(
            "lipsanon why " + file(answer.snapshot()) + " " + quote(row.selection()),
            "why these are alive");
      }
    }
    if (answer.budgets().stream().anyMatch(row -> !row.kept() && row.measure().equals("savings"))) {
      view.next("lipsanon savings " + file(answer.snapshot()), "where it is lost");
    }
    return view;
  }

  private static void path(View view, List<String> steps) {
    if (!steps.isEmpty()) {
      Table path = new Table().longText("path");
      for (int i = 0; i < steps.size(); i++) {
        path.row(Table.Cell.below(i, steps.get(i)));
      }
      view.table(path);
    }
  }

  private static Object value(BudgetAnswer.Row row, long value, Format format) {
    return row.measure().equals("count") ? value : format.cell(value);
  }
}
