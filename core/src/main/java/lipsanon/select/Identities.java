package lipsanon.select;

import java.io.IOException;
import java.util.BitSet;
import lipsanon.index.Snapshot;

/**
 * Which objects of two snapshots of one run are the same, told by their identifiers: a merge of
 * both in the order of identifiers. Linear.
 */
public final class Identities {
  /** Objects of the later snapshot that the earlier one does not have. */
  public final BitSet added = new BitSet();

  /** By type of the later snapshot: such objects. */
  public final long[] addedByType;

  /** By type of the earlier snapshot: objects that the later one does not have. */
  public final long[] goneByType;

  public long addedCount;
  public long goneCount;
  public long keptCount;

  private Identities(int typesBefore, int typesAfter) {
    goneByType = new long[typesBefore];
    addedByType = new long[typesAfter];
  }

  /** Null if objects cannot be told to be the same. */
  public static Identities of(Snapshot before, Snapshot after) throws IOException {
    if (!SameRun.of(before, after)) {
      return null;
    }
    Identities result = new Identities(before.types().size(), after.types().size());
    int b = 0;
    int a = 0;
    while (b < before.objectCount() || a < after.objectCount()) {
      int old = b < before.objectCount() ? before.nodeByRank(b) : -1;
      int now = a < after.objectCount() ? after.nodeByRank(a) : -1;
      long oldId = old < 0 ? Long.MAX_VALUE : before.rawId(old);
      long nowId = now < 0 ? Long.MAX_VALUE : after.rawId(now);
      if (oldId == nowId) {
        result.keptCount++;
      } else if (oldId < nowId) {
        result.goneCount++;
        result.goneByType[before.type(old)]++;
      } else {
        result.addedCount++;
        result.addedByType[after.type(now)]++;
        result.added.set(now);
      }
      b += oldId <= nowId ? 1 : 0;
      a += nowId <= oldId ? 1 : 0;
    }
    return result;
  }
}
