package lipsanon.graph;

import java.util.Arrays;
import java.util.BitSet;
import java.util.HashMap;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.Space;
import lipsanon.io.Progress;

/**
 * Finds which objects are retained, by what strength, and how deep they lie.
 *
 * <p>A breadth-first search over strong edges comes first, level by level and on several threads
 * when a level is wide. What only soft references keep, and then what only waits for a finalizer,
 * is found by a relaxation in order of depth that also corrects the depths of strong objects to
 * which these open a shorter way. Time is linear in nodes and edges but for that correction, which
 * is a Dijkstra search over what changes; 4 bytes a node, and the frontiers.
 */
public final class Reachability {
  /** Retained objects that only soft references keep. */
  private final BitSet soft = new BitSet();

  /** Retained objects that only wait for their finalizer. */
  private final BitSet finalizer = new BitSet();

  private final ObjectGraph graph;
  private final Space space;
  private final IntArray depth;
  private final int[] classNode;
  private int[] roots;

  private Reachability(ObjectGraph graph, Space space) {
    this.graph = graph;
    this.space = space;
    this.depth = space.hotInts(graph.count);
    this.classNode = graph.classNode;
    this.roots = graph.roots;
  }

  /**
   * What was found.
   *
   * @param depth by node: its depth, 1 for a root; 0 for an unretained object
   * @param soft nodes of strength soft
   * @param finalizer nodes of strength finalizer
   * @param finalizerRoots nodes that got a root because they wait for their finalizer
   * @param graph the graph with these roots and with the soft edges that retain added to its edges
   * @param addedEdges how many these are: soft edges they remain besides
   */
  public record Result(
      IntArray depth,
      BitSet soft,
      BitSet finalizer,
      int[] finalizerRoots,
      ObjectGraph graph,
      int addedEdges) {
    /** The strength of a node. */
    public Strength strength(int node) {
      if (depth.get(node) == 0) {
        return Strength.UNRETAINED;
      }
      if (soft.get(node)) {
        return Strength.SOFT;
      }
      return finalizer.get(node) ? Strength.FINALIZER : Strength.STRONG;
    }
  }

  /**
   * Searches. Afterwards the graph's edges are the retaining ones (and those of unretained nodes).
   */
  public static Result compute(ObjectGraph graph, Space space, Progress progress) throws Exception {
    Reachability search = new Reachability(graph, space);
    progress.phase("finding what is kept", graph.count);
    BreadthFirst.search(graph, search.depth, progress);
    search.softPhase();
    int[] finalizerRoots = search.finalizerPhase();
    return search.result(finalizerRoots);
  }

  private Result result(int[] finalizerRoots) {
    int[] all = roots;
    if (finalizerRoots.length > 0) {
      all = Arrays.copyOf(roots, roots.length + finalizerRoots.length);
      System.arraycopy(finalizerRoots, 0, all, roots.length, finalizerRoots.length);
    }
    int added = activateSoftEdges();
    return new Result(
        space.cool(depth), soft, finalizer, finalizerRoots, graph.withRoots(all), added);
  }

  private void softPhase() {
    SpecialEdges.Pairs pairs = graph.special.soft;
    if (pairs.size() == 0) {
      return;
    }
    Map<Integer, IntList> bySource = sources(pairs);
    Relaxation relaxation = new Relaxation(bySource, soft);
    for (int i = 0; i < pairs.size(); i++) {
      int from = pairs.from(i);
      if (depth.get(from) != 0 && depth.get(pairs.to(i)) == 0) {
        relaxation.seedLater(from);
      }
    }
    relaxation.run();
  }

