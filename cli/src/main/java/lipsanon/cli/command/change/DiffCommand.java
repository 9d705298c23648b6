package lipsanon.cli.command.change;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import lipsanon.change.DiffAnswer;
import lipsanon.change.DiffQuestion;
import lipsanon.change.RefsChangesAnswer;
import lipsanon.change.RefsChangesQuestion;
import lipsanon.change.TypeTable;
import lipsanon.change.TypesDiff;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.MatchOption;
import lipsanon.cli.command.SeriesCheck;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.command.TypeTables;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(name = "diff", description = "What changed between two snapshots?")
public final class DiffCommand extends SnapshotCommand {
  private static final int TAIL = 3;

  @Parameters(index = "0", paramLabel = "BEFORE", description = "The earlier snapshot.")
  private Path before;

  @Parameters(index = "1", paramLabel = "AFTER", description = "The later snapshot.")
  private Path after;

  @Mixin private MatchOption match;

  @Option(
      names = "--sort",
      paramLabel = "COLUMN",
      defaultValue = "retained",
      description = "Most growth in retained, shallow or count first (default: retained).")
  private DiffQuestion.Sort sort;

  @Mixin private LimitOption limit;

  @Option(
      names = "--refs",
      paramLabel = "SELECTION",
      description = "How the objects of a type or selection are held, before and after.")
  private String refs;

  @Option(names = "--out", description = "With --refs: what they refer to.")
  private boolean out;

