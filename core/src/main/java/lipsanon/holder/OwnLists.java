package lipsanon.holder;

import java.io.IOException;
import java.util.BitSet;
import java.util.Collection;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Ownership;

/**
 * The containers of the user's own, or of libraries, that lead to each of a set, though others hold
 * it as well: what is open or runs is kept by libraries and by the runtime too, but who has filled
 * such a container knows what it is for. One thread.
 */
final class OwnLists {
  /** Ways of its own from a container must lead to so much of the set; the rest may share them. */
  private static final double APART = 0.5;

  /** Objects below a container that are gone through. */
  private static final int MOST_BELOW = 50_000;

  private final Snapshot snapshot;
  private final Climb climb;

  OwnLists(Snapshot snapshot, Climb climb) {
    this.snapshot = snapshot;
    this.climb = climb;
  }

  /**
   * What was found.
   *
   * @param container the first of the containers
   * @param whose whose they are
   */
  record Found(Collection<Holding.Place> places, int container, Ownership.Whose whose) {}

  /**
   * Searches.
   *
   * @param above the groups above them
   * @param enough so much of the set must be led to
   * @param whose whose the containers are
   * @return null if there are none
   */
  Found of(List<HolderGroup> above, IntList asked, double enough, Ownership.Whose whose)
      throws IOException {
    Map<String, Holding.Place> lists = new LinkedHashMap<>();
    BitSet tried = new BitSet();
    int container = -1;
    for (HolderGroup group : above) {
      for (int i = 0; i < group.nodes.size(); i++) {
        int node = group.nodes.get(i);
        if (group.distinct(node) < APART * enough * asked.size() || tried.get(node)) {
          continue;
        }
        tried.set(node);
        Climb.Found found = climb.ofContents(node);
        Climb.Named named = found.names().get(0);
        // what a library has inside of it may lead anywhere
        boolean direct = named.whose() == whose && found.inside().isEmpty();
        if (direct
            && !climb.isFramework(named.target())
            && below(node, asked) >= enough * asked.size()) {
          container = container < 0 ? node : container;
          lists.putIfAbsent(
              named.text(),
              new Holding.Place(named.text(), named.from(), named.target(), named.text(), 0, 0));
        }
      }
    }
    return lists.isEmpty() ? null : new Found(lists.values(), container, whose);
  }

  /** How many of a set a container leads to, as far as is looked. */
  private int below(int container, IntList asked) throws IOException {
    BitSet set = new BitSet();
    for (int i = 0; i < asked.size(); i++) {
      set.set(asked.get(i));
    }
    LongIntMap seen = new LongIntMap();
    IntList pending = new IntList();
    seen.put(container, 1);
    pending.add(container);
    int found = 0;
    for (int i = 0; i < pending.size() && pending.size() < MOST_BELOW; i++) {
      int node = pending.get(i);
      if (set.get(node)) {
        found++;
        continue;
      }
      snapshot
          .objects()
          .references(
              node,
              reference -> {
                boolean made = reference.via().kind() == Via.Kind.INTERNAL;
                if (!made && seen.get(reference.target()) < 0) {
                  seen.put(reference.target(), 1);
                  pending.add(reference.target());
                }
              });
    }
    return found;
  }
}
