package lipsanon.capture;

import java.io.IOException;
import java.nio.file.Path;

/** A runtime whose snapshots may lack something that only a reader of the format can tell. */
public interface CheckedCapture {
  /** Looks at a snapshot that was just written. */
  interface SnapshotCheck {
    /** What it lacks, in words; "" if it is whole. */
    String missing(Path file) throws IOException;
  }

  /** From now on each snapshot is looked at, and taken again if it is not whole. */
  void check(SnapshotCheck how);
}