  private int[] finalizerPhase() {
    SpecialEdges.Pairs pairs = graph.special.finalizer;
    IntList all = new IntList();
    Map<Integer, IntList> bySource = pairs.size() == 0 ? Map.of() : sources(graph.special.soft);
    while (true) {
      IntList found = new IntList();
      BitSet seen = new BitSet();
      for (int i = 0; i < pairs.size(); i++) {
        int to = pairs.to(i);
        if (depth.get(pairs.from(i)) != 0 && depth.get(to) == 0 && !seen.get(to)) {
          seen.set(to);
          found.add(to);
        }
      }
      if (found.isEmpty()) {
        break;
      }
      Relaxation relaxation = new Relaxation(bySource, finalizer);
      for (int i = 0; i < found.size(); i++) {
        all.add(found.get(i));
        relaxation.offer(found.get(i), 1);
      }
      relaxation.run();
      // an object found by an earlier round may be referred to by machinery found only now
      for (int i = 0; i < pairs.size(); i++) {
        int to = pairs.to(i);
        if (finalizer.get(to) && depth.get(pairs.from(i)) != 0 && depth.get(to) > 1) {
          Relaxation again = new Relaxation(bySource, finalizer);
          all.add(to);
          again.offer(to, 1);
          again.run();
        }
      }
    }
    return all.toArray();
  }

  private static Map<Integer, IntList> sources(SpecialEdges.Pairs pairs) {
    Map<Integer, IntList> bySource = new HashMap<>();
    for (int i = 0; i < pairs.size(); i++) {
      bySource.computeIfAbsent(pairs.from(i), key -> new IntList()).add(pairs.to(i));
    }
    return bySource;
  }

  /** Settles nodes in order of depth, beginning with what was offered. */
  private final class Relaxation {
    private final Map<Integer, IntList> softEdges;
    private final BitSet newlyFound;
    private final TreeMap<Integer, IntList> byDepth = new TreeMap<>();

    Relaxation(Map<Integer, IntList> softEdges, BitSet newlyFound) {
      this.softEdges = softEdges;
      this.newlyFound = newlyFound;
    }

    /** Has the soft edges of a retained node looked at. */
    void seedLater(int node) {
      byDepth.computeIfAbsent(depth.get(node), key -> new IntList()).add(node);
    }

    void offer(int node, int newDepth) {
      int old = depth.get(node);
      if (old != 0 && old <= newDepth) {
        return;
      }
      if (old == 0) {
        newlyFound.set(node);
      }
      depth.set(node, newDepth);
      byDepth.computeIfAbsent(newDepth, key -> new IntList()).add(node);
    }

    void run() {
      IntPages.Cursor edges = graph.edges.cursor();
      while (!byDepth.isEmpty()) {
        Map.Entry<Integer, IntList> level = byDepth.pollFirstEntry();
        int at = level.getKey();
        IntList nodes = level.getValue();
        for (int i = 0; i < nodes.size(); i++) {
          if (depth.get(nodes.get(i)) == at) {
            settle(nodes.get(i), at, edges);
          }
        }
      }
    }

    private void settle(int node, int at, IntPages.Cursor edges) {
      int cls = classNode[graph.type.get(node)];
      if (cls >= 0) {
        offer(cls, at + 1);
      }
      int position = graph.firstEdge.get(node);
      if (position >= 0) {
        int edge;
        do {
          edge = edges.get(position++);
          offer(edge < 0 ? ~edge : edge, at + 1);
        } while (edge >= 0);
      }
      IntList targets = softEdges.get(node);
      for (int i = 0; targets != null && i < targets.size(); i++) {
        int target = targets.get(i);
        if (depth.get(target) == 0 || soft.get(target) || finalizer.get(target)) {
          offer(target, at + 1);
        }
      }
    }
  }

  /**
   * Adds to the graph's edges the soft edges that retain: those into what strong edges do not keep.
   *
   * @return how many
   */
  private int activateSoftEdges() {
    SpecialEdges.Pairs pairs = graph.special.soft;
    Map<Integer, IntList> active = new HashMap<>();
    int added = 0;
    for (int i = 0; i < pairs.size(); i++) {
      int to = pairs.to(i);
      if (depth.get(pairs.from(i)) != 0 && (soft.get(to) || finalizer.get(to))) {
        active.computeIfAbsent(pairs.from(i), key -> new IntList()).add(to);
        added++;
      }
    }
    for (Map.Entry<Integer, IntList> entry : active.entrySet()) {
      graph.addEdges(entry.getKey(), entry.getValue());
    }
    return added;
  }
}
