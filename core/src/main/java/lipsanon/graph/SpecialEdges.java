package lipsanon.graph;

import lipsanon.array.IntList;

/**
 * The edges of a snapshot that are not strong, kind by kind. Not safe for use by several threads.
 */
public final class SpecialEdges {
  /** Kept only as long as memory suffices. */
  public final Pairs soft = new Pairs();

  /** Never keep their target. Phantom references are among them. */
  public final Pairs weak = new Pairs();

  /** From the runtime's finalizer machinery. */
  public final Pairs finalizer = new Pairs();

  /** No edges. */
  public SpecialEdges() {}

  /** Adds all edges of another. */
  public void addAll(SpecialEdges other) {
    soft.addAll(other.soft);
    weak.addAll(other.weak);
    finalizer.addAll(other.finalizer);
  }

  /** Pairs of nodes. */
  public static final class Pairs {
    private final IntList from = new IntList();
    private final IntList to = new IntList();

    private Pairs() {}

    /** Adds an edge. */
    public void add(int source, int target) {
      from.add(source);
      to.add(target);
    }

    /** Number of edges. */
    public int size() {
      return from.size();
    }

    /** Source of edge {@code i}. */
    public int from(int i) {
      return from.get(i);
    }

    /** Target of edge {@code i}. */
    public int to(int i) {
      return to.get(i);
    }

    private void addAll(Pairs other) {
      for (int i = 0; i < other.size(); i++) {
        add(other.from(i), other.to(i));
      }
    }
  }
}
