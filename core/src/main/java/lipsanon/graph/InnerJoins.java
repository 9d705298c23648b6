package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntList;

/**
 * The joins among the inner nodes, by their numbers, ascending: nodes that their immediate
 * dominator does not refer to. What refers to one is its parent in the depth-first tree and a run
 * of other sources; a class object's objects are among them.
 */
final class InnerJoins {
  final IntList numbers = new IntList();
  final IntList parents = new IntList();

  /** By join: where its run of sources begins. */
  final IntList from = new IntList();

  /** By join: where it ends. */
  final IntList to = new IntList();

  /** Sources of the edges that are no tree edges, by target. */
  final IntArray sources;

  InnerJoins(IntArray sources) {
    this.sources = sources;
  }
}
