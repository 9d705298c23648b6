package lipsanon.analysis;

import lipsanon.index.IdStyle;
import lipsanon.index.Snapshot;

/** Tells whether two snapshots are of the same run of a program, so that identifiers are stable. */
final class SameRun {
  private static final int SAMPLES = 1000;

  private SameRun() {}

  /**
   * Whether objects of two snapshots can be told to be the same by their identifiers. Addresses
   * never can: collections move objects. Serial numbers can, if most of a sample of the one
   * snapshot are in the other with the same type.
   */
  static boolean of(Snapshot before, Snapshot after) {
    if (before.idStyle() != IdStyle.SERIAL || after.idStyle() != IdStyle.SERIAL) {
      return false;
    }
    int step = Math.max(1, before.objectCount() / SAMPLES);
    int looked = 0;
    int same = 0;
    for (int n = 0; n < before.objectCount(); n += step) {
      int other = after.nodeOf(before.rawId(n));
      looked++;
      same += other >= 0 && after.typeName(other).equals(before.typeName(n)) ? 1 : 0;
    }
    return same * 2 > looked;
  }
}
