package lipsanon.graph;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.atomic.AtomicInteger;
import lipsanon.array.IntArray;
import lipsanon.array.IntPairBuckets;
import lipsanon.array.Space;

/**
 * The sources of noted edges, list after list in the order of their targets: a counting sort of one
 * bucket at a time, by several threads. All that is written at random is as small as a bucket.
 * Linear time; 4 bytes a target and an edge.
 */
final class SourceLists {
  /** By number of a target: where its list ends, and that of the next one begins. */
  final IntArray ends;

  final IntArray sources;

  private SourceLists(IntArray ends, IntArray sources) {
    this.ends = ends;
    this.sources = sources;
  }

  /**
   * Sorts; lists keep the order in which their edges were noted, which are given back.
   *
   * @param targets targets are numbers from 1 to this
   */
  static SourceLists of(IntPairBuckets edges, int targets, Space space) throws Exception {
    int buckets = edges.buckets();
    int[] begin = new int[buckets];
    int all = 0;
    for (int b = 0; b < buckets; b++) {
      begin[b] = all;
      all += edges.size(b);
    }
    IntArray ends = space.ints(targets + 1);
    IntArray sources = space.ints(Math.max(1, all));
    AtomicInteger next = new AtomicInteger();
    List<Callable<Void>> works = new ArrayList<>();
    for (int i = 0; i < Math.min(buckets, Workers.threads()); i++) {
      works.add(
          () -> {
            Bucket bucket = new Bucket(edges, targets, space, ends, sources);
            int mine;
            while ((mine = next.getAndIncrement()) < buckets) {
              bucket.sort(mine, begin[mine]);
            }
            return null;
          });
    }
    Workers.all(works);
    edges.release();
    return new SourceLists(ends, sources);
  }

  /** What one thread sorts a bucket with. */
  private static final class Bucket {
    private static final int[] NONE = {};

    private final IntPairBuckets edges;
    private final int targets;
    private final IntArray ends;
    private final IntArray sources;

    /** The most that is sorted on the heap before it goes to a file; 0 if there is no file. */
    private final int mostBand;

    /** By target of the bucket: how many sources, then where the next one goes. */
    private final int[] place;

    private int[] band = NONE;

    Bucket(IntPairBuckets edges, int targets, Space space, IntArray ends, IntArray sources) {
      this.edges = edges;
      this.targets = targets;
      this.ends = ends;
      this.sources = sources;
      this.mostBand = space.isMapped() ? space.bandInts() : 0;
      this.place = new int[edges.buckets() > 1 ? edges.firstKey(1) : Math.max(1, targets + 1)];
    }

    void sort(int bucket, int begin) {
      int first = edges.firstKey(bucket);
      // the buckets may reach further than the targets that there are
      int keys = (int) Math.max(0, Math.min(place.length, targets + 1L - first));
      int size = edges.size(bucket);
      Arrays.fill(place, 0);
      edges.each(bucket, (pairs, from, to) -> count(pairs, from, to, first));
      int at = begin;
      for (int k = 0; k < keys; k++) {
        int count = place[k];
        place[k] = at;
        at += count;
        ends.set(first + k, at);
      }
      if (size > mostBand) {
        edges.each(bucket, (pairs, from, to) -> spread(pairs, from, to, first));
      } else if (size > 0) {
        int[] row = band(size);
        edges.each(bucket, (pairs, from, to) -> spread(pairs, from, to, first, row, begin));
        for (int i = 0; i < size; i++) {
          sources.set(begin + i, row[i]);
        }
      }
    }

    private int[] band(int size) {
      if (band.length < size) {
        band = new int[Math.min(mostBand, size + (size >> 1))];
      }
      return band;
    }

    private void count(IntArray pairs, int from, int to, int first) {
      final int[] place = this.place;
      for (int i = from; i < to; i++) {
        place[pairs.get(2 * i) - first]++;
      }
    }

    private void spread(IntArray pairs, int from, int to, int first) {
      final int[] place = this.place;
      final IntArray sources = this.sources;
      for (int i = from; i < to; i++) {
        sources.set(place[pairs.get(2 * i) - first]++, pairs.get(2 * i + 1));
      }
    }

    private void spread(IntArray pairs, int from, int to, int first, int[] row, int begin) {
      final int[] place = this.place;
      for (int i = from; i < to; i++) {
        row[place[pairs.get(2 * i) - first]++ - begin] = pairs.get(2 * i + 1);
      }
    }
  }
}
