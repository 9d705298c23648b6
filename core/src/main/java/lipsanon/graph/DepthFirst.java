package lipsanon.graph;

import java.util.BitSet;
import lipsanon.array.Bits;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.IntPairBuckets;
import lipsanon.array.IntPairList;
import lipsanon.array.Space;
import lipsanon.array.Steps;
import lipsanon.io.Progress;

/**
 * A depth-first numbering of the retained objects, from the super-root (number 0), made for the
 * dominator computation that follows.
 *
 * <p>Objects without edges of interest ("leaves", more than half of a usual heap) get no number:
 * they dominate nothing, so their dominator can be found afterwards. What is left is numbered 1 to
 * {@code count}. Besides tree parents the search notes each further edge: into a numbered node in
 * {@code cross}, into a leaf in {@code leafEdges}. Edges into objects that the super-root refers to
 * are left out, since their dominator is known.
 *
 * <p>Linear time; no recursion: the tree parents serve as the stack. 8 bytes a numbered node
 * besides the arrays of the result, 8 bytes a noted edge.
 */
public final class DepthFirst {
  /**
   * In {@link #number} while the search goes on: a leaf that was not met yet. So of a target only
   * one word has to be fetched; afterwards it is 0 as for all that is not retained.
   */
  private static final int LEAF = Integer.MIN_VALUE;

  /** By node: its number if positive, 0 if not retained, or for a leaf ~(number of its holder). */
  final IntArray number;

  /** By number: the node. */
  final IntArray node;

  /**
   * By number: the number of the parent in the tree; 0 for children of the super-root. Given back
   * once it is known what types hold.
   */
  final IntArray parent;

  /** Edges noted: the number of the target and that of the source. */
  final IntPairBuckets cross;

  /** Edges noted into leaves: the node, and the number of the source. */
  final IntPairList leafEdges;

  /** The nodes that are not retained. */
  final BitSet unretained = new BitSet();

  /** The highest number. */
  int count;

  /** By number: children of the super-root. A bit is nearer than the parent. */
  private final Bits belowTop;

  /** The edge noted last: an array may hold one object a million times. */
  private int lastTarget;

  private int lastSource;

  private final ObjectGraph graph;

  /** By number: where its edge list goes on. */
  private final IntArray cursor;

  /** By type: the class object whose dominator hangs on the instances, or -1. */
  private final int[] classTarget;

  private final boolean anyClassTarget;

  private DepthFirst(ObjectGraph graph, Space space) {
    this.graph = graph;
    this.number = space.hotInts(graph.count);
    this.leafEdges = new IntPairList(space);
    this.classTarget = graph.classNode.clone();
    boolean any = dropRootClasses();
    this.anyClassTarget = any;
    int inner = 1 + countInner();
    this.cross = new IntPairBuckets(space, inner);
    this.belowTop = new Bits(inner);
    this.node = space.ints(inner);
    this.parent = space.ints(inner);
    this.cursor = space.ints(inner);
  }

  /**
   * Numbers. The graph must be that of {@link Reachability.Result#graph}: retained nodes are those
   * that its edges reach from its roots.
   */
  public static DepthFirst compute(ObjectGraph graph, Space space, Progress progress) {
    DepthFirst search = new DepthFirst(graph, space);
    progress.phase("numbering", search.node.length());
    search.run(progress);
    return search;
  }

  /** All nodes that are not retained. */
  public BitSet unretained() {
    return unretained;
  }

  /** The scratch array of the search, free for others now. */
  IntArray scratch() {
    return cursor;
  }

  private boolean dropRootClasses() {
    // marks roots for a moment; the numbers are all 0 before and after
    for (int root : graph.roots) {
      number.set(root, 1);
    }
    boolean any = false;
    for (int t = 0; t < classTarget.length; t++) {
      if (classTarget[t] >= 0 && number.get(classTarget[t]) != 0) {
        classTarget[t] = -1;
      }
      any |= classTarget[t] >= 0;
    }
    for (int root : graph.roots) {
      number.set(root, 0);
    }
    return any;
  }

  /**
   * Counts the nodes that are no leaves, and marks those among them that have no edges but that to
   * a class object of interest: so the search need not look at the types of leaves.
   */
  private int countInner() {
    int[] inner = new int[1];
    Steps.up(0, graph.count, (from, to) -> inner[0] += countInner(from, to));
    return inner[0];
  }

