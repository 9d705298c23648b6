package lipsanon.select;

import java.io.IOException;
import lipsanon.index.IdStyle;
import lipsanon.index.Snapshot;

/** Tells whether identifiers are stable between two snapshots. */
public final class SameRun {
  private static final int SAMPLES = 5000;

  /** Where identifiers were given anew, this share of equal ones is of another type, and more. */
  private static final double MOST_CHANGED = 0.004;

  private SameRun() {}

  /**
   * Whether objects of two snapshots can be told to be the same by their identifiers. Addresses
   * never can: collections move objects. Serial numbers can within one session of the runtime's
   * inspector; where the files do not tell the session (the program wrote them itself), if hardly
   * any object has another type in the other snapshot, and most are there.
   */
  public static boolean of(Snapshot before, Snapshot after) throws IOException {
    if (before.idStyle() != IdStyle.SERIAL || after.idStyle() != IdStyle.SERIAL) {
      return false;
    }
    String session = before.objects().session();
    if (!session.isEmpty() || !after.objects().session().isEmpty()) {
      return session.equals(after.objects().session());
    }
    int step = Math.max(1, before.objectCount() / SAMPLES);
    int looked = 0;
    int there = 0;
    int changed = 0;
    for (int n = 0; n < before.objectCount(); n += step) {
      int other = after.nodeOf(before.rawId(n));
      looked++;
      there += other >= 0 ? 1 : 0;
      changed += other >= 0 && !after.typeName(other).equals(before.typeName(n)) ? 1 : 0;
    }
    return there * 2 > looked && changed <= looked * MOST_CHANGED;
  }
}
