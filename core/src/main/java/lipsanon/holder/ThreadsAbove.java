package lipsanon.holder;

import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;

/**
 * Finds the running threads that hold objects alone: those that dominate them. Linear in the
 * objects on the ways, however long these are. One thread.
 */
final class ThreadsAbove {
  private final Snapshot snapshot;
  private final BitSet threads = new BitSet();

  /** Of what a way has led over: whether a thread stands above. */
  private final BitSet held = new BitSet();

  private final BitSet others = new BitSet();
  private final IntList way = new IntList();

  /** The threads met so far. */
  final IntList found = new IntList();

  ThreadsAbove(Snapshot snapshot) {
    this.snapshot = snapshot;
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.THREAD)) {
        threads.set(root.node());
      }
    }
  }

  /** Whether a thread holds an object alone; it is noted. */
  boolean hold(int node) {
    way.clear();
    int at = node;
    while (at >= 0 && !threads.get(at) && !held.get(at) && !others.get(at)) {
      way.add(at);
      at = snapshot.dominator(at);
    }
    boolean holds = at >= 0 && !others.get(at);
    if (holds && !held.get(at)) {
      held.set(at);
      found.add(at);
    }
    BitSet known = holds ? held : others;
    for (int i = 0; i < way.size(); i++) {
      known.set(way.get(i));
    }
    return holds;
  }
}
