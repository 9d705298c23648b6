package lipsanon.capture;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Set;

/** A runtime whose snapshots may lack something that only a reader of the format can tell. */
public interface CheckedCapture {
  /**
   * The code that a process has loaded.
   *
   * @param files assemblies
   * @param packages names of those that the program has from others, as far as it says
   * @param own names of its own
   */
  record LoadedCode(List<CodeFile> files, Set<String> packages, Set<String> own) {}

  /** Looks at a snapshot that was just written. */
  interface SnapshotCheck {
    /** What it lacks, in words; "" if it is whole. */
    String missing(Path file) throws IOException;

    /** Adds to one that is whole what the code says of it. */
    default void complete(Path file, LoadedCode code) throws IOException {}
  }

  /** From now on each snapshot is looked at, and taken again if it is not whole. */
  void check(SnapshotCheck how);
}
