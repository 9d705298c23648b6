package lipsanon.question;

import java.util.Arrays;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.index.NodeCursor;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Objects of one type that hang on each other, so that no single object holds many of them: the
 * entries of a sorted table or a queue, each with one or two others below it, or the nodes of a
 * tree.
 *
 * @param type their type
 * @param head the entry on which all others hang
 * @param count entries
 * @param bytes what the head retains
 * @param largest what the entry with most of its own retains without the entries below it
 * @param some entries from all over
 */
record LinkedPile(int type, int head, long count, long bytes, long largest, IntList some) {
  /** In heaps of more objects, or for a type of more, nobody would want to wait for it. */
  private static final int MOST_OBJECTS = 20_000_000;

  private static final int MOST = 4_000_000;

  private static final int SAMPLE = 60;

  /** Lists and arrays that may stand between a node and the one above. */
  private static final int MOST_PARTS = 2;

  private static final byte HANGS = 1;
  private static final byte PASSED = 2;

  /**
   * The type of which most is retained among those asked for.
   *
   * @param leastCount objects of it at least
   * @param leastBytes retained at least
   * @return its number, or -1
   */
  static int type(
      Snapshot snapshot, Predicate<TypeInfo> wanted, long leastCount, double leastBytes) {
    if (snapshot.objectCount() > MOST_OBJECTS) {
      return -1;
    }
    return OwnPile.best(
        snapshot,
        t -> {
          TypeInfo info = snapshot.types().get(t);
          return wanted.test(info) && !info.array() && snapshot.counts(t).count() <= MOST;
        },
        leastCount,
        leastBytes);
  }

  /** The head that retains most, with all that hangs on it; null if none has objects below it. */
  static LinkedPile of(Snapshot snapshot, int type) {
    int[] members = OwnPile.members(snapshot, type, MOST).toArray();
    int[] above = above(snapshot, type, members);
    NodeCursor cursor = snapshot.cursor();
    // what each retains without those below it
    long[] own = new long[members.length];
    int head = -1;
    long most = -1;
    for (int i = 0; i < members.length; i++) {
      long bytes = cursor.retainedBytes(members[i]);
      own[i] += bytes;
      if (above[i] >= 0) {
        own[above[i]] -= bytes;
      } else if (bytes > most) {
        head = i;
        most = bytes;
      }
    }
    if (head < 0 || own[head] == most) {
      return null;
    }
    IntList hanging = hanging(above, head);
    long largest = 0;
    IntList some = new IntList();
    for (int i = 0; i < hanging.size(); i++) {
      largest = Math.max(largest, own[hanging.get(i)]);
    }
    for (int i = 0; i < Math.min(SAMPLE, hanging.size()); i++) {
      long at = (long) i * hanging.size() / Math.min(SAMPLE, hanging.size());
      some.add(members[hanging.get((int) at)]);
    }
    return new LinkedPile(type, members[head], hanging.size(), most, largest, some);
  }

  /** By place among the members: the nearest of them that dominates each, or -1. */
  private static int[] above(Snapshot snapshot, int type, int[] members) {
    // entries hang on each other directly, the nodes of a tree perhaps by lists of theirs
    int steps = snapshot.types().get(type).passage() ? 1 : MOST_PARTS + 1;
    NodeCursor cursor = snapshot.cursor();
    int[] above = new int[members.length];
    for (int i = 0; i < members.length; i++) {
      int at = cursor.dominator(members[i]);
      above[i] = -1;
      for (int step = 1; at >= 0; step++) {
        above[i] = Math.max(-1, Arrays.binarySearch(members, at));
        at = above[i] >= 0 || step == steps ? -1 : snapshot.dominator(at);
      }
    }
    return above;
  }

  /** The places of a head and of all that hang on it, however long the ways are. */
  private static IntList hanging(int[] above, int head) {
    byte[] known = new byte[above.length];
    known[head] = HANGS;
    IntList way = new IntList();
    IntList hanging = new IntList();
    for (int i = 0; i < above.length; i++) {
      int at = i;
      while (at >= 0 && known[at] == 0) {
        way.add(at);
        known[at] = PASSED;
        at = above[at];
      }
      byte found = at >= 0 && known[at] == HANGS ? HANGS : PASSED;
      while (!way.isEmpty()) {
        known[way.removeLast()] = found;
      }
      if (known[i] == HANGS) {
        hanging.add(i);
      }
    }
    return hanging;
  }
}
