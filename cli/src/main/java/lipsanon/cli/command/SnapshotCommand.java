package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import lipsanon.analysis.Selections;
import lipsanon.analysis.SnapshotSummary;
import lipsanon.analysis.TypeFilter;
import lipsanon.array.IntList;
import lipsanon.cli.Context;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.io.UnsupportedInputException;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Option;

/** A command about snapshot files. */
abstract class SnapshotCommand extends Answering {
  @Option(
      names = "--index-dir",
      paramLabel = "DIR",
      description = "Where indexes go (default: beside the snapshot, else in the cache folder).")
  private Path indexDir;

  @Option(names = "--strict", description = "Refuse a snapshot that is cut off.")
  private boolean strict;

  @Option(
      names = "--mine",
      paramLabel = "PACKAGES",
      description = "Your own packages, comma-separated (default: all that is not the runtime's).")
  private String mine;

  SnapshotCommand(Context context) {
    super(context);
  }

  Snapshots.Options options() {
    long memory = (long) (Runtime.getRuntime().maxMemory() * 0.85);
    return new Snapshots.Options(indexDir, context.cache(), strict, memory);
  }

  List<String> minePackages() {
    return split(mine);
  }

  TypeFilter filter(String match) {
    return new TypeFilter(match, minePackages(), mine != null);
  }

  /** Opens a snapshot, with progress, and cleans up if the user stops it. */
  Snapshot open(Path file) throws Exception {
    Thread main = Thread.currentThread();
    try (TerminalProgress progress = context.progress()) {
      Thread hook =
          new Thread(
              () -> {
                progress.cancel();
                try {
                  // the computation ends at its next step and removes its files
                  main.join(3000);
                } catch (InterruptedException e) {
                  Thread.currentThread().interrupt();
                }
              });
      Runtime.getRuntime().addShutdownHook(hook);
      try {
        return Snapshots.open(file, options(), progress);
      } finally {
        removeHook(hook);
      }
    }
  }

  private static void removeHook(Thread hook) {
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // the process is going down already
    }
  }

  static int limit(int limit) {
    if (limit < 1) {
      throw new UsageException("--limit takes a whole number from 1 on");
    }
    return limit;
  }

  /** The object with an identifier. */
  static int object(Snapshot snapshot, String id) throws IOException {
    if (!Selections.isIdentifier(id)) {
      throw new UsageException(
          "\"" + id + "\" is no object identifier; they look like " + snapshot.id(0));
    }
    int node = Selections.object(snapshot, id);
    if (node < 0) {
      throw new UnsupportedInputException(
          snapshot.file().toString(), "holds no object with the identifier " + id);
    }
    return node;
  }

  /** The objects of the types that a name stands for. */
  static IntList objectsOf(Snapshot snapshot, String name) throws IOException {
    List<Integer> types = Selections.types(snapshot, name);
    if (types.isEmpty()) {
      throw new UnsupportedInputException(
          snapshot.file().toString(),
          "has no type \""
              + name
              + "\"; list them with `lipsanon types "
              + quote(snapshot.file().toString())
              + "`");
    }
    return Selections.objects(snapshot, types);
  }

  /** Says what must not be overlooked. */
  static void warnings(View view, Snapshot snapshot) {
    for (String warning : snapshot.facts().warnings()) {
      view.warning(warning);
    }
  }

  static String heap(SnapshotSummary summary, Format format) {
    return format.size(summary.retainedBytes())
        + " in "
        + Format.count(summary.objects())
        + " objects";
  }

  static String file(SnapshotSummary summary) {
    return quote(summary.file());
  }
}
