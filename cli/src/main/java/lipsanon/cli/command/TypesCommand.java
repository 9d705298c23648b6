package lipsanon.cli.command;

import java.nio.file.Path;
import java.util.List;
import lipsanon.analysis.OwnCode;
import lipsanon.analysis.Selections;
import lipsanon.analysis.TypeFilter;
import lipsanon.analysis.TypeRow;
import lipsanon.analysis.TypesAnswer;
import lipsanon.analysis.TypesQuestion;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "types", description = "How many of what, how large, and how much do they retain?")
final class TypesCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--match",
      paramLabel = "NAME",
      description = "Only types whose name fits: a glob, or a part of the name.")
  private String match;

  @Option(
      names = "--sort",
      paramLabel = "COLUMN",
      defaultValue = "retained",
      description = "retained, shallow, count or name (default: retained).")
  private TypesQuestion.Sort sort;

  @Option(
      names = "--limit",
      paramLabel = "N",
      defaultValue = "25",
      description = "Rows at most (default: 25).")
  private int limit;

  @Option(
      names = "--exact",
      description =
          "The exact retained size of the types that --match names, as one set; takes a moment.")
  private boolean exact;

  TypesCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (exact && match == null) {
      throw new UsageException("--exact wants --match NAME: one type, or a few as one set");
    }
    try (Snapshot snapshot = open(file)) {
      TypeFilter filter = filter(match);
      TypesAnswer answer = TypesQuestion.ask(snapshot, filter, sort, limit(limit));
      if (match != null && answer.matched() == 0) {
        objectsOf(snapshot, match);
      }
      if (exact) {
        answer = exactly(snapshot, answer);
      }
      TypesAnswer told = answer;
      print("types", told, () -> view(snapshot, told));
    }
    return ExitCodes.FINE;
  }

  /** One row for the whole set. */
  private TypesAnswer exactly(Snapshot snapshot, TypesAnswer answer) throws Exception {
    List<Integer> types = Selections.types(snapshot, match);
    objectsOf(snapshot, match);
    try (var progress = context.progress()) {
      long bytes = Snapshots.exactRetained(snapshot, types, options(), progress);
      long count = 0;
      long shallow = 0;
      for (int t : types) {
        count += snapshot.counts(t).count();
        shallow += snapshot.counts(t).shallowBytes();
      }
      String name =
          types.size() == 1
              ? snapshot.types().get(types.get(0)).name()
              : match + " (" + types.size() + " types as one set)";
      double share = bytes / (double) Math.max(1, snapshot.totals().retainedBytes());
      TypeRow row = new TypeRow(name, "", false, count, shallow, bytes, true, share);
      return new TypesAnswer(
          answer.snapshot(), List.of(row), types.size(), count, shallow, answer.sortedBy());
    }
  }

  private static long unretained(Snapshot snapshot) {
    return snapshot.totals().objects() - snapshot.totals().retainedObjects();
  }

  /** The first type of the user's own, which says more than what all programs have. */
  private TypeRow worthAsking(TypesAnswer answer) {
    for (TypeRow row : answer.types()) {
      if (row.own()) {
        return row;
      }
    }
    return answer.types().get(0);
  }

  /** Where a name stands for several types. */
  static String loader(String loader) {
    return loader.isEmpty() ? "" : " (loader " + loader + ")";
  }

  private View view(Snapshot snapshot, TypesAnswer answer) {
    Format format = format();
    View view = new View();
    warnings(view, snapshot);
    view.heading(
        Format.count(answer.matched())
            + (answer.matched() == 1 ? " type, " : " types, ")
            + Format.count(answer.matchedCount())
            + " objects, "
            + format.size(answer.matchedShallowBytes())
            + " shallow"
            + (match == null && unretained(snapshot) > 0
                ? ", " + Format.count(unretained(snapshot)) + " of them kept by nothing"
                : "")
            + (answer.types().size() < answer.matched()
                ? "; the first " + answer.types().size() + " by " + answer.sortedBy()
                : ""));
    Table table =
        new Table()
            .number("count")
            .number("shallow")
            .number("retained")
            .number("share")
            .longText("type");
    for (TypeRow row : answer.types()) {
      String mark = row.retainedExact() ? "" : "≥ ";
      table.row(
          row.count(),
          format.cell(row.shallowBytes()),
          new Table.Cell(
              mark + format.size(row.retainedBytes()), Long.toString(row.retainedBytes())),
          Format.share(row.share()),
          row.type() + loader(row.loader()));
    }
    view.table(table);
    if (!exact) {
      view.line(
          "retained: freed at least if all objects of the type went (≥: a lower bound;"
              + " --match NAME --exact gives it exactly). share: of the retained heap, "
              + format.size(answer.snapshot().retainedBytes())
              + ".");
    }
    if (!answer.types().isEmpty()) {
      String type = quote(worthAsking(answer).type());
      String name = file(answer.snapshot());
      view.next("lipsanon why " + name + " " + type, "what keeps these alive");
      String own = OwnCode.packages(snapshot);
      if (mineOption() == null && !own.isEmpty()) {
        view.next("lipsanon types " + name + " --mine " + quote(own), "only your own types");
      }
    }
    return view;
  }
}
