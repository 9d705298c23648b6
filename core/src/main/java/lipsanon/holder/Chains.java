package lipsanon.holder;

import lipsanon.index.Snapshot;

/** Chains of objects, each dominated by the next, that repeat themselves after a few objects. */
final class Chains {
  /** Fewer links are no chain: they are looked at one by one. */
  static final int LEAST = 32;

  private static final int LONGEST_PERIOD = 4;

  private Chains() {}

  /** The first object of the chain that one is in; the object itself if it is in none. */
  static int beyond(Snapshot snapshot, int node) {
    for (int period = 1; period <= LONGEST_PERIOD; period++) {
      int at = node;
      int above = above(snapshot, at, period);
      int links = 0;
      while (above >= 0 && snapshot.type(above) == snapshot.type(at)) {
        at = above;
        above = above(snapshot, at, period);
        links++;
      }
      if (links >= LEAST) {
        return at;
      }
    }
    return node;
  }

  private static int above(Snapshot snapshot, int node, int steps) {
    int at = node;
    for (int i = 0; i < steps && at >= 0; i++) {
      at = snapshot.dominator(at);
    }
    return at;
  }
}