  private int countInner(int from, int to) {
    int inner = 0;
    for (int n = from; n < to; n++) {
      if (graph.firstEdge.get(n) >= 0) {
        inner++;
      } else if (anyClassTarget && classTarget[graph.type.get(n)] >= 0) {
        graph.firstEdge.set(n, ObjectGraph.CLASS_EDGE_ONLY);
        inner++;
      } else {
        graph.firstEdge.set(n, ObjectGraph.NO_EDGES);
        number.set(n, LEAF);
      }
    }
    return inner;
  }

  private boolean isLeaf(int n) {
    return graph.firstEdge.get(n) == ObjectGraph.NO_EDGES;
  }

  private void run(Progress progress) {
    for (int root : graph.roots) {
      if (isLeaf(root)) {
        number.set(root, ~0);
      }
    }
    // all roots get their mark first, so that edges into them are recognised from the start
    IntList pending = new IntList();
    for (int root : graph.roots) {
      if (number.get(root) == 0) {
        number.set(root, Integer.MAX_VALUE);
        pending.add(root);
      }
    }
    for (int i = 0; i < pending.size(); i++) {
      int root = pending.get(i);
      if (number.get(root) == Integer.MAX_VALUE) {
        tree(root, progress);
      }
    }
    Steps.up(
        0,
        graph.count,
        (from, to) -> {
          for (int n = from; n < to; n++) {
            int found = number.get(n);
            if (found == LEAF || found == 0) {
              number.set(n, 0);
              unretained.set(n);
            }
          }
        });
  }

  /** Numbers all that is reached from a root and has no number yet. */
  private void tree(int root, Progress progress) {
    final IntPages.Runner edges = graph.edges.runner();
    final IntArray firstEdge = graph.firstEdge;
    final IntArray number = this.number;
    final IntArray cursor = this.cursor;
    final IntArray parent = this.parent;
    int current = enter(root, 0, edges);
    while (current != 0) {
      int at = cursor.get(current);
      int child = -1;
      while (at >= 0) {
        int edge = edges.get(at);
        int target = edge < 0 ? ~edge : edge;
        at = edge < 0 ? -1 : at + 1;
        int other = number.get(target);
        if (other == 0) {
          child = target;
          break;
        }
        if (other > 0 && other != current && other != Integer.MAX_VALUE) {
          noteCross(other, current);
        }
      }
      cursor.set(current, at);
      if (child >= 0) {
        current = enter(child, current, edges);
        if ((count & 0xffff) == 0) {
          progress.at(count);
        }
      } else {
        current = parent.get(current);
      }
    }
  }

  private void noteCross(int target, int source) {
    if (!belowTop.get(target) && (target != lastTarget || source != lastSource)) {
      cross.add(target, source);
      lastTarget = target;
      lastSource = source;
    }
  }

  /**
   * Numbers a node and its leaves; what is left to the search begins behind them. Reading all its
   * edges in one go lets the processor fetch the targets side by side, and finds them in its cache
   * when the search comes back to them.
   */
  private int enter(int n, int from, IntPages.Runner edges) {
    int mine = ++count;
    number.set(n, mine);
    node.set(mine, n);
    parent.set(mine, from);
    if (from == 0) {
      belowTop.set(mine);
    }
    int at = graph.firstEdge.get(n);
    int cls = anyClassTarget ? classTarget[graph.type.get(n)] : -1;
    cursor.set(mine, at >= 0 ? leaves(at, mine, edges) : at);
    return cls < 0 ? mine : enterClass(cls, mine, edges);
  }

  /**
   * The class object comes before all other inner targets; it is nearly always numbered already.
   */
  private int enterClass(int cls, int mine, IntPages.Runner edges) {
    int other = number.get(cls);
    if (other == LEAF) {
      number.set(cls, ~mine);
    } else if (other == 0) {
      return enter(cls, mine, edges);
    } else if (other > 0 && other != mine && other != Integer.MAX_VALUE) {
      noteCross(other, mine);
    } else if (other < 0 && other != ~0 && other != ~mine) {
      leafEdges.add(cls, mine);
    }
    return mine;
  }

  /**
   * Numbers the leaves among the targets of a list.
   *
   * @return where its first other target stands, -1 if there is none: many have leaves only
   */
  private int leaves(int first, int mine, IntPages.Runner edges) {
    final IntArray number = this.number;
    int inner = -1;
    int at = first;
    int edge;
    do {
      edge = edges.get(at);
      int target = edge < 0 ? ~edge : edge;
      int other = number.get(target);
      if (other >= 0) {
        inner = inner < 0 ? at : inner;
      } else if (other == LEAF) {
        number.set(target, ~mine);
      } else if (other != ~0 && other != ~mine) {
        leafEdges.add(target, mine);
      }
      at++;
    } while (edge >= 0);
    return inner;
  }
}
