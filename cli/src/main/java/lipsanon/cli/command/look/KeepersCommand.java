package lipsanon.cli.command.look;

import java.nio.file.Path;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.ByOption;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.MatchOption;
import lipsanon.cli.command.PictureOptions;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.draw.KeepersPicture;
import lipsanon.cli.draw.Picture;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.ObjectRow;
import lipsanon.label.TypeFilter;
import lipsanon.question.GroupsAnswer;
import lipsanon.question.GroupsQuestion;
import lipsanon.question.KeeperTree;
import lipsanon.question.KeeperTreeQuestion;
import lipsanon.question.KeepersAnswer;
import lipsanon.question.KeepersQuestion;
import lipsanon.question.SetKeepersAnswer;
import lipsanon.question.SetKeepersQuestion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "keepers",
    description =
        "Which objects retain most? One level of the dominator tree; or who keeps a whole set.")
public final class KeepersCommand extends SnapshotCommand {
  private static final int DRAWN = 1500;
  private static final int ROWS = 15;
  private static final int SET_ROWS = 30;

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--under",
      paramLabel = "ID",
      description = "The level below this object, in place of the top.")
  private String under;

  @Parameters(
      index = "1..*",
      arity = "0..*",
      paramLabel = "SELECTION",
      description = "For a set: who must go so that these objects go.")
  private List<String> selection;

  @Option(
      names = "--up",
      description = "For a set: from the set towards the roots, not from the roots down.")
  private boolean up;

  @Mixin private ByOption by;

  @Mixin private MatchOption match;

  @Mixin private LimitOption limit;

  @Mixin private PictureOptions picture;

  /** The command. */
  public KeepersCommand(Context context) {
    super(context);
  }

  private Picture drawn(Snapshot snapshot) throws Exception {
    TypeFilter own = new TypeFilter(null, minePackages(), false);
    KeeperTree tree = KeeperTreeQuestion.ask(snapshot, own, DRAWN);
    try {
      return new KeepersPicture(tree, under == null ? "" : snapshot.id(object(snapshot, under)));
    } catch (IllegalArgumentException e) {
      throw new UsageException(e.getMessage());
    }
  }

  @Override
  public Integer call() throws Exception {
    boolean set = selection != null && !selection.isEmpty();
    if ((set ? 1 : 0) + (under == null ? 0 : 1) + (by.by() == null ? 0 : 1) > 1) {
      throw new UsageException("give one of SELECTION, --under and --by");
    }
    try (Snapshot snapshot = open(file)) {
      picture.draw(() -> drawn(snapshot));
      if (set) {
        String text = String.join(" ", selection);
        SetKeepersAnswer answer =
            SetKeepersQuestion.ask(snapshot, select(snapshot, text), text, up, limit.or(SET_ROWS));
        print("keepers", answer, () -> SetKeepersViews.of(answer, format()));
      } else if (by.by() != null) {
        TypeFilter own = new TypeFilter(null, minePackages(), true);
        GroupsAnswer answer = GroupsQuestion.ask(snapshot, by.by(), true, own, limit.or(ROWS));
        print("keepers", answer, () -> GroupViews.of(answer, format()));
      } else {
        int node = under == null ? -1 : object(snapshot, under);
        KeepersAnswer answer =
            KeepersQuestion.ask(snapshot, node, filter(match.name()), limit.or(ROWS));
        print("keepers", answer, () -> view(snapshot, answer));
      }
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
        Format.objects(answer.children())
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
        groups.bar(row.retainedBytes());
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
      table.bar(row.retainedBytes());
      table.own(own(snapshot, row.id()));
    }
    view.table(table);
    rest(view, answer);
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

  /** What is not shown, in one line. */
  private void rest(View view, KeepersAnswer answer) {
    long bytes = answer.childrenRetainedBytes();
    for (ObjectRow row : answer.keepers()) {
      bytes -= row.retainedBytes();
    }
    long count = answer.children() - answer.keepers().size();
    if (count > 0) {
      view.line("And " + Format.count(count) + " more, " + format().size(bytes) + ".");
    }
  }

  static String name(ObjectRow row) {
    String type = row.type() + TypesCommand.loader(row.loader());
    if (row.label().isEmpty()) {
      return type;
    }
    return row.type().equals("java.lang.Class") ? row.label() : type + " " + row.label();
  }
}
