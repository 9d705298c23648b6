package lipsanon.question;

import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.TypeInfo.Trait;
import lipsanon.label.TypeFilter;

/**
 * Objects of one type that retain much together, wherever they are: also in many small collections,
 * none of which is large.
 *
 * @param type the type's name
 * @param count objects of it
 * @param bytes what these retain together
 * @param heads those that no other of them dominates; of very many a part
 */
record OwnPile(String type, long count, long bytes, IntList heads) {
  /** What is so common that it says nothing. */
  private static final Set<Trait> NO_THINGS =
      Set.of(Trait.TEXT, Trait.BOXED, Trait.COLLECTION, Trait.CODE);

  /** Of so many objects all are looked at, of more a part. */
  private static final int MOST = 1_000_000;

  /** Dominators that are looked at. */
  private static final int STEPS = 64;

  /**
   * The type of the user's own that retains most.
   *
   * @param leastCount objects of it at least
   * @param leastBytes retained together at least
   * @return its number, or -1
   */
  static int largest(Snapshot snapshot, TypeFilter mine, long leastCount, double leastBytes) {
    return best(snapshot, type -> mine.isMine(type) && !type.array(), leastCount, leastBytes, true);
  }

  /**
   * Of types that are no one's own, but stand for a thing (timers, sessions, streams) the one that
   * retains least of those that retain so much: it is in the others.
   */
  static int innermostThing(Snapshot snapshot, long leastCount, double leastBytes) {
    return best(snapshot, OwnPile::isThing, leastCount, leastBytes, false);
  }

  private static boolean isThing(TypeInfo type) {
    return !type.array()
        && !type.passage()
        && !type.plain()
        && !type.machinery()
        && !type.observer()
        && NO_THINGS.stream().noneMatch(type::is);
  }

  private static int best(
      Snapshot snapshot,
      Predicate<TypeInfo> wanted,
      long leastCount,
      double leastBytes,
      boolean most) {
    List<TypeInfo> types = snapshot.types();
    int best = -1;
    for (int t = 0; t < types.size(); t++) {
      boolean fits =
          wanted.test(types.get(t))
              && snapshot.counts(t).count() >= leastCount
              && snapshot.counts(t).retainedBytes() >= leastBytes;
      long bytes = snapshot.counts(t).retainedBytes();
      long known = best < 0 ? 0 : snapshot.counts(best).retainedBytes();
      boolean more = fits && (best < 0 || (most ? bytes > known : bytes < known));
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
    PackedColumn types = snapshot.typeColumn();
    long[] block = new long[64];
    long blocks = types.count() + 63 >> 6;
    long met = 0;
    for (long b = 0; b < blocks; b++) {
      int size = types.block(b, block);
      for (int i = 0; i < size; i++) {
        int node = (int) (b << 6) + i;
        if (block[i] == type && met++ % every == 0 && snapshot.depth(node) > 0) {
          members.add(node);
        }
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
