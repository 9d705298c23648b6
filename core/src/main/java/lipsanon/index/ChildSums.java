package lipsanon.index;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.PriorityQueue;

/** Adds up the children of one object in the dominator tree. One thread. */
public final class ChildSums {
  // by type: count, shallow, retained, and the largest child's retained size and number
  private static final int COUNT = 0;
  private static final int SHALLOW = 1;
  private static final int RETAINED = 2;
  private static final int LARGEST = 3;
  private static final int EXAMPLE = 4;

  private final int holder;
  private final int most;
  private final long[][] types;
  private final PriorityQueue<long[]> largest =
      new PriorityQueue<>(Comparator.comparingLong(entry -> entry[0]));

  /** What retains no more than this is not among the largest. */
  private long least = -1;

  private long count;
  private long retained;

  /**
   * Nothing yet.
   *
   * @param holder the object, -1 for the super-root
   * @param typeCount how many types there are
   * @param most children that are kept one by one
   */
  public ChildSums(int holder, int typeCount, int most) {
    this.holder = holder;
    this.most = most;
    this.types = new long[typeCount][];
  }

  /** Adds a child; both sizes in the same unit. */
  public void add(int node, int type, long shallowUnits, long retainedUnits) {
    count++;
    retained += retainedUnits;
    long[] sums = types[type];
    if (sums == null) {
      sums = new long[] {0, 0, 0, -1, -1};
      types[type] = sums;
    }
    sums[COUNT]++;
    sums[SHALLOW] += shallowUnits;
    sums[RETAINED] += retainedUnits;
    if (retainedUnits > sums[LARGEST]) {
      sums[LARGEST] = retainedUnits;
      sums[EXAMPLE] = node;
    }
    if (retainedUnits > least) {
      keep(new long[] {retainedUnits, node});
    }
  }

  private void keep(long[] child) {
    largest.add(child);
    if (largest.size() > most) {
      largest.poll();
      least = largest.peek()[0];
    }
  }

  /** Adds what another has added up. */
  public void addAll(ChildSums other) {
    count += other.count;
    retained += other.retained;
    for (int type = 0; type < types.length; type++) {
      long[] more = other.types[type];
      long[] sums = types[type];
      if (more == null || sums == null) {
        types[type] = more == null ? sums : more;
        continue;
      }
      for (int i = COUNT; i <= RETAINED; i++) {
        sums[i] += more[i];
      }
      if (more[LARGEST] > sums[LARGEST]) {
        sums[LARGEST] = more[LARGEST];
        sums[EXAMPLE] = more[EXAMPLE];
      }
    }
    other.largest.forEach(this::keep);
  }

  /** The sums so far, in bytes. */
  public Brood brood(long unitBytes) {
    List<Brood.OfType> rows = new ArrayList<>();
    for (int t = 0; t < types.length; t++) {
      long[] sums = types[t];
      if (sums != null) {
        rows.add(
            new Brood.OfType(
                t,
                sums[COUNT],
                sums[SHALLOW] * unitBytes,
                sums[RETAINED] * unitBytes,
                (int) sums[EXAMPLE]));
      }
    }
    List<long[]> sorted = new ArrayList<>(largest);
    sorted.sort(Comparator.comparingLong((long[] child) -> -child[0]));
    return new Brood(
        holder,
        count,
        retained * unitBytes,
        rows,
        sorted.stream().map(child -> (int) child[1]).toList());
  }
}
