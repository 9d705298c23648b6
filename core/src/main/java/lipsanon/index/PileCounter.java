package lipsanon.index;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.array.LongIntMap;

/** Counts the children of large objects by type, in the dominator tree. One thread. */
final class PileCounter {
  /** An object is large if it retains this share of the heap. */
  static final double LARGE = 0.05;

  private static final int LEAST_COUNT = 50;
  private static final int MOST_SLOTS = 100_000;
  private static final int MOST_PILES = 64;
  private static final int RECENT = 1 << 8;

  private final LongIntMap slots = new LongIntMap();
  private long[] keys = new long[64];
  private long[] counts = new long[64];
  private long[] units = new long[64];
  private int[] examples = new int[64];

  /**
   * Keys met of late, by some of their bits, with their slots: most children are of a few types.
   */
  private final long[] recentKeys = new long[RECENT];

  private final int[] recentSlots = new int[RECENT];

  PileCounter() {
    Arrays.fill(recentKeys, -1);
  }

  void add(int holder, int type, int node, long retainedUnits) {
    long key = (long) holder << 32 | type;
    int recent = (holder * 31 + type) & RECENT - 1;
    int slot = recentKeys[recent] == key ? recentSlots[recent] : slots.get(key);
    if (slot < 0) {
      if (slots.size() >= MOST_SLOTS) {
        return;
      }
      slot = slots.size();
      if (slot == keys.length) {
        keys = Arrays.copyOf(keys, slot * 2);
        counts = Arrays.copyOf(counts, slot * 2);
        units = Arrays.copyOf(units, slot * 2);
        examples = Arrays.copyOf(examples, slot * 2);
      }
      slots.put(key, slot);
      keys[slot] = key;
    }
    recentKeys[recent] = key;
    recentSlots[recent] = slot;
    counts[slot]++;
    units[slot] += retainedUnits;
    examples[slot] = node;
  }

  /** The holders with at least so many children. */
  Set<Integer> holders(long least) {
    Map<Integer, Long> sums = new HashMap<>();
    for (int i = 0; i < slots.size(); i++) {
      sums.merge((int) (keys[i] >>> 32), counts[i], Long::sum);
    }
    Set<Integer> holders = new TreeSet<>();
    sums.forEach(
        (holder, count) -> {
          if (count >= least) {
            holders.add(holder);
          }
        });
    return holders;
  }

  /** The piles that retain most. */
  List<Pile> largest(int unitBytes) {
    List<Pile> piles = new ArrayList<>();
    for (int i = 0; i < slots.size(); i++) {
      if (counts[i] >= LEAST_COUNT) {
        piles.add(
            new Pile(
                (int) (keys[i] >>> 32),
                (int) keys[i],
                counts[i],
                units[i] * unitBytes,
                examples[i]));
      }
    }
    piles.sort(Comparator.comparingLong(Pile::bytes).reversed());
    return List.copyOf(piles.subList(0, Math.min(MOST_PILES, piles.size())));
  }
}
