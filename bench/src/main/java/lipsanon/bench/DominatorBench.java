package lipsanon.bench;

import java.io.BufferedOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.SplittableRandom;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.Space;
import lipsanon.format.hprof.HprofReader;
import lipsanon.graph.Dominators;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.Reachability;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.SnapshotContent;
import lipsanon.io.FileSource;
import lipsanon.io.Progress;

/**
 * Times reachability and dominators, on the graph of a dump or on a hard one, and can write the
 * graph for the C++ programs it is compared with. Prints the best seconds of several runs, and a
 * checksum of the dominators that must be the same everywhere.
 */
public final class DominatorBench {
  private DominatorBench() {}

  /**
   * Runs.
   *
   * @param args a dump or the name of a hard graph; how many runs; a file for the graph (optional)
   */
  public static void main(String[] args) throws Exception {
    int runs = Integer.parseInt(args[1]);
    double best = Double.MAX_VALUE;
    double bestReach = Double.MAX_VALUE;
    double cpu = 0;
    long checksum = 0;
    for (int run = 0; run < runs; run++) {
      Space space = Space.heap();
      ObjectGraph graph = graph(args[0], space);
      if (run == 0 && args.length > 2) {
        write(graph, Path.of(args[2]));
      }
      System.gc();
      long cpuBefore = cpuNanos();
      long before = System.nanoTime();
      // its own depth-first search finds what is reached
      Dominators dominators = Dominators.compute(graph, space, Progress.NONE);
      double seconds = (System.nanoTime() - before) / 1e9;
      if (seconds < best) {
        best = seconds;
        cpu = (cpuNanos() - cpuBefore) / 1e9;
      }
      before = System.nanoTime();
      Reachability.compute(graph, space, Progress.NONE);
      bestReach = Math.min(bestReach, (System.nanoTime() - before) / 1e9);
      checksum = checksum(graph, dominators);
    }
    System.out.printf("%.3f %.3f %.3f %x%n", best, cpu, bestReach, checksum);
  }

  private static long cpuNanos() {
    return ((com.sun.management.OperatingSystemMXBean)
            java.lang.management.ManagementFactory.getOperatingSystemMXBean())
        .getProcessCpuTime();
  }

  /** Over all nodes, the super-root being 0 and node n being n + 1. */
  private static long checksum(ObjectGraph graph, Dominators dominators) {
    long sum = 0;
    for (int n = 0; n < graph.count; n++) {
      if (dominators.isRetained(n)) {
        sum +=
            (n + 1L) * 0x9E3779B97F4A7C15L ^ (dominators.dominator(n) + 1L) * 0xC2B2AE3D27D4EB4FL;
      }
    }
    return sum;
  }

  private static ObjectGraph graph(String name, Space space) throws Exception {
    if (!Files.exists(Path.of(name))) {
      return hard(name, space);
    }
    try (FileSource source = new FileSource(Path.of(name))) {
      SnapshotContent content = HprofReader.read(source, space, false, Progress.NONE);
      ObjectGraph graph = content.graph();
      // strong edges alone: the other programs know no others
      return new ObjectGraph(
          graph.count,
          graph.firstEdge,
          graph.edges,
          graph.type,
          graph.classNode,
          graph.roots,
          new SpecialEdges());
    }
  }

  private interface Edges {
    /** Fills in the targets of a node and says how many. */
    int of(int node, int[] targets);
  }

  private static ObjectGraph hard(String name, Space space) {
    int million = 1_000_000;
    SplittableRandom random = new SplittableRandom(11);
    return switch (name) {
      case "chain" ->
          build(10 * million, 1, space, (n, t) -> n + 1 < 10 * million ? one(t, n + 1) : 0);
      case "doubly-linked-chain" ->
          build(
              10 * million,
              2,
              space,
              (n, t) -> {
                int size = 0;
                if (n > 0) {
                  t[size++] = n - 1;
                }
                if (n + 1 < 10 * million) {
                  t[size++] = n + 1;
                }
                return size;
              });
      case "layered" ->
          build(
              3000 * 3000,
              3,
              space,
              (n, t) -> {
                int layer = n / 3000;
                for (int i = 0; i < 3 && layer < 2999; i++) {
                  t[i] = (layer + 1) * 3000 + random.nextInt(3000);
                }
                return layer < 2999 ? 3 : 0;
              });
      case "random" ->
          build(
              10 * million,
              3,
              space,
              (n, t) -> {
                for (int i = 0; i < 3; i++) {
                  t[i] = random.nextInt(10 * million);
                }
                return 3;
              });
      case "binary-tree" ->
          build(
              (1 << 23) - 1,
              2,
              space,
              (n, t) -> {
                if (2L * n + 2 >= (1 << 23) - 1) {
                  return 0;
                }
                t[0] = 2 * n + 1;
                t[1] = 2 * n + 2;
                return 2;
              });
      case "one-array" ->
          build(
              20 * million + 1,
              20 * million,
              space,
              (n, t) -> {
                if (n > 0) {
                  return 0;
                }
                for (int i = 0; i < 20 * million; i++) {
                  t[i] = i + 1;
                }
                return 20 * million;
              });
      default -> throw new IllegalArgumentException("no dump and no hard graph: " + name);
    };
  }

  private static int one(int[] targets, int target) {
    targets[0] = target;
    return 1;
  }

  private static ObjectGraph build(int count, int most, Space space, Edges edges) {
    IntArray first = space.ints(count);
    IntPages pages = new IntPages(space);
    EdgeAppender appender = new EdgeAppender(pages);
    int[] targets = new int[most];
    for (int n = 0; n < count; n++) {
      int size = edges.of(n, targets);
      appender.begin(size);
      for (int i = 0; i < size; i++) {
        appender.add(targets[i]);
      }
      first.set(n, appender.end());
    }
    int[] roots = most == 3 && count == 9_000_000 ? new int[3000] : new int[1];
    Arrays.setAll(roots, i -> i);
    return new ObjectGraph(
        count, first, pages, space.ints(count), new int[] {-1}, roots, new SpecialEdges());
  }

  /**
   * Big-endian: count of nodes with the super-root (u4), count of edges (u8), then for each node
   * its count of targets (u4) and these (u4 each). Node 0 is the super-root.
   */
  private static void write(ObjectGraph graph, Path file) throws IOException {
    long edges = graph.roots.length;
    for (int n = 0; n < graph.count; n++) {
      edges += targets(graph, n, null);
    }
    try (DataOutputStream out =
        new DataOutputStream(new BufferedOutputStream(Files.newOutputStream(file), 1 << 20))) {
      out.writeInt(graph.count + 1);
      out.writeLong(edges);
      out.writeInt(graph.roots.length);
      for (int root : graph.roots) {
        out.writeInt(root + 1);
      }
      for (int n = 0; n < graph.count; n++) {
        out.writeInt(targets(graph, n, null));
        targets(graph, n, out);
      }
    }
  }

  private static int targets(ObjectGraph graph, int node, DataOutputStream out) throws IOException {
    int count = 0;
    int cls = graph.classNode[graph.type.get(node)];
    if (cls >= 0) {
      count++;
      if (out != null) {
        out.writeInt(cls + 1);
      }
    }
    int at = graph.firstEdge.get(node);
    if (at >= 0) {
      int edge;
      do {
        edge = graph.edges.get(at++);
        count++;
        if (out != null) {
          out.writeInt((edge < 0 ? ~edge : edge) + 1);
        }
      } while (edge >= 0);
    }
    return count;
  }
}
