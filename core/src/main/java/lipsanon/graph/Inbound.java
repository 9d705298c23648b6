package lipsanon.graph;

import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.Space;
import lipsanon.array.Steps;

/**
 * The references turned round: for each node the nodes that refer to it, in ascending order, by
 * edges of every kind but those to class objects that each instance has. A node that refers to
 * another several times stands in its list as often. A counting sort: linear, 4 bytes a node and 4
 * an edge.
 */
public final class Inbound {
  /** By node: where its list ends; it begins where that of the node before ends. */
  private final IntArray end;

  private final IntArray sources;

  private Inbound(IntArray end, IntArray sources) {
    this.end = end;
    this.sources = sources;
  }

  /** Turns the graph round as it is now, retaining or not. */
  public static Inbound of(ObjectGraph graph, Space space) {
    int count = graph.count;
    final IntPages.Runner edges = graph.edges.runner();
    final IntArray firstEdge = graph.firstEdge;
    final IntArray place = space.hotInts(count + 1);
    Steps.up(
        0,
        count,
        (from, to) -> {
          for (int n = from; n < to; n++) {
            int at = firstEdge.get(n);
            if (at >= 0) {
              int edge;
              do {
                edge = edges.get(at++);
                place.getAndIncrement((edge < 0 ? ~edge : edge) + 1);
              } while (edge >= 0);
            }
          }
        });
    SpecialEdges.Pairs[] others = others(graph);
    for (SpecialEdges.Pairs pairs : others) {
      for (int i = 0; i < pairs.size(); i++) {
        place.getAndIncrement(pairs.to(i) + 1);
      }
    }
    for (int n = 1; n <= count; n++) {
      place.set(n, place.get(n) + place.get(n - 1));
    }
    if (space.isMapped()) {
      return new Inbound(place, inBands(graph, edges, place, space));
    }
    IntArray sources = space.ints(Math.max(1, place.get(count)));
    Steps.up(
        0,
        count,
        (from, to) -> {
          for (int n = from; n < to; n++) {
            int at = firstEdge.get(n);
            if (at >= 0) {
              int edge;
              do {
                edge = edges.get(at++);
                sources.set(place.getAndIncrement(edge < 0 ? ~edge : edge), n);
              } while (edge >= 0);
            }
          }
        });
    for (SpecialEdges.Pairs pairs : others) {
      for (int i = 0; i < pairs.size(); i++) {
        sources.set(place.getAndIncrement(pairs.to(i)), pairs.from(i));
      }
    }
    return new Inbound(place, sources);
  }

  private static SpecialEdges.Pairs[] others(ObjectGraph graph) {
    return new SpecialEdges.Pairs[] {
      graph.special.soft, graph.special.weak, graph.special.finalizer
    };
  }

  private static IntArray inBands(
      ObjectGraph graph, IntPages.Runner edges, IntArray place, Space space) {
    return Bands.sort(
        place,
        graph.count,
        space,
        (first, last, sink) -> {
          Steps.up(0, graph.count, (from, to) -> feed(graph, edges, from, to, first, last, sink));
          for (SpecialEdges.Pairs pairs : others(graph)) {
            for (int i = 0; i < pairs.size(); i++) {
              if (pairs.to(i) >= first && pairs.to(i) < last) {
                sink.add(pairs.to(i), pairs.from(i));
              }
            }
          }
        });
  }

  /** The edges of some nodes whose targets are in a band. */
  private static void feed(
      ObjectGraph graph,
      IntPages.Runner edges,
      int from,
      int to,
      int first,
      int last,
      Bands.Sink sink) {
    for (int n = from; n < to; n++) {
      int at = graph.firstEdge.get(n);
      if (at >= 0) {
        int edge;
        do {
          edge = edges.get(at++);
          int target = edge < 0 ? ~edge : edge;
          if (target >= first && target < last) {
            sink.add(target, n);
          }
        } while (edge >= 0);
      }
    }
  }

  /** Gives the memory back. */
  public void release(Space space) {
    space.release(end);
    space.release(sources);
  }

  /** Number of edges, parallel ones included. */
  public int count() {
    return end.length() < 2 ? 0 : end.get(end.length() - 2);
  }

  /** Where the list of a node begins. */
  public int begin(int node) {
    return node == 0 ? 0 : end.get(node - 1);
  }

  /** Where the list of a node ends. */
  public int end(int node) {
    return end.get(node);
  }

  /** The sources, list after list. */
  public IntArray sources() {
    return sources;
  }
}
