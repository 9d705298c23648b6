package lipsanon.question;

import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.NearestPaths;

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
   * @param paths tells what is alike
   * @param nodes a path, from an object up to its root
   * @param vias how each is reached from the next
   * @return null if nothing on the path repeats itself
   */
  static TurnedChain longest(Snapshot snapshot, NearestPaths paths, IntList nodes, List<Via> vias) {
    int best = 0;
    int bestTurn = 0;
    int end = 0;
    for (int turn = 2; turn <= LONGEST_TURN; turn++) {
      int run = 0;
      for (int i = 0; i + turn < nodes.size(); i++) {
        run = paths.like(nodes, vias, i + turn, i) ? run + 1 : 0;
        if (run / turn > 0 && (bestTurn == 0 || run / turn >= best / bestTurn)) {
          best = run;
          bestTurn = turn;
          end = i;
        }
      }
    }
    return bestTurn == 0 ? null : at(snapshot, nodes, end + 1, bestTurn, best / bestTurn + 1);
  }

  /** The chain whose uppermost turn begins at a place of the path. */
  private static TurnedChain at(
      Snapshot snapshot, IntList nodes, int uppermost, int turn, long count) {
    int link = link(snapshot, nodes, uppermost, turn);
    int above = link + turn;
    // the first may be held in another way than all that follow
    boolean first =
        above < nodes.size() && snapshot.type(nodes.get(above)) == snapshot.type(nodes.get(link));
    int top = first ? above : link;
    return new TurnedChain(nodes.get(top), nodes.get(top - turn), first ? count + 1 : count);
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
