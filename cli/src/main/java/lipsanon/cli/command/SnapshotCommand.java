package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
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
import lipsanon.io.Progress;
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
      description =
          "Your own packages, comma-separated (default: classes from folders and from the archive"
              + " of the main class; in Node.js what is outside node_modules).")
  private String mine;

  SnapshotCommand(Context context) {
    super(context);
  }

  Snapshots.Options options() {
    long memory = (long) (Runtime.getRuntime().maxMemory() * 0.85);
    return new Snapshots.Options(indexDir, context.cache(), strict, memory);
  }

  /** What the user gave for the own packages, or null. */
  String mineOption() {
    return mine;
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

  /**
   * Opens several snapshots; those without an index are indexed two at a time where memory allows.
   *
   * @param opened takes them as they are opened, in order: the caller closes them
   */
  void openAll(List<Path> files, List<Snapshot> opened) throws Exception {
    Snapshots.Options half = options().withMemory(options().memoryBytes() / 2);
    List<Path> fresh = new ArrayList<>();
    for (Path file : files) {
      if (Snapshots.fitsBeside(file, half)) {
        fresh.add(file);
      }
    }
    if (fresh.size() > 1) {
      ExecutorService two = Executors.newFixedThreadPool(2);
      try (TerminalProgress progress = context.progress()) {
        progress.phase("indexing " + fresh.size() + " snapshots", 0);
        List<Future<?>> works = new ArrayList<>();
        for (Path file : fresh) {
          works.add(
              two.submit(
                  () -> {
                    Snapshots.open(file, half, Progress.NONE).close();
                    return null;
                  }));
        }
        for (Future<?> work : works) {
          work.get();
        }
      } catch (ExecutionException e) {
        // opened once more below, it fails in the same way and is told of there
        two.shutdownNow();
      } finally {
        two.shutdown();
      }
    }
    for (Path file : files) {
      opened.add(open(file));
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
    IntList objects = Selections.named(snapshot, name);
    if (objects == null) {
      List<String> near = Selections.near(snapshot, name);
      throw new UnsupportedInputException(
          snapshot.file().toString(),
          "has no type \""
              + name
              + "\""
              + (near.isEmpty() ? "" : "; near: " + String.join(", ", near))
              + "; list them with `lipsanon types "
              + quote(snapshot.file().toString())
              + "`");
    }
    return objects;
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
        + Format.count(summary.retainedObjects())
        + " objects";
  }

  static String file(SnapshotSummary summary) {
    return quote(summary.file());
  }
}
