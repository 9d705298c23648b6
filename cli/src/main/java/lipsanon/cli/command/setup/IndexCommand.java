package lipsanon.cli.command.setup;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "index",
    description = "Build a snapshot's index ahead of the first question, or check it.")
public final class IndexCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(names = "--check", description = "Verify all checksums of the index that is there.")
  private boolean check;

  /** The answer. */
  record Indexed(
      String file, String folder, long objects, long fileBytes, long indexBytes, long millis) {}

  /** The answer to a check. */
  record Checked(String file, boolean sound, List<String> problems) {}

  /** The command. */
  public IndexCommand(Context context) {
    super(context);
  }

  @Override
  public Integer call() throws Exception {
    if (check) {
      List<String> problems = Snapshots.check(file, options());
      Checked checked = new Checked(file.toString(), problems.isEmpty(), problems);
      print("index-check", checked, () -> view(checked));
      return problems.isEmpty() ? ExitCodes.FINE : ExitCodes.CHECK_FAILED;
    }
    long start = System.nanoTime();
    try (Snapshot snapshot = open(file)) {
      long millis = (System.nanoTime() - start) / 1_000_000;
      Indexed indexed =
          new Indexed(
              file.toString(),
              snapshot.folder().toString(),
              snapshot.objectCount(),
              Files.size(file),
              bytes(snapshot.folder()),
              millis);
      print("index", indexed, () -> view(indexed));
    }
    return ExitCodes.FINE;
  }

  private static long bytes(Path folder) throws java.io.IOException {
    long sum = 0;
    try (Stream<Path> files = Files.list(folder)) {
      for (Path one : (Iterable<Path>) files::iterator) {
        sum += Files.size(one);
      }
    }
    return sum;
  }

  private View view(Checked checked) {
    View view = new View();
    if (checked.sound()) {
      return view.line("The index of " + checked.file() + " is sound.");
    }
    checked.problems().forEach(view::warning);
    return view.line("The next question about the snapshot builds a new index.");
  }

  private View view(Indexed indexed) {
    Format format = format();
    return new View()
        .line(
            "Indexed "
                + Format.count(indexed.objects())
                + " objects in "
                + Format.duration(indexed.millis())
                + ": "
                + indexed.folder()
                + ", "
                + format.size(indexed.indexBytes())
                + " ("
                + Format.percent(indexed.indexBytes() / (double) indexed.fileBytes())
                + " of the snapshot).")
        .next("lipsanon survey " + quote(indexed.file()), "a first look");
  }
}
