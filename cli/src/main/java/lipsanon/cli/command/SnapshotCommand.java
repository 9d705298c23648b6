package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import lipsanon.array.IntList;
import lipsanon.cli.Context;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.label.SnapshotSummary;
import lipsanon.label.TypeFilter;
import lipsanon.question.SiftQuestion;
import lipsanon.select.NamedSelections;
import lipsanon.select.SelectionException;
import lipsanon.select.Selections;
import lipsanon.select.Selector;
import lipsanon.snapshot.Snapshots;
import picocli.CommandLine.Option;

/** A command about snapshot files. */
public abstract class SnapshotCommand extends Answering {
  @Option(
      names = "--index-dir",
      paramLabel = "DIR",
      description = "Where indexes go (default: beside the snapshot, else in the cache folder).")
  private Path indexDir;

  @Option(names = "--strict", description = "Refuse a snapshot that is cut off.")
  private boolean strict;

  @Option(
      names = "--source-maps",
      paramLabel = "DIR",
      description =
          "V8: the folder of the built scripts and their source maps, for snapshots that bring none"
              + " along: places are told as they were written. Kept with the index.")
  private Path sourceMaps;

  @Option(
      names = "--mine",
      paramLabel = "PACKAGES",
      description =
          "Your own packages, comma-separated (default: classes from folders and from the archive"
              + " of the main class; in Node.js what is outside node_modules).")
  private String mine;

  public SnapshotCommand(Context context) {
    super(context);
  }

  public Snapshots.Options options() {
    long memory = (long) (Runtime.getRuntime().maxMemory() * 0.85);
    Snapshots.Options options =
        new Snapshots.Options(indexDir, context.cache(), strict, memory)
            .withSourceMaps(sourceMaps == null ? null : sourceMaps.toAbsolutePath().normalize());
    return hidesContents() ? options.hiding(hidingKey()) : options;
  }

  /** Where the user wants indexes, or null. */
  protected Path indexFolder() {
    return indexDir;
  }

  /** What the user gave for the own packages, or null. */
  public String mineOption() {
    return mine;
  }

  public List<String> minePackages() {
    return split(mine);
  }

  public TypeFilter filter(String match) {
    return new TypeFilter(match, minePackages(), mine != null);
  }

  /** Whether an object is one of the user's own types, or the class of such a type. */
  protected boolean own(Snapshot snapshot, String id) {
    int node = snapshot.nodeOf(id);
    if (node < 0) {
      return false;
    }
    TypeFilter own = new TypeFilter(null, minePackages(), true);
    if (!snapshot.classNodes().contains(node)) {
      return own.isMine(snapshot.types().get(snapshot.type(node)));
    }
    return snapshot.types().stream().anyMatch(type -> type.classNode() == node && own.isMine(type));
  }

  /** Opens a snapshot, with progress, and cleans up if the user stops it. */
  public Snapshot open(Path file) throws Exception {
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
  public void openAll(List<Path> files, List<Snapshot> opened) throws Exception {
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

  protected static void removeHook(Thread hook) {
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // the process is going down already
    }
  }

  /** The objects that a text selects. */
  public BitSet select(Snapshot snapshot, String text) throws Exception {
    return select(snapshot, text, Selector.Stop.NEVER);
  }

  /** The same; may be told to come back with what was found so far. */
  public BitSet select(Snapshot snapshot, String text, Selector.Stop stop) throws Exception {
    try {
      return selector(snapshot, stop).select(text);
    } catch (SelectionException e) {
      if (e.missing()
          && text.strip().matches("[^\\s()]+")
          && !text.contains("=")
          && !text.startsWith("$")) {
        // a name alone: the usual message
        objectsOf(snapshot, text.strip().equals(text) ? text : text.strip());
      }
      throw told(snapshot, text, e);
    }
  }

  private Selector selector(Snapshot snapshot, Selector.Stop stop) throws IOException {
    TypeFilter own = new TypeFilter(null, minePackages(), true);
    Selector.Opener opener = earlier -> open(Path.of(earlier));
    return new Selector(
        snapshot, new Selector.Options(own, NamedSelections.of(snapshot), opener, stop));
  }

  /** An error of a selection, with the place in its text. */
  private static Exception told(Snapshot snapshot, String text, SelectionException e) {
    if (e.at() < 0) {
      return new UsageException(e.getMessage());
    }
    String pointer =
        System.lineSeparator()
            + "  "
            + text
            + System.lineSeparator()
            + "  "
            + " ".repeat(Math.min(e.at(), text.length()))
            + "^";
    return e.missing()
        ? new UnsupportedInputException(snapshot.file().toString(), e.getMessage() + pointer)
        : new UsageException("selection: " + e.getMessage() + pointer);
  }

  /** The object with an identifier; of a selection the one that retains most. */
  protected int object(Snapshot snapshot, String text) throws Exception {
    if (Selections.isIdentifier(text)) {
      int node = Selections.object(snapshot, text);
      if (node < 0) {
        throw new UnsupportedInputException(
            snapshot.file().toString(), "holds no object with the identifier " + text);
      }
      return node;
    }
    BitSet set = select(snapshot, text);
    if (set.isEmpty()) {
      throw new UnsupportedInputException(
          snapshot.file().toString(), "has no object that fits " + text);
    }
    int size = set.cardinality();
    int node = (int) SiftQuestion.order(snapshot, set, SiftQuestion.Sort.RETAINED, 1)[0];
    if (size > 1) {
      context
          .err()
          .println(
              "lipsanon: "
                  + Format.count(size)
                  + " objects fit; this is the one that retains most (list them: sift)");
    }
    return node;
  }

  /** The objects of the types that a name stands for. */
  public static IntList objectsOf(Snapshot snapshot, String name) throws IOException {
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
  public static void warnings(View view, Snapshot snapshot) {
    for (String warning : snapshot.facts().warnings()) {
      view.warning(warning);
    }
  }

  public static String heap(SnapshotSummary summary, Format format) {
    return format.size(summary.retainedBytes())
        + " in "
        + Format.count(summary.retainedObjects())
        + " objects";
  }

  public static String file(SnapshotSummary summary) {
    return quote(summary.file());
  }
}
