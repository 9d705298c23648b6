package lipsanon.select;

import java.io.IOException;
import java.util.Arrays;
import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.ListColumn;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/**
 * The retained size of a set of few objects in a large heap, exactly, without a look at all
 * objects: what {@link Removal} finds, in bytes alone.
 *
 * <p>What several objects free jointly hangs in the dominator tree on an object below which at
 * least two of them lie on different branches: only joins there are looked at, and only the
 * dominators of what keeps these are walked.
 */
public final class SetSize {
  /** Objects of a set, with all above them, that are worth this. */
  private static final int MOST = 2_000_000;

  private final Snapshot snapshot;
  private final BitSet set;

  /** Objects on which branches with members part; the super-root is -1. */
  private final BitSet forks = new BitSet();

  private boolean forkAtTop;

  /** By object above the set: the branch that was seen first; a second one makes a fork. */
  private final LongIntMap branches = new LongIntMap();

  private final LongIntMap joinNumber = new LongIntMap();
  private final IntList joins = new IntList();
  private final IntList keeperEnd = new IntList();
  private final IntList keepers = new IntList();

  /** By object that was walked: 0 not known, else 1 + number of the join above, or these. */
  private final LongIntMap keys = new LongIntMap();

  private static final int IN_SET = 1;
  private static final int TOP = 2;
  private static final int FIRST_JOIN = 3;

  private SetSize(Snapshot snapshot, BitSet set) {
    this.snapshot = snapshot;
    this.set = set;
  }

  /** The retained size in bytes. */
  public static long bytes(Snapshot snapshot, BitSet set) throws IOException {
    long size = new SetSize(snapshot, set).bytes();
    return size >= 0 ? size : Removal.of(snapshot, set).bytes();
  }

  private long bytes() {
    IntList tops = tops();
    if (tops == null) {
      return -1;
    }
    if (tops.size() < 2) {
      return tops.isEmpty() ? 0 : snapshot.retainedBytes(tops.get(0));
    }
    if (!collectJoins()) {
      return -1;
    }
    return joint(tops);
  }

  /** The members that no other member dominates; notes where their branches part. */
  private IntList tops() {
    IntList tops = new IntList();
    boolean[] topSeen = {false};
    for (int n = set.nextSetBit(0); n >= 0; n = set.nextSetBit(n + 1)) {
      if (snapshot.depth(n) == 0) {
        continue;
      }
      if (isBelowMember(n)) {
        continue;
      }
      tops.add(n);
      int child = n;
      int at = snapshot.dominator(n);
      while (at >= 0) {
        int known = branches.get(at);
        if (known >= 0) {
          if (known != child) {
            forks.set(at);
          }
          break;
        }
        branches.put(at, child);
        if (branches.size() > MOST) {
          return null;
        }
        child = at;
        at = snapshot.dominator(at);
      }
      if (at < 0) {
        forkAtTop |= topSeen[0];
        topSeen[0] = true;
      }
    }
    return tops;
  }

  private boolean isBelowMember(int node) {
    int at = snapshot.dominator(node);
    for (int i = 0; at >= 0; i++) {
      if (set.get(at)) {
        return true;
      }
      if (branches.get(at) >= 0) {
        // from here on the way was walked: no member is on it
        return false;
      }
      at = snapshot.dominator(at);
    }
    return false;
  }

  /** The joins that hang on forks. */
  private boolean collectJoins() {
    PackedColumn column = snapshot.joinColumn();
    ListColumn.Cursor cursor = snapshot.joinKeepers().cursor();
    BitSet classes = new BitSet();
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.types().get(t).classNode() >= 0) {
        classes.set(snapshot.types().get(t).classNode());
      }
    }
    long[] block = new long[64];
    for (long b = 0; b << 6 < column.count(); b++) {
      int size = column.block(b, block);
      for (int i = 0; i < size; i++) {
        int join = (int) block[i];
        int above = snapshot.dominator(join);
        boolean fork = above < 0 ? forkAtTop : forks.get(above);
        if (!fork || set.get(join)) {
          continue;
        }
        if (classes.get(join)) {
          // held by all its objects as well: left to the search over everything
          return false;
        }
        cursor.moveTo((int) (b << 6) + i);
        int count = cursor.next();
        for (int k = 0; k < count; k++) {
          keepers.add(cursor.list()[k]);
        }
        joinNumber.put(join, joins.size());
        joins.add(join);
        keeperEnd.add(keepers.size());
        if (keepers.size() > MOST) {
          return false;
        }
      }
    }
    return true;
  }

  private int keyOf(int node) {
    int known = keys.get(node);
    if (known >= 0) {
      return known;
    }
    IntList walked = new IntList();
    int at = node;
    int key = TOP;
    while (at >= 0) {
      known = keys.get(at);
      if (known >= 0) {
        key = known;
        break;
      }
      if (set.get(at)) {
        key = IN_SET;
        walked.add(at);
        break;
      }
      int join = joinNumber.get(at);
      if (join >= 0) {
        key = FIRST_JOIN + join;
        walked.add(at);
        break;
      }
      walked.add(at);
      at = snapshot.dominator(at);
    }
    for (int i = 0; i < walked.size(); i++) {
      keys.put(walked.get(i), key);
    }
    return key;
  }

  /** What the members retain, and the joins that nothing but the set keeps; nothing twice. */
  private long joint(IntList tops) {
    int count = joins.size();
    boolean[] reached = new boolean[count];
    int[] first = new int[count + 1];
    IntList from = new IntList();
    IntList to = new IntList();
    IntList pending = new IntList();
    int k = 0;
    for (int j = 0; j < count; j++) {
      for (; k < keeperEnd.get(j); k++) {
        int key = keyOf(keepers.get(k));
        if (key == TOP && !reached[j]) {
          reached[j] = true;
          pending.add(j);
        } else if (key >= FIRST_JOIN && key != FIRST_JOIN + j) {
          from.add(key - FIRST_JOIN);
          to.add(j);
          first[key - FIRST_JOIN + 1]++;
        }
      }
    }
    for (int j = 0; j < count; j++) {
      first[j + 1] += first[j];
    }
    int[] next = Arrays.copyOf(first, count);
    int[] targets = new int[from.size()];
    for (int e = 0; e < from.size(); e++) {
      targets[next[from.get(e)]++] = to.get(e);
    }
    while (!pending.isEmpty()) {
      int j = pending.removeLast();
      for (int e = first[j]; e < first[j + 1]; e++) {
        if (!reached[targets[e]]) {
          reached[targets[e]] = true;
          pending.add(targets[e]);
        }
      }
    }
    long bytes = 0;
    for (int j = 0; j < count; j++) {
      if (!reached[j] && !isCounted(joins.get(j), reached)) {
        bytes += snapshot.retainedBytes(joins.get(j));
      }
    }
    for (int i = 0; i < tops.size(); i++) {
      if (!isCounted(tops.get(i), reached)) {
        bytes += snapshot.retainedBytes(tops.get(i));
      }
    }
    return bytes;
  }

  /** Whether an object lies below something that is freed, and so counts with it. */
  private boolean isCounted(int node, boolean[] reached) {
    int above = snapshot.dominator(node);
    int key = above < 0 ? TOP : keyOf(above);
    return key == IN_SET || key >= FIRST_JOIN && !reached[key - FIRST_JOIN];
  }
}
