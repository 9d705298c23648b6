package lipsanon.graph;

import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.Space;
import lipsanon.array.Steps;

/**
 * The references turned round: for each node the nodes that refer to it, in ascending order, by
 * edges of every kind but those to class objects that each instance has. A node that refers to
 * another several times stands in its list as often.
 *
 * <p>Targets are cut into buckets of neighbours. All edges are gone through in the order of memory
 * and dealt out to the buckets; then those of one bucket after the other are sorted by counting. So
 * all that is read or written at random is as small as a bucket, and stays in the processor's
 * cache. Where memory is short this is done for a band of buckets at a time, each of which costs
 * another look at all edges. Linear time but for that; 6 bytes an edge of a band.
 */
public final class Inbound {
  /** A bucket has 2^15 nodes. */
  private static final int SHIFT = 15;

  /** Takes lists. */
  public interface Sink {
    /**
     * The lists of nodes that follow each other, beginning with 0 and going on where those before
     * ended. Both arrays are lent for the call.
     *
     * @param count how many nodes
     * @param ends by list: where it ends in {@code sources}; the first one begins at 0, any other
     *     where the one before ends
     */
    void lists(int count, int[] ends, int[] sources) throws IOException;
  }

  private final ObjectGraph graph;
  private final int shift;
  private final IntPages.Runner edges;
  private final SpecialEdges.Pairs[] others;

  /** Targets of edges that come behind the others, so that their lists have to be sorted. */
  private final BitSet unsorted = new BitSet();

  /** By bucket: how many edges lead there. */
  private final long[] sizes;

  /** By bucket of the band: where its next edge goes, at the end where its edges end. */
  private int[] next;

  /** By edge of the band: the target's place in its bucket. */
  private char[] keys = {};

  /** By edge of the band: the node it leads from. */
  private int[] values = {};

  /** By node of a bucket: how many edges lead there, then where its list ends. */
  private final int[] ends;

  /** The lists of a bucket. */
  private int[] sources = {};

  private Inbound(ObjectGraph graph, int shift) {
    this.graph = graph;
    this.shift = shift;
    this.edges = graph.edges.runner();
    this.others =
        new SpecialEdges.Pairs[] {graph.special.soft, graph.special.weak, graph.special.finalizer};
    this.sizes = new long[(graph.count - 1 >> shift) + 1];
    this.ends = new int[1 << shift];
  }

  /**
   * Turns the graph round as it is now, retaining or not.
   *
   * @return the number of edges, parallel ones included
   */
  public static long feed(ObjectGraph graph, Space space, Sink sink) throws IOException {
    return feed(graph, SHIFT, space.isMapped() ? space.bandInts() / 3L * 2 : Long.MAX_VALUE, sink);
  }

  /**
   * The same with other limits.
   *
   * @param shift a bucket has 2 to this nodes, at most 2^16
   * @param room edges of a band, if no single bucket has more
   */
  static long feed(ObjectGraph graph, int shift, long room, Sink sink) throws IOException {
    Inbound inbound = new Inbound(graph, shift);
    inbound.count();
    long all = Arrays.stream(inbound.sizes).sum();
    inbound.run(Math.min(room, Integer.MAX_VALUE - 8), sink);
    return all;
  }

  private void count() {
    Steps.up(0, graph.count, this::count);
    for (SpecialEdges.Pairs pairs : others) {
      for (int i = 0; i < pairs.size(); i++) {
        sizes[pairs.to(i) >>> shift]++;
        unsorted.set(pairs.to(i));
      }
    }
  }

  private void count(int from, int to) {
    final IntPages.Runner edges = this.edges;
    final IntArray firstEdge = graph.firstEdge;
    final long[] sizes = this.sizes;
    final int shift = this.shift;
    for (int n = from; n < to; n++) {
      int at = firstEdge.get(n);
      if (at >= 0) {
        int edge;
        do {
          edge = edges.get(at++);
          sizes[target(edge) >>> shift]++;
        } while (edge >= 0);
      }
    }
  }

  /** The last edge of a list is the complement of its target. */
  private static int target(int edge) {
    return edge ^ edge >> Integer.SIZE - 1;
  }

  private void run(long room, Sink sink) throws IOException {
    for (int from = 0, to; from < sizes.length; from = to) {
      long size = sizes[from];
      to = from + 1;
      while (to < sizes.length && size + sizes[to] <= room) {
        size += sizes[to++];
      }
      deal(from, to, Math.toIntExact(size));
      for (int bucket = from; bucket < to; bucket++) {
        sort(bucket, bucket - from, sink);
      }
    }
  }

  /** Deals the edges into some buckets out to these. */
  private void deal(int firstBucket, int lastBucket, int size) {
    if (keys.length < size) {
      keys = new char[size];
      values = new int[size];
    }
    next = new int[lastBucket - firstBucket];
    for (int b = 1; b < next.length; b++) {
      next[b] = next[b - 1] + (int) sizes[firstBucket + b - 1];
    }
    int first = firstBucket << shift;
    int span = (int) Math.min(graph.count - first, (long) next.length << shift);
    Steps.up(0, graph.count, (from, to) -> deal(from, to, first, span));
    for (SpecialEdges.Pairs pairs : others) {
      for (int i = 0; i < pairs.size(); i++) {
        int key = pairs.to(i) - first;
        if (key >= 0 && key < span) {
          int place = next[key >>> shift]++;
          keys[place] = (char) (key & ends.length - 1);
          values[place] = pairs.from(i);
        }
      }
    }
  }

  private void deal(int from, int to, int first, int span) {
    final IntPages.Runner edges = this.edges;
    final IntArray firstEdge = graph.firstEdge;
    final int[] next = this.next;
    final char[] keys = this.keys;
    final int[] values = this.values;
    final int shift = this.shift;
    final int mask = ends.length - 1;
    for (int n = from; n < to; n++) {
      int at = firstEdge.get(n);
      if (at >= 0) {
        int edge;
        do {
          edge = edges.get(at++);
          int key = target(edge) - first;
          if (key >= 0 && key < span) {
            int place = next[key >>> shift]++;
            keys[place] = (char) (key & mask);
            values[place] = n;
          }
        } while (edge >= 0);
      }
    }
  }

  /** Sorts a bucket, and hands its lists over. */
  private void sort(int bucket, int inBand, Sink sink) throws IOException {
    int size = (int) sizes[bucket];
    int end = next[inBand];
    int first = bucket << shift;
    int count = Math.min(ends.length, graph.count - first);
    Arrays.fill(ends, 0);
    for (int i = end - size; i < end; i++) {
      ends[keys[i]]++;
    }
    int begin = 0;
    for (int k = 0; k < count; k++) {
      int many = ends[k];
      ends[k] = begin;
      begin += many;
    }
    if (sources.length < size) {
      sources = new int[size];
    }
    spread(end - size, end);
    for (int n = unsorted.nextSetBit(first); n >= 0 && n < first + count; ) {
      int k = n - first;
      Arrays.sort(sources, k == 0 ? 0 : ends[k - 1], ends[k]);
      n = unsorted.nextSetBit(n + 1);
    }
    sink.lists(count, ends, sources);
  }

  private void spread(int from, int to) {
    final char[] keys = this.keys;
    final int[] values = this.values;
    final int[] ends = this.ends;
    final int[] sources = this.sources;
    for (int i = from; i < to; i++) {
      sources[ends[keys[i]]++] = values[i];
    }
  }
}
