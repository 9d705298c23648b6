package lipsanon.cli.command.change;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.change.ProofAnswer;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "prove",
    description = "Is the growth found in one series of snapshots gone in another?")
public final class ProveCommand extends SnapshotCommand {
  @Parameters(
      arity = "1..*",
      paramLabel = "BEFORE",
      description = "Snapshots of the program before the fix, or a folder with them.")
  private List<Path> before;

  @Option(
      names = "--against",
      arity = "1..*",
      required = true,
      paramLabel = "AFTER",
      description = "Snapshots of the program after the fix, or a folder with them.")
  private List<Path> after;

  @Option(
      names = "--actions",
      paramLabel = "N",
      description = "The action was done N times between each two snapshots.")
  private int actions;

  @Option(
      names = "--actions-before",
      paramLabel = "N[,N...]",
      hideParamSyntax = true,
      split = ",",
      description = "The same for the snapshots before the fix, where it differs by interval.")
  private List<Integer> actionsBefore = List.of();

  @Option(
      names = "--actions-after",
      paramLabel = "N[,N...]",
      hideParamSyntax = true,
      split = ",",
      description = "The same for those after it.")
  private List<Integer> actionsAfter = List.of();

  /** The command. */
  public ProveCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    List<Integer> each = actions > 0 ? List.of(actions) : List.of();
    ProofAnswer answer =
        ProofAnswer.of(
            GrowthCommand.ask(this, before, actionsBefore.isEmpty() ? each : actionsBefore),
            GrowthCommand.ask(this, after, actionsAfter.isEmpty() ? each : actionsAfter));
    print("prove", answer, () -> view(answer, format()));
    return answer.proved() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
  }

  public static View view(ProofAnswer answer, Format format) {
    View view = new View();
    view.heading(answer.sentence());
    Table table =
        new Table()
            .text("state")
            .longText("held by")
            .longText("what")
            .number("grew before")
            .number("grows after");
    for (ProofAnswer.Comparison row : answer.comparisons()) {
      table.row(
          row.state(),
          row.heldBy(),
          row.what(),
          format.cell(row.growthBeforeBytes()),
          format.cell(row.growthAfterBytes()));
    }
    if (!answer.comparisons().isEmpty()) {
      view.table(table);
      view.line("Growth is over a whole series, from its first snapshot to its last.");
    }
    if (!answer.proved() && !answer.comparisons().isEmpty()) {
      List<String> files = new ArrayList<>();
      answer.after().forEach(summary -> files.add(SnapshotCommand.file(summary)));
      view.next("lipsanon growth " + String.join(" ", files), "what still grows, and who holds it");
    }
    return view;
  }
}
