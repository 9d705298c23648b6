package lipsanon.cli.command.look;

import java.nio.file.Path;
import java.util.List;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.Questions;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.explore.Prompt;
import lipsanon.cli.term.Format;
import lipsanon.index.Snapshot;
import picocli.CommandLine.Command;
import picocli.CommandLine.Parameters;

/** Stays inside one snapshot. */
@Command(
    name = "explore",
    description =
        "Stay inside one snapshot: a prompt with history, completion and named selections.")
public final class ExploreCommand extends SnapshotCommand {
  private static final List<String> QUESTIONS =
      List.of("survey", "types", "keepers", "sift", "refs", "show", "why", "savings", "origins");

  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  private final Questions questions;

  /** The command. */
  public ExploreCommand(Context context, Questions questions) {
    super(context);
    this.questions = questions;
  }

  @Override
  public Integer call() throws Exception {
    try (Snapshot snapshot = open(file)) {
      context
          .out()
          .println(
              Format.count(snapshot.objectCount())
                  + " objects, "
                  + format().size(snapshot.totals().retainedBytes())
                  + " retained. Questions need no file name here; `help` lists them.");
      context.out().flush();
      Prompt.Runner runner =
          (words, rows, out, stop) -> {
            List<String> all = new java.util.ArrayList<>(words);
            all.add(1, file.toString());
            if (indexFolder() != null) {
              all.add("--index-dir=" + indexFolder());
            }
            all.add(hidesContents() ? "--hide-contents" : "--no-hide-contents");
            questions.run(context.within(out, rows, file.toString(), stop), all);
          };
      new Prompt(context, snapshot, QUESTIONS, runner).run();
    }
    return ExitCodes.FINE;
  }
}
