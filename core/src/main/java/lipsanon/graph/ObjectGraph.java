package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;

/**
 * The references of a snapshot, as its reader found them: nodes 0 to {@code count - 1}, strong
 * edges in lists, and the few edges of other kinds apart. The super-root is no node; the roots say
 * what it refers to.
 *
 * <p>The edge from an object to the object of its class is not stored once per object but once per
 * type ({@code classNode}): of a heap's references that is nearly half.
 */
public final class ObjectGraph {
  /** In {@code firstEdge}: the node has no strong edges but that to its class object, if any. */
  public static final int NO_EDGES = -1;

  /**
   * In {@code firstEdge}: as {@link #NO_EDGES}, and the class object's dominator hangs on the node.
   */
  static final int CLASS_EDGE_ONLY = -2;

  /** Number of objects. */
  public final int count;

  /**
   * By node: where its edges begin in {@link #edges}, or {@link #NO_EDGES}. A list runs to its
   * first negative element e, which stands for the target ~e.
   */
  public final IntArray firstEdge;

  /** Targets of strong edges, list after list. */
  public final IntPages edges;

  /** By node: its type. */
  public final IntArray type;

  /** By type: the node that each object of the type refers to as its class, or -1. */
  public final int[] classNode;

  /** Nodes that the super-root refers to, in the order of the snapshot; repetitions allowed. */
  public final int[] roots;

  /** Edges that are soft, weak or wait for a finalizer. */
  public final SpecialEdges special;

  /** For the few lists that are written anew: one for all, since each appender takes a page. */
  private final EdgeAppender late;

  /** Takes what the reader built; nothing is copied. */
  public ObjectGraph(
      int count,
      IntArray firstEdge,
      IntPages edges,
      IntArray type,
      int[] classNode,
      int[] roots,
      SpecialEdges special) {
    this.count = count;
    this.firstEdge = firstEdge;
    this.edges = edges;
    this.type = type;
    this.classNode = classNode;
    this.roots = roots;
    this.special = special;
    this.late = new EdgeAppender(edges);
  }

  /** The same graph with other roots. */
  ObjectGraph withRoots(int[] others) {
    return new ObjectGraph(count, firstEdge, edges, type, classNode, others, special);
  }

  /** Adds targets behind the strong edges that a node has; all threads must be done with it. */
  public void addEdges(int node, IntList targets) {
    IntList all = targetsOf(node);
    for (int i = 0; i < targets.size(); i++) {
      all.add(targets.get(i));
    }
    late.begin(all.size());
    for (int i = 0; i < all.size(); i++) {
      late.add(all.get(i));
    }
    firstEdge.set(node, late.end());
  }

  /** The targets of a node's stored strong edges. For tests and for rare nodes, not for loops. */
  public IntList targetsOf(int node) {
    IntList targets = new IntList();
    int at = firstEdge.get(node);
    if (at < 0) {
      return targets;
    }
    for (; ; at++) {
      int edge = edges.get(at);
      targets.add(edge < 0 ? ~edge : edge);
      if (edge < 0) {
        return targets;
      }
    }
  }
}
