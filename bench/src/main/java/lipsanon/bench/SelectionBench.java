package lipsanon.bench;

import java.nio.file.Path;
import java.util.BitSet;
import java.util.List;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.select.Selector;
import lipsanon.select.SetSize;
import lipsanon.snapshot.Snapshots;

/**
 * How long selections take over a dump of {@link HeapFiller}: the second of two runs of each, so
 * that checksums and compiling are behind it. Arguments: the dump.
 */
final class SelectionBench {
  private static final List<String> SELECTIONS =
      List.of(
          "retained > 1MB",
          "depth > 8",
          "HeapFiller$Call and shallow > 10",
          "own and not soft",
          "kept by java.util.HashMap",
          "refers to java.util.TreeMap",
          "referred to by java.util.TreeMap",
          "java.lang.String and text contains 'manifest 77'",
          "HeapFiller$Call and retained > 100kB");

  private SelectionBench() {}

  /** Prints a line for each selection. */
  public static void main(String[] args) throws Exception {
    Path file = Path.of(args[0]);
    Snapshots.Options options =
        new Snapshots.Options(null, file.resolveSibling("x"), true, 8L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      System.out.printf("%,d objects%n", snapshot.objectCount());
      for (String text : SELECTIONS) {
        new Selector(snapshot, Selector.Options.DEFAULTS).select(text);
        long begun = System.nanoTime();
        BitSet set = new Selector(snapshot, Selector.Options.DEFAULTS).select(text);
        long selected = System.nanoTime();
        long bytes = SetSize.bytes(snapshot, set);
        long sized = System.nanoTime();
        System.out.printf(
            "%7.2f s  %,12d objects, %,15d bytes exactly in %.2f s  %s%n",
            (selected - begun) / 1e9, set.cardinality(), bytes, (sized - selected) / 1e9, text);
      }
    }
  }
}
