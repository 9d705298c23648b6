package lipsanon.graph;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import lipsanon.array.Bits;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.io.Progress;

/**
 * Finds what strong references reach from the roots, and how deep it lies: a breadth-first search,
 * level by level. Narrow levels are lists. Wide ones are bits, gone through in the order of nodes,
 * so that everything but the targets is read in the order of memory; several threads take a range
 * of words each, and mark what they find in sets of their own, since a bit cannot be set by two at
 * once. Two may find the same node: both then write the same depth, which does no harm.
 *
 * <p>Linear time; the lists, or a bit a node for each thread, twice.
 */
final class BreadthFirst {
  /** A level with this part of all nodes is wide. */
  private static final int WIDE = 100;

  /** Fewer nodes are not worth a thread. */
  private static final int SCAN_FROM = 1 << 14;

  private final ObjectGraph graph;
  private final IntArray depth;
  private final int[] classNode;

  /** Levels of so many nodes are wide. */
  private final int wideFrom;

  private boolean openClasses = true;

  /** By thread: the nodes of the level as bits; null until a level is wide. */
  private int[][] here;

  /** By thread: those that it found for the next level. */
  private int[][] next;

  private BreadthFirst(ObjectGraph graph, IntArray depth, int wideFrom) {
    this.graph = graph;
    this.depth = depth;
    this.classNode = graph.classNode;
    this.wideFrom = wideFrom;
  }

  /**
   * Searches.
   *
   * @param depth by node: zeros; afterwards 1 for a root, and 0 for what is not reached
   */
  static void search(ObjectGraph graph, IntArray depth, Progress progress) throws Exception {
    search(graph, depth, Math.max(SCAN_FROM, graph.count / WIDE), progress);
  }

  /** The same, where levels of so many nodes are wide. */
  static void search(ObjectGraph graph, IntArray depth, int wideFrom, Progress progress)
      throws Exception {
    new BreadthFirst(graph, depth, wideFrom).search(progress);
  }

  private void search(Progress progress) throws Exception {
    IntList frontier = new IntList();
    for (int root : graph.roots) {
      if (depth.get(root) == 0) {
        depth.set(root, 1);
        frontier.add(root);
      }
    }
    IntList spare = new IntList();
    boolean asBits = false;
    long size = frontier.size();
    // about, since two threads may find the same node
    long found = 0;
    for (int level = 1; size > 0; level++) {
      lookForOpenClasses(level);
      if (size >= wideFrom) {
        if (!asBits) {
          mark(frontier);
        }
        asBits = true;
        size = scanLevel(level);
      } else {
        if (asBits) {
          collect(frontier);
        }
        asBits = false;
        spare.clear();
        expand(frontier, level, spare);
        IntList done = frontier;
        frontier = spare;
        spare = done;
        size = frontier.size();
      }
      found += size;
      progress.at(Math.min(found, graph.count));
    }
  }

  private void mark(IntList frontier) {
    if (here == null) {
      int words = graph.count / Integer.SIZE + 1;
      here = new int[Workers.threads()][words];
      next = new int[Workers.threads()][words];
    }
    for (int i = 0; i < frontier.size(); i++) {
      int node = frontier.get(i);
      here[0][node >>> 5] |= 1 << node;
    }
  }

  /** Turns bits into a list; no bit is left. */
  private void collect(IntList nodes) {
    nodes.clear();
    for (int w = 0; w < here[0].length; w++) {
      for (int bits = take(w); bits != 0; bits &= bits - 1) {
        nodes.add(w * Integer.SIZE + Bits.lowest(bits));
      }
    }
  }

  /** The nodes of a word, which no thread has any more then. */
  private int take(int word) {
    int bits = 0;
    for (int[] one : here) {
      bits |= one[word];
      one[word] = 0;
    }
    return bits;
  }

  /**
   * Expands a wide level.
   *
   * @return about how many nodes were found
   */
  private long scanLevel(int level) throws Exception {
    int threads = here.length;
    int words = here[0].length;
    long[] found = new long[threads];
    List<Callable<Void>> works = new ArrayList<>();
    for (int i = 0; i < threads; i++) {
      int part = i;
      works.add(
          () -> {
            int from = (int) ((long) words * part / threads);
            int to = (int) ((long) words * (part + 1) / threads);
            found[part] = scan(from, to, level, next[part]);
            return null;
          });
    }
    Workers.all(works);
    int[][] done = here;
    here = next;
    next = done;
    return Arrays.stream(found).sum();
  }

  private long scan(int from, int to, int level, int[] mine) {
    final IntArray firstEdge = graph.firstEdge;
    final IntPages.Runner edges = graph.edges.runner();
    final IntArray depth = this.depth;
    final IntArray type = graph.type;
    final int[] classNode = this.classNode;
    final boolean openClasses = this.openClasses;
    long found = 0;
    for (int w = from; w < to; w++) {
      for (int bits = take(w); bits != 0; bits &= bits - 1) {
        int node = w * Integer.SIZE + Bits.lowest(bits);
        if (openClasses) {
          int cls = classNode[type.get(node)];
          if (cls >= 0 && depth.get(cls) == 0) {
            depth.set(cls, level + 1);
            mine[cls >>> 5] |= 1 << cls;
            found++;
          }
        }
        int at = firstEdge.get(node);
        while (at >= 0) {
          int edge = edges.get(at++);
          int target = edge < 0 ? ~edge : edge;
          if (depth.get(target) == 0) {
            depth.set(target, level + 1);
            mine[target >>> 5] |= 1 << target;
            found++;
          }
          if (edge < 0) {
            break;
          }
        }
      }
    }
    return found;
  }

  /**
   * Once every class object is found, the types of objects need not be looked at any more: that
   * saves one cache miss an object. Looked at on the first levels, and now and then on the later
   * ones.
   */
  private void lookForOpenClasses(int level) {
    if (openClasses && (level < 64 || level % 1024 == 0)) {
      openClasses = false;
      for (int cls : classNode) {
        if (cls >= 0 && depth.get(cls) == 0) {
          openClasses = true;
          return;
        }
      }
    }
  }

  /** As {@link #scan}, for lists: written out, since this is the innermost loop of either. */
  private void expand(IntList frontier, int level, IntList next) {
    final IntArray firstEdge = graph.firstEdge;
    final IntPages.Cursor edges = graph.edges.cursor();
    final IntArray type = graph.type;
    final IntArray depth = this.depth;
    final int[] classNode = this.classNode;
    final boolean openClasses = this.openClasses;
    for (int i = 0; i < frontier.size(); i++) {
      int node = frontier.get(i);
      if (openClasses) {
        int cls = classNode[type.get(node)];
        if (cls >= 0 && depth.get(cls) == 0) {
          depth.set(cls, level + 1);
          next.add(cls);
        }
      }
      int at = firstEdge.get(node);
      while (at >= 0) {
        int edge = edges.get(at++);
        int target = edge < 0 ? ~edge : edge;
        if (depth.get(target) == 0) {
          depth.set(target, level + 1);
          next.add(target);
        }
        if (edge < 0) {
          break;
        }
      }
    }
  }
}
