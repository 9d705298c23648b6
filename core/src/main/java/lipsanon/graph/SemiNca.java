package lipsanon.graph;

import java.util.Arrays;
import lipsanon.array.IntArray;
import lipsanon.array.IntPairList;
import lipsanon.array.Space;
import lipsanon.array.Steps;
import lipsanon.io.Progress;

/** The two passes of semi-NCA over a depth-first numbering. See {@link Dominators}. */
final class SemiNca {
  private final int count;
  private final IntArray parent;

  /**
   * By number v: where the sources of the further edges into v begin; v + 1: where they end. Later
   * the semidominator.
   */
  private final IntArray start;

  /** Sources of the noted edges, by target: read in order, while chains would be read at random. */
  private final IntArray sources;

  /** By number: the semidominator found so far, or the least on the compressed path. */
  private final IntArray label;

  /** By number: the next on the compressed path up. */
  private final IntArray above;

  private final Space space;
  private final Progress progress;
  private int[] stack = new int[1024];
  private InnerJoins joins;

  SemiNca(DepthFirst order, Space space, Progress progress) {
    this.count = order.count;
    this.parent = order.parent;
    this.space = space;
    this.progress = progress;
    this.label = order.scratch();
    this.above = space.hotInts(count + 1);
    this.start = space.hotInts(count + 2);
    this.sources = sortByTarget(order.cross);
  }

  /** Counting sort of the noted edges by target. */
  private IntArray sortByTarget(IntPairList edges) {
    final IntArray start = this.start;
    for (int p = 0; p < edges.pages(); p++) {
      IntArray pairs = edges.page(p);
      Steps.up(
          0,
          edges.pageSize(p),
          (from, to) -> {
            for (int i = from; i < to; i++) {
              start.getAndIncrement(pairs.get(2 * i) + 1);
            }
          });
    }
    for (int v = 1; v <= count + 1; v++) {
      start.set(v, start.get(v) + start.get(v - 1));
    }
    IntArray sorted = space.isMapped() ? inBands(edges) : inOnePass(edges);
    // every start has moved to its end, which is the next one's start
    edges.release();
    return sorted;
  }

  private IntArray inOnePass(IntPairList edges) {
    final IntArray start = this.start;
    IntArray sorted = space.ints(edges.size());
    for (int p = 0; p < edges.pages(); p++) {
      IntArray pairs = edges.page(p);
      Steps.up(
          0,
          edges.pageSize(p),
          (from, to) -> {
            for (int i = from; i < to; i++) {
              sorted.set(start.getAndIncrement(pairs.get(2 * i)), pairs.get(2 * i + 1));
            }
          });
    }
    return sorted;
  }

  private IntArray inBands(IntPairList edges) {
    return Bands.sort(
        start,
        count + 1,
        space,
        (first, last, sink) -> {
          for (int p = 0; p < edges.pages(); p++) {
            IntArray pairs = edges.page(p);
            Steps.up(0, edges.pageSize(p), (from, to) -> feed(pairs, from, to, first, last, sink));
          }
        });
  }

  private static void feed(IntArray pairs, int from, int to, int first, int last, Bands.Sink sink) {
    for (int i = from; i < to; i++) {
      int target = pairs.get(2 * i);
      if (target >= first && target < last) {
        sink.add(target, pairs.get(2 * i + 1));
      }
    }
  }

  IntArray compute() {
    for (int v = 0; v <= count; v++) {
      above.set(v, parent.get(v));
    }
    IntArray ends = space.ints(count + 2);
    Steps.up(
        0,
        count + 2,
        (from, to) -> {
          for (int v = from; v < to; v++) {
            ends.set(v, start.get(v));
          }
        });
    Steps.down(1, count + 1, this::semidominators);
    final IntArray idom = above;
    idom.set(0, 0);
    Steps.up(1, count + 1, this::dominators);
    joins = new InnerJoins(sources, space);
    Steps.up(1, count + 1, (from, to) -> joins(from, to, ends));
    space.release(label);
    space.release(start);
    space.release(ends);
    return idom;
  }

  /** The joins, once {@link #compute} is done; their sources are to be released by the caller. */
  InnerJoins joins() {
    return joins;
  }

  private void joins(int first, int end, IntArray ends) {
    final IntArray idom = above;
    for (int v = first; v < end; v++) {
      int dominator = idom.get(v);
      int tree = parent.get(v);
      if (dominator == tree) {
        continue;
      }
      int to = ends.get(v);
      boolean direct = false;
      for (int i = ends.get(v - 1); i < to && !direct; i++) {
        direct = sources.get(i) == dominator;
      }
      if (!direct) {
        joins.add(v, tree, ends.get(v - 1), to);
      }
    }
  }

  private void semidominators(int first, int end) {
    final IntArray parent = this.parent;
    final IntArray start = this.start;
    final IntArray sources = this.sources;
    final IntArray above = this.above;
    final IntArray label = this.label;
    int to = start.get(end - 1);
    for (int v = end - 1; v >= first; v--) {
      int semi = parent.get(v);
      int from = start.get(v - 1);
      for (int i = from; i < to; i++) {
        int least = sources.get(i);
        if (least >= v) {
          // most often there is nothing to compress
          least = above.get(least) <= v ? label.get(least) : leastAbove(least, v);
        }
        if (least < semi) {
          semi = least;
        }
      }
      to = from;
      label.set(v, semi);
      // the labels change with compression; the place of this node's list is free for its own
      start.set(v, semi);
    }
    progress.at(count - first);
  }

  private void dominators(int first, int end) {
    final IntArray idom = above;
    for (int v = first; v < end; v++) {
      int candidate = parent.get(v);
      int semi = start.get(v);
      while (candidate > semi) {
        candidate = idom.get(candidate);
      }
      idom.set(v, candidate);
    }
  }

  /** The least label on the tree path from {@code from} up to, not including, what is below v. */
  private int leastAbove(int from, int v) {
    final IntArray above = this.above;
    final IntArray label = this.label;
    int depth = 0;
    int top = from;
    int next = above.get(top);
    while (next > v) {
      if (depth == stack.length) {
        stack = Arrays.copyOf(stack, depth * 2);
      }
      stack[depth++] = top;
      top = next;
      next = above.get(top);
    }
    int least = label.get(top);
    while (depth > 0) {
      int x = stack[--depth];
      int own = label.get(x);
      if (own > least) {
        label.set(x, least);
      } else {
        least = own;
      }
      above.set(x, next);
    }
    return label.get(from);
  }
}