  /** The command. */
  public DiffCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (!Snapshots.sameGrain(List.of(before, after))) {
      return light();
    }
    try (Snapshot first = open(before);
        Snapshot second = open(after)) {
      SeriesCheck.check(first, second);
      if (refs != null) {
        references(first, second);
        return ExitCodes.FINE;
      }
      DiffAnswer answer = DiffQuestion.ask(first, second, filter(match.name()), sort, limit.or(20));
      print("diff", answer, () -> view(answer));
    }
    return ExitCodes.FINE;
  }

  /** Where one of the two knows only counts. */
  private int light() throws Exception {
    if (refs != null) {
      throw new UsageException("light snapshots know no references: leave out --refs");
    }
    List<TypeTable> tables = TypeTables.read(this, List.of(before, after));
    TypesDiff answer =
        TypesDiff.of(
            tables.get(0),
            tables.get(1),
            filter(match.name()),
            sort == DiffQuestion.Sort.COUNT,
            limit.or(20));
    print("diff", answer, () -> view(answer));
    return ExitCodes.FINE;
  }

  private View view(TypesDiff answer) {
    Format format = format();
    View view = new View();
    long grown = answer.after().shallowBytes() - answer.before().shallowBytes();
    long objects = answer.after().objects() - answer.before().objects();
    view.heading(
        "The heap went from "
            + format.size(answer.before().shallowBytes())
            + " to "
            + format.size(answer.after().shallowBytes())
            + " ("
            + format.difference(grown)
            + ", "
            + Format.countDifference(objects)
            + " objects)");
    if (answer.types().isEmpty()) {
      return view.line("No type changed in count or size.");
    }
    view.heading(
        Format.count(answer.changedTypes())
            + " types changed; the first "
            + answer.types().size()
            + " by growth:");
    Table table =
        new Table()
            .number("count")
            .number("change")
            .number("shallow")
            .number("change")
            .longText("type");
    for (TypesDiff.Change row : answer.types()) {
      table.row(
          row.countAfter(),
          new Table.Cell(
              Format.countDifference(row.countDifference()), Long.toString(row.countDifference())),
          format.cell(row.shallowBytesAfter()),
          difference(format, row.shallowBytesDifference()),
          row.type() + (row.status().equals("kept") ? "" : " (" + row.status() + ")"));
    }
    view.table(table);
    view.line("A light snapshot knows counts and own sizes, not what holds what.");
    return view.next(
        "lipsanon capture TARGET", "a whole snapshot; `why` then tells what keeps these alive");
  }

  private void references(Snapshot first, Snapshot second) throws Exception {
    RefsChangesAnswer answer =
        RefsChangesQuestion.ask(
            first,
            second,
            select(first, refs),
            select(second, refs),
            refs,
            !out,
            new TypeFilter(null, minePackages(), true),
            limit.or(20));
    print("diff", answer, () -> view(answer));
  }

  private View view(RefsChangesAnswer answer) {
    boolean in = answer.direction().equals("in");
    View view = new View();
    view.heading(
        answer.selection()
            + ": "
            + Format.count(answer.countBefore())
            + " → "
            + Format.count(answer.countAfter())
            + (in ? " objects, and how they are held" : " objects, and what they refer to"));
    Table table =
        new Table()
            .number("before")
            .number("after")
            .number("change")
            .number(in ? "holders" : "targets")
            .longText(in ? "held by" : "through")
            .longText("type");
    for (RefsChangesAnswer.Row row : answer.references()) {
      table.row(
          row.countBefore(),
          row.countAfter(),
          new Table.Cell(Format.countDifference(row.difference()), Long.toString(row.difference())),
          row.othersAfter(),
          row.place() + (row.within() ? " (within)" : ""),
          row.type());
    }
    view.table(table);
    return view.next(
        "lipsanon refs " + file(answer.after()) + " " + quote(refs) + (in ? "" : " --out"),
        "the later snapshot alone, with what to run next");
  }

  private View view(DiffAnswer answer) {
    Format format = format();
    View view = new View();
    long grown = answer.after().retainedBytes() - answer.before().retainedBytes();
    long objects = answer.after().objects() - answer.before().objects();
    view.heading(
        "The heap went from "
            + format.size(answer.before().retainedBytes())
            + " to "
            + format.size(answer.after().retainedBytes())
            + " ("
            + format.difference(grown)
            + ", "
            + Format.countDifference(objects)
            + " objects)");
    if (answer.types().isEmpty()) {
      return view.line("No type changed in count or size.");
    }
    boolean known = answer.objects().keptCount() >= 0;
    if (known) {
      view.line(
          "Object by object: "
              + Format.count(answer.objects().newCount())
              + " are new, "
              + Format.count(answer.objects().keptCount())
              + " were kept, "
              + Format.count(answer.objects().goneCount())
              + " are gone.");
    }
    keepers(view, answer);
    view.heading(
        Format.count(answer.changedTypes())
            + " types changed; the first "
            + answer.types().size()
            + " by growth:");
    Table table =
        new Table()
            .number("count")
            .number("change")
            .number("shallow")
            .number("change")
            .number("retained")
            .number("change");
    if (known) {
      table.number("new").number("gone");
    }
    table.longText("type");
    for (DiffAnswer.TypeChange row : answer.types()) {
      List<Object> cells =
          new ArrayList<>(
              List.of(
                  row.countAfter(),
                  new Table.Cell(
                      Format.countDifference(row.countDifference()),
                      Long.toString(row.countDifference())),
                  format.cell(row.shallowBytesAfter()),
                  difference(format, row.shallowBytesDifference()),
                  format.cell(row.retainedBytesAfter()),
                  difference(format, row.retainedBytesDifference())));
      if (known) {
        cells.add(row.newCount());
        cells.add(row.goneCount());
      }
      cells.add(row.type() + (row.status().equals("kept") ? "" : " (" + row.status() + ")"));
      table.row(cells.toArray());
    }
    view.table(table);
    view.line("retained: what the type's objects retain together.");
    references(view, answer);
    String type =
        quote(
            answer.references().isEmpty()
                ? answer.types().get(0).type()
                : answer.references().get(0).type());
    if (known) {
      view.next(
          "lipsanon sift "
              + file(answer.after())
              + " "
              + type
              + " --new-since "
              + file(answer.before()),
          "those that are new, one by one");
    }
    return view.next("lipsanon why " + file(answer.after()) + " " + type, "what keeps these alive");
  }

  private void keepers(View view, DiffAnswer answer) {
    if (answer.keepers().isEmpty()) {
      return;
    }
    view.heading("Who retains more or less");
    Table table =
        new Table()
            .number("change")
            .number("retained")
            .number("count")
            .longText("what")
            .longText("how it is held");
    for (DiffAnswer.KeeperChange row : answer.keepers()) {
      table.row(
          difference(format(), row.retainedBytesDifference()),
          format().cell(row.retainedBytesAfter()),
          new Table.Cell(
              row.countBefore() == row.countAfter()
                  ? Format.count(row.countAfter())
                  : Format.count(row.countBefore()) + " → " + Format.count(row.countAfter()),
              Long.toString(row.countAfter())),
          row.type(),
          tail(row.path()));
    }
    view.table(table);
  }

  /** The end of a path, which is nearest to the objects; the whole is in the JSON. */
  private static String tail(String path) {
    String[] steps = path.split(" → ");
    return steps.length <= TAIL
        ? path
        : "… → " + String.join(" → ", Arrays.copyOfRange(steps, steps.length - TAIL, steps.length));
  }

  /** Types of which not all references were counted, each once. */
  private static Set<String> sampled(DiffAnswer answer) {
    Set<String> types = new LinkedHashSet<>();
    for (DiffAnswer.ReferenceChange row : answer.references()) {
      if (row.sample()) {
        types.add(row.type());
      }
    }
    return types;
  }

  private void references(View view, DiffAnswer answer) {
    if (answer.references().isEmpty()) {
      return;
    }
    view.heading("How the types that grew are held, and what they refer to");
    Table table =
        new Table()
            .longText("type")
            .text("")
            .longText("reference")
            .longText("other type")
            .number("before")
            .number("after");
    for (DiffAnswer.ReferenceChange row : answer.references()) {
      table.row(
          row.type(),
          row.direction(),
          row.via(),
          row.otherType(),
          row.countBefore(),
          row.countAfter());
    }
    view.table(table);
    for (String type : sampled(answer)) {
      view.line(
          "Of "
              + type
              + " only the first "
              + Format.count(DiffQuestion.REFERENCES)
              + " references of each snapshot are counted.");
    }
  }

  static Table.Cell difference(Format format, long bytes) {
    return new Table.Cell(format.difference(bytes), Long.toString(bytes));
  }
}
