package lipsanon.cli.command.look;

import java.util.BitSet;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.LimitOption;
import lipsanon.cli.command.RefsViews;
import lipsanon.cli.command.SelectionArgument;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.question.RefsAnswer;
import lipsanon.question.RefsQuestion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Mixin;
import picocli.CommandLine.Option;

/** How all objects of a set are held, or what they refer to. */
@Command(
    name = "refs",
    description =
        "Who refers to these objects, or what do they refer to? Merged over the whole set.")
public final class RefsCommand extends SnapshotCommand {
  private static final int ROWS = 12;

  @Mixin private SelectionArgument selection;

  @Option(names = "--in", description = "Who refers to them (the default).")
  private boolean in;

  @Option(names = "--out", description = "What they refer to.")
  private boolean out;

  @Option(
      names = "--by",
      paramLabel = "WHAT",
      defaultValue = "field",
      description = "Merge by field (the default) or by type only.")
  private By by;

  @Option(
      names = "--depth",
      paramLabel = "N",
      defaultValue = "1",
      description = "Levels: what holds what holds them, and so on (default: 1).")
  private int depth;

  @Option(
      names = "--follow",
      description =
          "Go on along the most frequent way, until something of your own or a root is reached.")
  private boolean follow;

  @Option(names = "--weak", description = "Weak and soft references too, which keep nothing.")
  private boolean weak;

  @Mixin private LimitOption limit;

  /** What ways are merged by. */
  enum By {
    FIELD,
    TYPE
  }

  /** The command. */
  public RefsCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (in && out) {
      throw new UsageException("give one of --in and --out");
    }
    if (depth < 1) {
      throw new UsageException("--depth takes a whole number from 1 on");
    }
    try (Snapshot snapshot = open(selection.file())) {
      BitSet set = select(snapshot, selection.text());
      RefsQuestion.Options options =
          new RefsQuestion.Options(
              selection.text(),
              !out,
              by == By.TYPE,
              weak,
              depth,
              follow,
              limit.or(ROWS),
              new TypeFilter(null, minePackages(), true));
      RefsAnswer answer = RefsQuestion.ask(snapshot, set, options);
      print("refs", answer, () -> RefsViews.of(answer, selection.file().toString()));
    }
    return ExitCodes.FINE;
  }
}
