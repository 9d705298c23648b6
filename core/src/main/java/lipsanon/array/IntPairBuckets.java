package lipsanon.array;

import java.util.Arrays;

/**
 * Growing rows of pairs of ints, sorted roughly by the first int while they are filled: each bucket
 * takes a range of first ints, small enough that what is then done to one bucket stays in the
 * processor's cache. Within a bucket pairs keep their order. Lives in a {@link Space}; buckets grow
 * by small pages out of large slabs. Filling is for one thread; several may read.
 */
public final class IntPairBuckets {
  /** Beyond so many buckets filling them would not stay in the cache. */
  private static final int MOST_BUCKETS = 1 << 10;

  /** First ints of a bucket, at least 2^14: fewer gain nothing. */
  private static final int LEAST_SHIFT = 14;

  /** A page holds 2^10 pairs. */
  private static final int PAGE_SHIFT = 10;

  private static final int PAGE_MASK = (1 << PAGE_SHIFT) - 1;

  /** A slab holds 2^17 pairs. */
  private static final int SLAB_SHIFT = 17;

  private static final int SLAB_MASK = (1 << SLAB_SHIFT) - 1;

  private final Space space;
  private final int shift;
  private IntArray[] slabs = new IntArray[4];

  /** Pages given out so far. */
  private int pages;

  /** By page: the next one of its bucket. */
  private int[] following = new int[16];

  /** By bucket: its first page. */
  private final int[] first;

  /** By bucket: the pages it has. */
  private final int[] pageCount;

  /** By bucket: where its next pair goes, if its page is not full. */
  private final int[] next;

  /**
   * Empty; takes no memory for pairs yet.
   *
   * @param keys first ints are from 0 to below this
   */
  public IntPairBuckets(Space space, int keys) {
    this.space = space;
    int bits = Integer.SIZE - Integer.numberOfLeadingZeros(Math.max(1, keys) - 1);
    this.shift = Math.max(LEAST_SHIFT, bits - Integer.numberOfTrailingZeros(MOST_BUCKETS));
    int buckets = (Math.max(1, keys) - 1 >>> shift) + 1;
    this.first = new int[buckets];
    this.pageCount = new int[buckets];
    this.next = new int[buckets];
  }

  /**
   * Appends.
   *
   * @throws TooManyElementsException beyond some two billion pairs
   */
  public void add(int key, int value) {
    int bucket = key >>> shift;
    int at = next[bucket];
    if ((at & PAGE_MASK) == 0) {
      at = addPage(bucket);
    }
    IntArray slab = slabs[at >>> SLAB_SHIFT];
    int slot = (at & SLAB_MASK) * 2;
    slab.set(slot, key);
    slab.set(slot + 1, value);
    next[bucket] = at + 1;
  }

  private int addPage(int bucket) {
    int page = pages++;
    int begin = page << PAGE_SHIFT;
    if ((begin & SLAB_MASK) == 0) {
      addSlab(page >>> SLAB_SHIFT - PAGE_SHIFT);
    }
    if (page == following.length) {
      following = Arrays.copyOf(following, page * 2);
    }
    if (pageCount[bucket] == 0) {
      first[bucket] = page;
    } else {
      // the full page ends before where its next pair would go
      following[next[bucket] - 1 >>> PAGE_SHIFT] = page;
    }
    pageCount[bucket]++;
    return begin;
  }

  private void addSlab(int slab) {
    if (slab == Integer.MAX_VALUE >>> SLAB_SHIFT) {
      throw new TooManyElementsException();
    }
    if (slab == slabs.length) {
      slabs = Arrays.copyOf(slabs, slab * 2);
    }
    slabs[slab] = space.ints(2 << SLAB_SHIFT);
  }

  /** The number of buckets. */
  public int buckets() {
    return next.length;
  }

  /** The first ints of a bucket begin here; those of the last one end below the keys' end. */
  public int firstKey(int bucket) {
    return bucket << shift;
  }

  /** The number of pairs in a bucket. */
  public int size(int bucket) {
    int count = pageCount[bucket];
    return count == 0 ? 0 : (count - 1 << PAGE_SHIFT) + (next[bucket] - 1 & PAGE_MASK) + 1;
  }

  /** Takes pairs that stand side by side. */
  public interface Run {
    /** The pairs from {@code from} to {@code to}, that one not included, at 2 x their place. */
    void take(IntArray pairs, int from, int to);
  }

  /** Hands over all pairs of a bucket, in the order in which they were added. */
  public void each(int bucket, Run run) {
    int left = size(bucket);
    for (int page = first[bucket]; left > 0; page = following[page]) {
      int begin = page << PAGE_SHIFT;
      int size = Math.min(left, 1 << PAGE_SHIFT);
      int from = begin & SLAB_MASK;
      run.take(slabs[begin >>> SLAB_SHIFT], from, from + size);
      left -= size;
    }
  }

  /** Forgets all pairs and gives the room back. */
  public void release() {
    for (IntArray slab : slabs) {
      if (slab != null) {
        space.release(slab);
      }
    }
    slabs = new IntArray[4];
    pages = 0;
    Arrays.fill(pageCount, 0);
    Arrays.fill(next, 0);
  }
}
