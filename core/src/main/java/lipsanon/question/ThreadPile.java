package lipsanon.question;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.label.Threads;

/** Running threads that are called alike but for numbers, and what they keep together. */
final class ThreadPile {
  /** What they are called, each number as {@code #}; or "". */
  final String family;

  final IntList threads = new IntList();

  /** What they retain; what one of them is the owner of no other one is. */
  long bytes;

  private ThreadPile(String family) {
    this.family = family;
  }

  /** Those of at least so many that retain most; null if there are none. */
  static ThreadPile largest(Snapshot snapshot, int leastThreads) throws IOException {
    Map<String, ThreadPile> piles = new HashMap<>();
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.THREAD)) {
        String family = Threads.family(snapshot, root.node());
        String kind = Threads.noun(snapshot, root.node()) + " " + family;
        ThreadPile pile = piles.computeIfAbsent(kind, key -> new ThreadPile(family));
        pile.threads.add(root.node());
        pile.bytes += snapshot.retainedBytes(root.node());
      }
    }
    ThreadPile largest = null;
    for (ThreadPile pile : piles.values()) {
      boolean more = largest == null || pile.bytes > largest.bytes;
      largest = pile.threads.size() >= leastThreads && more ? pile : largest;
    }
    return largest;
  }
}
