package lipsanon.graph;

import java.util.Arrays;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.array.Steps;
import lipsanon.io.Progress;

/** The two passes of semi-NCA over a depth-first numbering. See {@link Dominators}. */
final class SemiNca {
  private final int count;
  private final IntArray parent;

  /** By number v: where the sources of the further edges into v end, and those into v + 1 begin. */
  private final IntArray ends;

  /** Sources of the noted edges, by target: read in order, while chains would be read at random. */
  private final IntArray sources;

  /** By number: the semidominator; later the immediate dominator. */
  private final IntArray semi;

  /**
   * By number: above, the next on the compressed path up; below, the semidominator found so far, or
   * the least on that path. Side by side, since whoever reads one reads the other.
   */
  private LongArray paths;

  private final Space space;
  private final Progress progress;
  private int[] stack = new int[1024];
  private InnerJoins joins;

  SemiNca(DepthFirst order, Space space, Progress progress) throws Exception {
    this.count = order.count;
    this.parent = order.parent;
    this.space = space;
    this.progress = progress;
    this.semi = order.scratch();
    SourceLists lists = SourceLists.of(order.cross, count, space);
    this.ends = lists.ends;
    this.sources = lists.sources;
    this.paths = space.hotLongs(count + 1);
  }

  private static int above(long path) {
    return (int) (path >>> Integer.SIZE);
  }

  private static int label(long path) {
    return (int) path;
  }

  private static long path(int above, int label) {
    return (long) above << Integer.SIZE | label;
  }

  IntArray compute() {
    Steps.down(1, count + 1, this::semidominators);
    space.release(paths);
    paths = null;
    IntArray idom = space.isMapped() ? space.hotInts(count + 1) : semi;
    idom.set(0, 0);
    Steps.up(1, count + 1, (from, to) -> dominators(from, to, idom));
    joins = new InnerJoins(sources, space);
    Steps.up(1, count + 1, (from, to) -> joins(from, to, idom));
    space.release(ends);
    if (idom != semi) {
      space.release(semi);
    }
    return idom;
  }

  /** The joins, once {@link #compute} is done; their sources are to be released by the caller. */
  InnerJoins joins() {
    return joins;
  }

  private void joins(int first, int end, IntArray idom) {
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
    final IntArray ends = this.ends;
    final IntArray sources = this.sources;
    final LongArray paths = this.paths;
    int to = ends.get(end - 1);
    for (int v = end - 1; v >= first; v--) {
      int tree = parent.get(v);
      int semi = tree;
      int from = ends.get(v - 1);
      for (int i = from; i < to; i++) {
        int least = sources.get(i);
        if (least >= v) {
          // most often there is nothing to compress
          long path = paths.get(least);
          least = above(path) <= v ? label(path) : leastAbove(least, v);
        }
        if (least < semi) {
          semi = least;
        }
      }
      to = from;
      paths.set(v, path(tree, semi));
      // the labels change with compression
      this.semi.set(v, semi);
    }
    progress.at(count - first);
  }

  /** A semidominator is read before the dominator takes its place, if they are in one array. */
  private void dominators(int first, int end, IntArray idom) {
    for (int v = first; v < end; v++) {
      int candidate = parent.get(v);
      int least = semi.get(v);
      while (candidate > least) {
        candidate = idom.get(candidate);
      }
      idom.set(v, candidate);
    }
  }

  /** The least label on the tree path from {@code from} up to, not including, what is below v. */
  private int leastAbove(int from, int v) {
    final LongArray paths = this.paths;
    int depth = 0;
    int top = from;
    long path = paths.get(top);
    while (above(path) > v) {
      if (depth == stack.length) {
        stack = Arrays.copyOf(stack, depth * 2);
      }
      stack[depth++] = top;
      top = above(path);
      path = paths.get(top);
    }
    int next = above(path);
    int least = label(path);
    while (depth > 0) {
      int x = stack[--depth];
      least = Math.min(least, label(paths.get(x)));
      paths.set(x, path(next, least));
    }
    return least;
  }
}
