package lipsanon.format.nettrace;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;

/** Finds the generation of an address by the ranges of the heap. */
final class Generations {
  private final long[] starts;
  private final long[] ends;
  private final int[] numbers;
  private int last;

  Generations(List<HeapEvents.Range> ranges) {
    List<HeapEvents.Range> sorted =
        ranges.stream()
            .filter(range -> range.used() > 0)
            .sorted(Comparator.comparingLong(HeapEvents.Range::start))
            .toList();
    starts = sorted.stream().mapToLong(HeapEvents.Range::start).toArray();
    ends = sorted.stream().mapToLong(range -> range.start() + range.used()).toArray();
    numbers = sorted.stream().mapToInt(range -> Math.min(4, range.generation())).toArray();
  }

  /** The generation, or -1 outside of all. */
  int of(long address) {
    if (starts.length == 0) {
      return -1;
    }
    // objects come in the order of the heap
    if (address >= starts[last] && address < ends[last]) {
      return numbers[last];
    }
    int at = Arrays.binarySearch(starts, address);
    at = at < 0 ? -at - 2 : at;
    if (at < 0 || address >= ends[at]) {
      return -1;
    }
    last = at;
    return numbers[at];
  }
}
