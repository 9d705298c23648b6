package lipsanon.question;

import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.SplittableRandom;

/**
 * Finds which of many contents are equal, by fingerprints of 128 bits: two hashes of 64 bits that
 * have nothing to do with each other. That two different contents of a heap share one is less
 * likely than a wrong bit in memory. Costs about 60 bytes for each different content; nothing is
 * read twice. What is known of a group lies together, so that an addition meets few cache lines.
 */
final class EqualContents {
  /** Words of a group: both halves of its fingerprint, sum, largest, count and kept object. */
  private static final int OTHER = 1;

  private static final int SUM = 2;
  private static final int LARGEST = 3;
  private static final int COUNT_AND_KEPT = 4;
  private static final int WORDS = 5;

  /** Groups come in pages, so that growing copies nothing. */
  private static final int PAGE_SHIFT = 14;

  private static final int PAGE_MASK = (1 << PAGE_SHIFT) - 1;

  private long[][] pages = new long[4][];
  private int size;

  /** Open addressing: the number of a group and one, or 0. */
  private int[] table = new int[64];

  /** A fingerprint in the making. One after another: {@link #clear} begins anew. */
  static final class Fingerprint {
    private static final long FNV_BASIS = 0xcbf29ce484222325L;
    private static final long FNV_PRIME = 0x100000001b3L;
    private static final long ODD = 0x9e3779b97f4a7c15L;
    private static final long MIX = 0xbf58476d1ce4e5b9L;

    /** Drawn anew by each process, so that no contents can be made which all hash alike. */
    private static final long DRAWN = new SplittableRandom().nextLong();

    private static final VarHandle WORDS =
        MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);

    /** FNV-1a (Fowler, Noll, Vo), 64 bits, eight bytes at a time and folded. */
    private long one;

    /**
     * A multiplying hash with rotation, after the mixing step of SplitMix64 (Steele and others).
     */
    private long other;

    Fingerprint() {
      clear();
    }

    long one() {
      rest();
      return one;
    }

    long other() {
      rest();
      return other;
    }

    /** Bytes that are not hashed yet: fewer than eight, the first of them lowest. */
    private long pending;

    private int waiting;

    void clear() {
      one = FNV_BASIS ^ DRAWN;
      other = ODD + DRAWN;
      pending = 0;
      waiting = 0;
    }

    /** Hashes eight bytes at a time, however they come in pieces. */
    void add(byte[] bytes, int from, int to) {
      int at = from;
      while (waiting > 0 && at < to) {
        push(bytes[at++]);
      }
      long a = one;
      long b = other;
      for (; to - at >= Long.BYTES; at += Long.BYTES) {
        long word = (long) WORDS.get(bytes, at);
        a = (a ^ word) * FNV_PRIME;
        a ^= a >>> 32;
        b = Long.rotateLeft(b ^ (word + 1) * ODD, 27) * MIX;
      }
      one = a;
      other = b;
      while (at < to) {
        push(bytes[at++]);
      }
    }

    private void push(byte next) {
      pending |= (next & 0xffL) << 8 * waiting;
      if (++waiting == Long.BYTES) {
        word(pending);
        pending = 0;
        waiting = 0;
      }
    }

    private void word(long word) {
      one = (one ^ word) * FNV_PRIME;
      one ^= one >>> 32;
      other = Long.rotateLeft(other ^ (word + 1) * ODD, 27) * MIX;
    }

    /** What is left of the bytes, with their number. */
    private void rest() {
      if (waiting > 0) {
        word(pending ^ (long) waiting << 60);
        pending = 0;
        waiting = 0;
      }
    }

    void add(CharSequence text) {
      rest();
      long a = one;
      long b = other;
      for (int i = 0; i < text.length(); i++) {
        char c = text.charAt(i);
        a = (a ^ c) * FNV_PRIME;
        b = Long.rotateLeft(b ^ (c + 1L) * ODD, 27) * MIX;
      }
      one = a;
      other = b;
    }

    /** A character, as in a text. */
    void add(char c) {
      rest();
      one = (one ^ c) * FNV_PRIME;
      other = Long.rotateLeft(other ^ (c + 1L) * ODD, 27) * MIX;
    }

    void add(int number) {
      rest();
      one = (one ^ number) * FNV_PRIME;
      other = Long.rotateLeft(other ^ (number + 1L) * ODD, 27) * MIX;
    }
  }

  /**
   * Adds an object.
   *
   * @param bytes what would be saved without it
   * @return the number of its group
   */
  int add(int node, Fingerprint contents, long bytes) {
    return add(node, contents.one(), contents.other(), bytes);
  }

  /** The same with the two halves of a fingerprint. */
  int add(int node, long one, long other, long bytes) {
    int mask = table.length - 1;
    int slot = slot(one, mask);
    while (table[slot] != 0) {
      int group = table[slot] - 1;
      long[] page = pages[group >>> PAGE_SHIFT];
      int at = (group & PAGE_MASK) * WORDS;
      if (page[at] == one && page[at + OTHER] == other) {
        page[at + SUM] += bytes;
        page[at + COUNT_AND_KEPT] += 1L << Integer.SIZE;
        if (bytes > page[at + LARGEST]) {
          page[at + LARGEST] = bytes;
          page[at + COUNT_AND_KEPT] =
              page[at + COUNT_AND_KEPT] >>> Integer.SIZE << Integer.SIZE | node;
        }
        return group;
      }
      slot = slot + 1 & mask;
    }
    table[slot] = size + 1;
    return found(node, one, other, bytes);
  }

  private int found(int node, long one, long other, long bytes) {
    int group = size++;
    int number = group >>> PAGE_SHIFT;
    if (number == pages.length) {
      pages = Arrays.copyOf(pages, 2 * number);
    }
    if (pages[number] == null) {
      pages[number] = new long[WORDS << PAGE_SHIFT];
    }
    long[] page = pages[number];
    int at = (group & PAGE_MASK) * WORDS;
    page[at] = one;
    page[at + OTHER] = other;
    page[at + SUM] = bytes;
    page[at + LARGEST] = bytes;
    page[at + COUNT_AND_KEPT] = 1L << Integer.SIZE | node;
    if (size > table.length / 2) {
      grow();
    }
    return group;
  }

  private void grow() {
    int[] larger = new int[table.length * 4];
    int mask = larger.length - 1;
    for (int g = 0; g < size; g++) {
      int slot = slot(word(g, 0), mask);
      while (larger[slot] != 0) {
        slot = slot + 1 & mask;
      }
      larger[slot] = g + 1;
    }
    table = larger;
  }

  private static int slot(long one, int mask) {
    return (int) (one * Fingerprint.ODD >>> 32) & mask;
  }

  private long word(int group, int word) {
    return pages[group >>> PAGE_SHIFT][(group & PAGE_MASK) * WORDS + word];
  }

  int size() {
    return size;
  }

  /** The first of the largest of a group: the one that would stay. */
  int kept(int group) {
    return (int) word(group, COUNT_AND_KEPT);
  }

  int count(int group) {
    return (int) (word(group, COUNT_AND_KEPT) >>> Integer.SIZE);
  }

  /** What all but the largest of a group take. */
  long wasted(int group) {
    return word(group, SUM) - word(group, LARGEST);
  }
}
