package lipsanon.question;

import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;

/**
 * Objects of one of the user's own types that retain much together, wherever they are: also in many
 * small collections, none of which is large.
 *
 * @param type the type's name
 * @param count objects of it
 * @param bytes what these retain together
 * @param heads those that no other of them dominates; of very many a part
 */
record OwnPile(String type, long count, long bytes, IntList heads) {
  /** Of so many objects all are looked at, of more a part. */
  private static final int MOST = 1_000_000;

  /** Dominators that are looked at. */
  private static final int STEPS = 64;

  /**
   * The type that retains most.
   *
   * @param leastCount objects of it at least
   * @param leastBytes retained together at least
   * @return its number, or -1
   */
  static int largest(Snapshot snapshot, TypeFilter mine, long leastCount, double leastBytes) {
    List<TypeInfo> types = snapshot.types();
    int best = -1;
    for (int t = 0; t < types.size(); t++) {
      boolean fits =
          mine.isMine(types.get(t))
              && !types.get(t).array()
              && snapshot.counts(t).count() >= leastCount
              && snapshot.counts(t).retainedBytes() >= leastBytes;
      boolean more =
          fits
              && (best < 0
                  || snapshot.counts(t).retainedBytes() > snapshot.counts(best).retainedBytes());
      best = more ? t : best;
    }
    return best;
  }

  static OwnPile of(Snapshot snapshot, int type) {
    IntList heads = new IntList();
    IntList members = members(snapshot, type, MOST);
    for (int i = 0; i < members.size(); i++) {
      if (isHead(snapshot, members.get(i), type)) {
        heads.add(members.get(i));
      }
    }
    return new OwnPile(
        snapshot.types().get(type).name(),
        snapshot.counts(type).count(),
        snapshot.counts(type).retainedBytes(),
        heads);
  }

  /** Retained objects of a type; of more than {@code most} every second, third and so on. */
  static IntList members(Snapshot snapshot, int type, int most) {
    long every = (snapshot.counts(type).count() + most - 1) / most;
    IntList members = new IntList();
    NodeCursor cursor = snapshot.cursor();
    long met = 0;
    for (int n = 0; n < snapshot.objectCount(); n++) {
      if (cursor.type(n) == type && met++ % every == 0 && snapshot.depth(n) > 0) {
        members.add(n);
      }
    }
    return members;
  }

  private static boolean isHead(Snapshot snapshot, int node, int type) {
    int at = snapshot.dominator(node);
    for (int i = 0; i < STEPS && at >= 0; i++) {
      if (snapshot.type(at) == type) {
        return false;
      }
      at = snapshot.dominator(at);
    }
    return true;
  }
}
