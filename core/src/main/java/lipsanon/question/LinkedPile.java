package lipsanon.question;

import java.util.Arrays;
import java.util.BitSet;
import java.util.function.Predicate;
import lipsanon.array.IntList;
import lipsanon.holder.Dominated;
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
  /** Of so many entries all are looked at. */
  private static final int MOST = 4_000_000;

  private static final int SAMPLE = 60;

  /**
   * The largest of the type that retains most among those asked for.
   *
   * @param leastCount entries at least
   * @param leastBytes retained at least
   * @return null if there is none
   */
  static LinkedPile largest(
      Snapshot snapshot, Predicate<TypeInfo> wanted, long leastCount, double leastBytes) {
    int type = -1;
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo info = snapshot.types().get(t);
      long count = snapshot.counts(t).count();
      long bytes = snapshot.counts(t).retainedBytes();
      boolean fits = wanted.test(info) && !info.array() && count >= leastCount && count <= MOST;
      boolean more = type < 0 || bytes > snapshot.counts(type).retainedBytes();
      type = fits && bytes >= leastBytes && more ? t : type;
    }
    if (type < 0) {
      return null;
    }
    LinkedPile pile = of(snapshot, type);
    return pile == null || pile.count < leastCount || pile.bytes < leastBytes ? null : pile;
  }

  /** The head that retains most, with all that hangs on it; null if none has entries below it. */
  private static LinkedPile of(Snapshot snapshot, int type) {
    int[] members = OwnPile.members(snapshot, type, MOST).toArray();
    NodeCursor cursor = snapshot.cursor();
    // what each retains without those below it
    long[] own = new long[members.length];
    int head = -1;
    for (int i = 0; i < members.length; i++) {
      long bytes = cursor.retainedBytes(members[i]);
      own[i] += bytes;
      int above = Arrays.binarySearch(members, Math.max(0, cursor.dominator(members[i])));
      if (above >= 0) {
        own[above] -= bytes;
      } else if (head < 0 || bytes > snapshot.retainedBytes(members[head])) {
        head = i;
      }
    }
    if (head < 0 || own[head] == snapshot.retainedBytes(members[head])) {
      return null;
    }
    BitSet one = new BitSet();
    one.set(members[head]);
    Dominated hanging = new Dominated(snapshot, one);
    IntList below = new IntList();
    long largest = 0;
    for (int i = 0; i < members.length; i++) {
      if (hanging.test(members[i])) {
        below.add(members[i]);
        largest = Math.max(largest, own[i]);
      }
    }
    IntList some = new IntList();
    for (int i = 0; i < Math.min(SAMPLE, below.size()); i++) {
      some.add(below.get((int) ((long) i * below.size() / Math.min(SAMPLE, below.size()))));
    }
    return new LinkedPile(
        type, members[head], below.size(), snapshot.retainedBytes(members[head]), largest, some);
  }
}
