package lipsanon.question;

import java.util.Arrays;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;

/**
 * Finds which of many contents are equal, by fingerprints of 128 bits: two hashes of 64 bits that
 * have nothing to do with each other. That two different contents of a heap share one is less
 * likely than a wrong bit in memory. Costs about 60 bytes for each different content; nothing is
 * read twice.
 */
final class EqualContents {
  private final LongIntMap groups = new LongIntMap();
  private final IntList first = new IntList();
  private final IntList next = new IntList();
  private long[] others = new long[64];
  private long[] counts = new long[64];
  private long[] sums = new long[64];
  private long[] largest = new long[64];

  /** A fingerprint in the making. One after another: {@link #clear} begins anew. */
  static final class Fingerprint {
    private static final long FNV_BASIS = 0xcbf29ce484222325L;
    private static final long FNV_PRIME = 0x100000001b3L;
    private static final long ODD = 0x9e3779b97f4a7c15L;

    /** FNV-1a (Fowler, Noll, Vo), 64 bits. */
    private long one;

    /**
     * A multiplying hash with rotation, after the mixing step of SplitMix64 (Steele and others).
     */
    private long other;

    Fingerprint() {
      clear();
    }

    void clear() {
      one = FNV_BASIS;
      other = ODD;
    }

    void add(byte[] bytes, int from, int to) {
      long a = one;
      long b = other;
      for (int i = from; i < to; i++) {
        a = (a ^ bytes[i]) * FNV_PRIME;
        b = Long.rotateLeft(b ^ (bytes[i] + 1L) * ODD, 27) * 0xbf58476d1ce4e5b9L;
      }
      one = a;
      other = b;
    }

    void add(CharSequence text) {
      long a = one;
      long b = other;
      for (int i = 0; i < text.length(); i++) {
        char c = text.charAt(i);
        a = (a ^ c) * FNV_PRIME;
        b = Long.rotateLeft(b ^ (c + 1L) * ODD, 27) * 0xbf58476d1ce4e5b9L;
      }
      one = a;
      other = b;
    }

    void add(int number) {
      one = (one ^ number) * FNV_PRIME;
      other = Long.rotateLeft(other ^ (number + 1L) * ODD, 27) * 0xbf58476d1ce4e5b9L;
    }
  }

  /**
   * Adds an object.
   *
   * @param bytes what would be saved without it
   * @return the number of its group
   */
  int add(int node, Fingerprint contents, long bytes) {
    int head = groups.get(contents.one);
    int group = head;
    while (group >= 0 && others[group] != contents.other) {
      group = next.get(group);
    }
    if (group < 0) {
      group = first.size();
      first.add(node);
      next.add(head);
      groups.put(contents.one, group);
      if (group == counts.length) {
        others = Arrays.copyOf(others, 2 * group);
        counts = Arrays.copyOf(counts, 2 * group);
        sums = Arrays.copyOf(sums, 2 * group);
        largest = Arrays.copyOf(largest, 2 * group);
      }
      others[group] = contents.other;
    }
    counts[group]++;
    sums[group] += bytes;
    largest[group] = Math.max(largest[group], bytes);
    return group;
  }

  int size() {
    return first.size();
  }

  int first(int group) {
    return first.get(group);
  }

  long count(int group) {
    return counts[group];
  }

  /** What all but the largest of a group take. */
  long wasted(int group) {
    return sums[group] - largest[group];
  }
}
