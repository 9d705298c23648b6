package lipsanon.cli.command.look;

import java.nio.file.Path;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.question.SavingsAnswer;
import lipsanon.question.SavingsQuestion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Parameters;

/** Waste that is no leak. */
@Command(
    name = "savings",
    description =
        "What could be saved though nothing leaks: equal texts and arrays, empty and oversized"
            + " collections, boxed numbers, what is closed but held.")
public final class SavingsCommand extends SnapshotCommand {
  private static final int PLACES = 5;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Mixin private LimitOption limit;

  /** The command. */
  public SavingsCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      SavingsAnswer answer =
          SavingsQuestion.ask(
              snapshot, new TypeFilter(null, minePackages(), false), limit.or(PLACES));
      SavingsNote.write(snapshot, answer);
      print("savings", answer, () -> view(answer));
    }
    return ExitCodes.FINE;
  }

  private View view(SavingsAnswer answer) {
    Format format = format();
    View view = new View();
    long heap = Math.max(1, answer.snapshot().retainedBytes());
    if (answer.kinds().isEmpty()) {
      return view.line("Nothing that is lost without a leak was found.");
    }
    view.line(
        "Of a heap of "
            + format.size(answer.snapshot().retainedBytes())
            + ", what could be saved though nothing leaks (kinds may overlap):");
    Table kinds = new Table().number("saves").number("share").number("objects").text("kind");
    for (SavingsAnswer.Kind kind : answer.kinds()) {
      kinds.row(
          format.cell(kind.bytes()),
          Format.share((double) kind.bytes() / heap),
          kind.count(),
          kind.kind());
      kinds.bar(kind.bytes());
    }
    view.table(kinds);
    for (SavingsAnswer.Kind kind : answer.kinds()) {
      if (kind.places().isEmpty()) {
        continue;
      }
      view.heading(kind.sentence());
      view.line(kind.advice());
      Table places =
          new Table().number("saves").number("objects").longText("where").text("one of them");
      for (SavingsAnswer.Place place : kind.places()) {
        places.row(format.cell(place.bytes()), place.count(), place.where(), place.example());
      }
      view.table(places);
      if (kind.otherPlaces() > 0) {
        view.line("and " + Format.count(kind.otherPlaces()) + " more places (--limit)");
      }
      StringBuilder common = new StringBuilder();
      for (SavingsAnswer.Common one : kind.commonest()) {
        common
            .append(common.length() == 0 ? "Most often: " : ", ")
            .append(one.text())
            .append(" ")
            .append(Format.count(one.count()))
            .append(" times");
      }
      if (common.length() > 0) {
        view.line(common + ".");
      }
    }
    for (SavingsAnswer.Kind kind : answer.kinds()) {
      if (!kind.places().isEmpty()) {
        SavingsAnswer.Place first = kind.places().get(0);
        view.next(
            "lipsanon show " + file(answer.snapshot()) + " " + first.example(),
            "one of the " + kind.kind());
        break;
      }
    }
    return view;
  }
}
