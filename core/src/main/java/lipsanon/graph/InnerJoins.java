package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntPairList;
import lipsanon.array.Space;

/**
 * The joins among the inner nodes, by their numbers, ascending: nodes that their immediate
 * dominator does not refer to. What refers to one is its parent in the depth-first tree and a run
 * of other sources; a class object's objects are among them. 16 bytes a join.
 */
final class InnerJoins {
  /** By join: its number and its parent's. */
  private final IntPairList nodes;

  /** By join: where its run of sources begins and ends. */
  private final IntPairList runs;

  /** Sources of the edges that are no tree edges, by target. */
  final IntArray sources;

  InnerJoins(IntArray sources, Space space) {
    this.sources = sources;
    this.nodes = new IntPairList(space);
    this.runs = new IntPairList(space);
  }

  void add(int number, int parent, int from, int to) {
    nodes.add(number, parent);
    runs.add(from, to);
  }

  int size() {
    return nodes.size();
  }

  int number(int join) {
    return nodes.first(join);
  }

  int parent(int join) {
    return nodes.second(join);
  }

  int from(int join) {
    return runs.first(join);
  }

  int to(int join) {
    return runs.second(join);
  }

  /** Gives the memory of the sources back, and of what leads to them. */
  void releaseSources(Space space) {
    runs.release();
    space.release(sources);
  }

  /** Gives the memory of the numbers back as well. */
  void release() {
    nodes.release();
  }
}
