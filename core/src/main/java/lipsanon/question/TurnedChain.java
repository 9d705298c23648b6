package lipsanon.question;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * The longest chain on a path whose links are of two or more types in turn, over and over: an
 * object whose function keeps the variables among which the object before it is.
 *
 * @param node the uppermost of the links by which the chain is told
 * @param next the one below that
 * @param count how many of these there are
 */
record TurnedChain(int node, int next, long count) {
  private static final int LONGEST_TURN = 4;

  /**
   * The longest one.
   *
   * @param nodes a path, from an object up to its root
   * @param vias how each is reached from the next
   * @return null if nothing on the path repeats itself
   */
  static TurnedChain longest(Snapshot snapshot, IntList nodes, List<Via> vias) throws IOException {
    TurnedChain best = null;
    for (int turn = 2; turn <= LONGEST_TURN; turn++) {
      int run = 0;
      for (int i = 0; i + turn < nodes.size(); i++) {
        run = isLike(snapshot, nodes, vias, i, i + turn) ? run + 1 : 0;
        long count = run / turn + 1;
        if (run >= turn && (best == null || count >= best.count)) {
          int link = link(snapshot, nodes, i + 1, turn);
          int above = link + turn;
          // the first may be held in another way than all that follow
          boolean first =
              above < nodes.size()
                  && snapshot.type(nodes.get(above)) == snapshot.type(nodes.get(link));
          int top = first ? above : link;
          best = new TurnedChain(nodes.get(top), nodes.get(top - turn), first ? count + 1 : count);
        }
      }
    }
    return best;
  }

  private static boolean isLike(
      Snapshot snapshot, IntList nodes, List<Via> vias, int lower, int upper) {
    Via a = vias.get(lower);
    Via b = vias.get(upper);
    return snapshot.type(nodes.get(lower)) == snapshot.type(nodes.get(upper))
        && a != null
        && b != null
        && a.group().equals(b.group());
  }

  /** Of one turn the object that says most: one of the user's own before a plain one, and any. */
  private static int link(Snapshot snapshot, IntList nodes, int from, int turn) {
    int best = from;
    int bestRank = Integer.MAX_VALUE;
    for (int i = from; i < from + turn; i++) {
      TypeInfo info = snapshot.types().get(snapshot.type(nodes.get(i)));
      int rank = info.plain() ? 1 : info.library() || info.foreign() ? 2 : 0;
      if (rank < bestRank) {
        best = i;
        bestRank = rank;
      }
    }
    return best;
  }
}
