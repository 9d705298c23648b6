package lipsanon.question;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Set;
import java.util.function.IntPredicate;
import lipsanon.array.IntList;
import lipsanon.index.NodeCursor;
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

  private static final int MOST_THINGS = 10;

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
    List<TypeInfo> types = snapshot.types();
    return best(
        snapshot, t -> mine.isMine(types.get(t)) && !types.get(t).array(), leastCount, leastBytes);
  }

  /**
   * Types that are no one's own, but stand for a thing (timers, sessions, elements), and retain so
   * much, by what they retain: the ones before are in those behind.
   *
   * @return their numbers, of very many the first
   */
  static IntList things(Snapshot snapshot, long leastCount, double leastBytes) {
    List<Integer> things = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (isThing(snapshot.types().get(t))
          && snapshot.counts(t).count() >= leastCount
          && snapshot.counts(t).retainedBytes() >= leastBytes) {
        things.add(t);
      }
    }
    things.sort(Comparator.comparingLong(t -> snapshot.counts(t).retainedBytes()));
    IntList first = new IntList();
    for (int i = 0; i < Math.min(MOST_THINGS, things.size()); i++) {
      first.add(things.get(i));
    }
    return first;
  }

  /**
   * Of a library's types that stand for a thing, have so many objects, and retain so much, the one
   * that retains most; but those that have few objects beside another only have these in them.
   *
   * @return its number, or -1
   */
  static int foreignThing(Snapshot snapshot, long leastCount, double leastBytes) {
    List<TypeInfo> types = snapshot.types();
    long most = 0;
    for (int t = 0; t < types.size(); t++) {
      boolean fits = types.get(t).foreign() && isThing(types.get(t));
      boolean much = fits && snapshot.counts(t).retainedBytes() >= leastBytes;
      most = much ? Math.max(most, snapshot.counts(t).count()) : most;
    }
    long least = Math.max(leastCount, most / 2);
    return best(snapshot, t -> types.get(t).foreign() && isThing(types.get(t)), least, leastBytes);
  }

  private static boolean isThing(TypeInfo type) {
    return !type.array()
        && !type.passage()
        && (!type.plain() || type.is(Trait.ELEMENT))
        && !type.machinery()
        && !type.observer()
        && NO_THINGS.stream().noneMatch(type::is);
  }

  /**
   * Of the types that are wanted, and have so many objects that retain so much together, the one
   * that retains most.
   *
   * @param wanted by a type's number
   * @return its number, or -1
   */
  static int best(Snapshot snapshot, IntPredicate wanted, long leastCount, double leastBytes) {
    int best = -1;
    for (int t = 0; t < snapshot.types().size(); t++) {
      boolean fits =
          wanted.test(t)
              && snapshot.counts(t).count() >= leastCount
              && snapshot.counts(t).retainedBytes() >= leastBytes;
      long bytes = snapshot.counts(t).retainedBytes();
      long known = best < 0 ? 0 : snapshot.counts(best).retainedBytes();
      boolean more = fits && (best < 0 || bytes > known);
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
