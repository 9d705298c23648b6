package lipsanon.graph;

import java.util.Arrays;

/**
 * The types that may hold one node and not its dominator, while they get fewer with each node that
 * refers to it.
 */
final class Narrowing {
  private final HeldSets sets;
  private int above;
  private int frequent;
  private int[] rare = new int[16];

  /** How many rare types are left; -1: these may be any. */
  private int rareCount;

  /** By type: the round in which it was met last. */
  private final int[] mark;

  private int round;

  Narrowing(HeldSets sets, int types) {
    this.sets = sets;
    this.mark = new int[types];
  }

  /** Begins with all types that do not hold a dominator, of that number. */
  void begin(int dominator) {
    above = dominator;
    frequent = ~HeldSets.frequent(sets.word(dominator));
    rareCount = -1;
  }

  /** Begins with what was found before. */
  void begin(int dominator, Held held) {
    above = dominator;
    frequent = held.frequent();
    rareCount = held.rare() == null ? -1 : held.rare().length;
    if (rareCount > 0) {
      rare = held.rare().clone();
    }
  }

  /** What is left. */
  Held held() {
    return new Held(frequent, rareCount < 0 ? null : Arrays.copyOf(rare, rareCount));
  }

  boolean isEmpty() {
    return frequent == 0 && rareCount == 0;
  }

  /** Leaves what holds an inner node, of that number, as well. */
  void meet(int number) {
    long word = sets.word(number);
    frequent &= HeldSets.frequent(word);
    if (rareCount < 0) {
      collect(number);
    } else if (rareCount > 0) {
      meetRare(HeldSets.nearest(word));
    }
  }

  /** Leaves some of the frequent types. */
  void limitTo(int frequentTypes) {
    frequent &= frequentTypes;
  }

  /** No rare type is left. */
  void dropRare() {
    rareCount = 0;
  }

  /** Leaves what is in a set as well. */
  void limitTo(Held limit) {
    frequent &= limit.frequent();
    int kept = 0;
    for (int i = 0; i < rareCount; i++) {
      if (HeldSets.isAmong(rare[i], limit.rare())) {
        rare[kept++] = rare[i];
      }
    }
    rareCount = kept;
  }

  /** Takes a type out. */
  void remove(int type) {
    int bit = sets.bits.of(type);
    frequent &= bit >= 0 ? ~(1 << bit) : -1;
    for (int i = 0; i < rareCount; i++) {
      if (rare[i] == type) {
        rare[i] = rare[--rareCount];
        return;
      }
    }
  }

  int rareCount() {
    return rareCount;
  }

  /** The rare types are those that hold a node of that number, and not the dominator. */
  void collect(int number) {
    rareCount = 0;
    round++;
    for (int at = HeldSets.nearest(sets.word(number)); at > above; at = sets.next(at)) {
      int[] others = sets.begunAt(at);
      for (int type : others) {
        collectType(type);
      }
      // where others begin, the own type may have begun further up
      if (others.length == 0 || sets.ownBegins(at)) {
        collectType(sets.type(at));
      }
    }
  }

  private void collectType(int type) {
    if (mark[type] == round || sets.bits.of(type) != TypeBits.RARE) {
      return;
    }
    mark[type] = round;
    if (rareCount == rare.length) {
      rare = Arrays.copyOf(rare, 2 * rareCount);
    }
    rare[rareCount++] = type;
  }

  /** Leaves the rare types that are met from a node upwards. */
  void meetRare(int from) {
    round++;
    for (int at = from; at > above; at = sets.next(at)) {
      mark[sets.type(at)] = round;
      for (int type : sets.begunAt(at)) {
        mark[type] = round;
      }
    }
    int kept = 0;
    for (int i = 0; i < rareCount; i++) {
      if (mark[rare[i]] == round) {
        rare[kept++] = rare[i];
      }
    }
    rareCount = kept;
  }
}
