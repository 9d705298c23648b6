package lipsanon.cli.command.look;

import java.nio.file.Path;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.ByOption;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.MatchOption;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.OwnCode;
import lipsanon.label.TypeFilter;
import lipsanon.question.GroupsAnswer;
import lipsanon.question.GroupsQuestion;
import lipsanon.question.TypeRow;
import lipsanon.question.TypesAnswer;
import lipsanon.question.TypesQuestion;
import lipsanon.select.Removal;
import lipsanon.select.Selections;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "types", description = "How many of what, how large, and how much do they retain?")
public final class TypesCommand extends SnapshotCommand {
  private static final int ROWS = 25;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--sort",
      paramLabel = "COLUMN",
      defaultValue = "retained",
      description = "retained, shallow, count or name (default: retained).")
  private TypesQuestion.Sort sort;

  private String match;

  @Option(names = "--as-one", description = "The types that --match names in one row, as one set.")
  private boolean asOne;

  @Mixin private ByOption by;

  @Mixin private MatchOption matching;

  @Mixin private LimitOption limit;

  /** The command. */
  public TypesCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    match = matching.name();
    if (asOne && match == null) {
      throw new UsageException("--as-one wants --match NAME: the types that make the set");
    }
    try (Snapshot snapshot = open(file)) {
      if (by.by() != null) {
        TypeFilter own = new TypeFilter(null, minePackages(), true);
        GroupsAnswer groups = GroupsQuestion.ask(snapshot, by.by(), false, own, limit.or(ROWS));
        print("types", groups, () -> GroupViews.of(groups, format()));
        return ExitCodes.FINE;
      }
      TypesAnswer answer = TypesQuestion.ask(snapshot, filter(match), sort, limit.or(ROWS));
      if (match != null && answer.matched() == 0) {
        objectsOf(snapshot, match);
      }
      if (asOne) {
        answer = together(snapshot, answer);
      }
      TypesAnswer told = answer;
      print("types", told, () -> view(snapshot, told));
    }
    return ExitCodes.FINE;
  }

  /** One row for the whole set. */
  private TypesAnswer together(Snapshot snapshot, TypesAnswer answer) throws Exception {
    List<Integer> types = Selections.types(snapshot, match);
    long bytes = Removal.of(snapshot, Selections.set(snapshot, types)).bytes();
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

  /** What is not shown, in one line. */
  private static void rest(View view, TypesAnswer answer, Format format) {
    long count = answer.matchedCount();
    long shallow = answer.matchedShallowBytes();
    for (TypeRow row : answer.types()) {
      count -= row.count();
      shallow -= row.shallowBytes();
    }
    int types = answer.matched() - answer.types().size();
    if (types > 0 && count > 0) {
      view.line(
          "And "
              + Format.count(types)
              + " more types: "
              + Format.count(count)
              + " objects, "
              + format.size(shallow)
              + " shallow.");
    }
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
      table.row(
          row.count(),
          format.cell(row.shallowBytes()),
          format.cell(row.retainedBytes()),
          Format.share(row.share()),
          row.type() + loader(row.loader()));
      table.own(row.own());
      table.bar(
          switch (answer.sortedBy()) {
            case "count" -> row.count();
            case "shallow" -> row.shallowBytes();
            default -> row.retainedBytes();
          });
    }
    view.table(table);
    rest(view, answer, format);
    view.line(
        "retained: freed if all objects of the type went, exactly. share: of the retained heap, "
            + format.size(answer.snapshot().retainedBytes())
            + ".");
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
