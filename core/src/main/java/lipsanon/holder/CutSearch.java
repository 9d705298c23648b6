package lipsanon.holder;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;
import lipsanon.label.Links;

/**
 * What is no longer reached once some objects let go of all that they refer to. Up to 64 sets of
 * such objects are tried at once, each in a bit of a word: a bit of an object says that it is still
 * reached without that set. Only objects from which some of the asked ones can be reached take
 * part: found upwards, then the bits are spread downwards until nothing changes.
 */
final class CutSearch {
  /** Sets that can be tried at once. */
  static final int MOST_SETS = Long.SIZE;

  /** Objects above the asked ones; beyond that nothing is told. */
  static final int MOST_ABOVE = 120_000;

  /** As many where it is worth more of the time. */
  static final int MANY_ABOVE = 600_000;

  private final Snapshot snapshot;
  private final Links links;
  private final LongIntMap number = new LongIntMap();
  private final IntList nodes = new IntList();
  private final IntList from = new IntList();
  private final IntList to = new IntList();
  private boolean[] begins;

  /** Whether something was left out by which the asked ones could be reached, and no more. */
  private boolean handles;

  private CutSearch(Snapshot snapshot, Links links) {
    this.snapshot = snapshot;
    this.links = links;
  }

  /**
   * Tries sets.
   *
   * @param asked the objects whose fate is asked
   * @param top an object that dominates all of them, or -1: paths are followed from there
   * @param sets at most {@link #MOST_SETS} sets of objects that let go
   * @param mostAbove objects above the asked ones that are looked at
   * @return null if too many objects lie above to tell
   */
  static Reached reached(
      Snapshot snapshot, Links links, IntList asked, int top, List<IntList> sets, int mostAbove)
      throws IOException {
    if (sets.size() > MOST_SETS) {
      throw new IllegalArgumentException("more than " + MOST_SETS + " sets: " + sets.size());
    }
    CutSearch search = new CutSearch(snapshot, links);
    return search.collect(asked, top, mostAbove)
        ? new Reached(search.spread(asked, sets), search.handles)
        : null;
  }

  /**
   * What is still reached.
   *
   * @param without by asked object the sets without which it is still reached, as bits
   * @param handles whether there are references besides by which an object can only be taken out of
   *     what holds it: they keep it as long as it is in there
   */
  record Reached(long[] without, boolean handles) {}

  private int numberOf(int node) {
    int known = number.get(node);
    if (known < 0) {
      known = nodes.size();
      number.put(node, known);
      nodes.add(node);
    }
    return known;
  }

  /** Finds all that leads to the asked objects. */
  private boolean collect(IntList asked, int top, int mostAbove) throws IOException {
    for (int i = 0; i < asked.size(); i++) {
      numberOf(asked.get(i));
    }
    IntList roots = new IntList();
    for (int at = 0; at < nodes.size(); at++) {
      if (nodes.size() > mostAbove) {
        return false;
      }
      int node = nodes.get(at);
      // of the asked ones that is the question
      boolean isClass = at >= asked.size() && isClass(node);
      if (node == top || links.root(node) != null || isClass) {
        roots.add(at);
        continue;
      }
      IntList keeping = keeping(node);
      IntList owning = links.owning(keeping, node);
      handles |= owning.size() < keeping.size();
      for (int i = 0; i < owning.size(); i++) {
        from.add(numberOf(owning.get(i)));
        to.add(at);
      }
    }
    begins = new boolean[nodes.size()];
    for (int i = 0; i < roots.size(); i++) {
      begins[roots.get(i)] = true;
    }
    return true;
  }

  private IntList keeping(int node) throws IOException {
    IntList referring = snapshot.inbound(node);
    IntList keeping = new IntList(referring.size());
    for (int i = 0; i < referring.size(); i++) {
      int source = referring.get(i);
      boolean firm = snapshot.depth(source) > 0 && !links.isWeaker(source, node);
      if (source != node && firm && links.keeps(source, node)) {
        keeping.add(source);
      }
    }
    return keeping;
  }

  /** Classes are held by their loaders and by all their instances: taken as reached. */
  private boolean isClass(int node) {
    return snapshot.types().get(snapshot.type(node)).plain()
        && snapshot.classNodes().contains(node);
  }

  private long[] spread(IntList asked, List<IntList> sets) {
    int count = nodes.size();
    long all = sets.size() == MOST_SETS ? -1L : (1L << sets.size()) - 1;
    long[] passes = new long[count];
    java.util.Arrays.fill(passes, all);
    for (int s = 0; s < sets.size(); s++) {
      IntList set = sets.get(s);
      for (int i = 0; i < set.size(); i++) {
        int at = number.get(set.get(i));
        if (at >= 0) {
          passes[at] &= ~(1L << s);
        }
      }
    }
    int[] first = new int[count + 1];
    for (int e = 0; e < from.size(); e++) {
      first[from.get(e) + 1]++;
    }
    for (int n = 0; n < count; n++) {
      first[n + 1] += first[n];
    }
    int[] targets = new int[from.size()];
    int[] next = first.clone();
    for (int e = 0; e < from.size(); e++) {
      targets[next[from.get(e)]++] = to.get(e);
    }
    long[] reached = new long[count];
    IntList pending = new IntList();
    for (int n = 0; n < count; n++) {
      if (begins[n]) {
        reached[n] = all;
        pending.add(n);
      }
    }
    while (!pending.isEmpty()) {
      int n = pending.removeLast();
      long carried = reached[n] & passes[n];
      for (int e = first[n]; e < first[n + 1]; e++) {
        int target = targets[e];
        if ((carried & ~reached[target]) != 0) {
          reached[target] |= carried;
          pending.add(target);
        }
      }
    }
    long[] answer = new long[asked.size()];
    for (int i = 0; i < answer.length; i++) {
      answer[i] = reached[number.get(asked.get(i))];
    }
    return answer;
  }
}
