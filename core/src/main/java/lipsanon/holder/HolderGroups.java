package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Merges what refers to a set of objects, upwards, up to places of which there are only a few:
 * these may be its containers. One thread.
 */
final class HolderGroups {
  private static final int MOST_LINKS = 300;
  private static final int DEEPEST = 14;
  private static final int MOST_SEEN = 30_000;
  private static final int MOST_GROUPS = 6;

  /** Objects of one group. */
  static final int MOST_NODES = 64;

  /** Objects of the set from which the fields above them are sought. */
  private static final int MOST_BEGUN = 4;

  private final Snapshot snapshot;
  private final Links links;
  private final Climb climb;
  private final Ownership ownership;
  private final ReferenceGroups references = new ReferenceGroups();

  /** By type, once asked for. */
  private final String[] families;

  HolderGroups(Snapshot snapshot, Links links, Climb climb, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = links;
    this.climb = climb;
    this.ownership = ownership;
    this.families = new String[snapshot.types().size()];
  }

  /**
   * What an object of the user's own, or a scope, that dominates the set refers to and through
   * which it holds some of it: of several of its fields, all may have to let go.
   */
  List<HolderGroup> fields(IntList asked, int top) throws IOException {
    if (top < 0 || !isScope(snapshot, top) && ownership.of(snapshot, top) != Ownership.Whose.OWN) {
      return List.of();
    }
    LongIntMap seen = new LongIntMap();
    IntList pending = new IntList();
    List<HolderGroup> found = new ArrayList<>();
    for (int i = 0; i < Math.min(asked.size(), MOST_BEGUN); i++) {
      seen.put(asked.get(i), 1);
      pending.add(asked.get(i));
    }
    for (int i = 0; i < pending.size() && found.size() < MOST_GROUPS; i++) {
      int node = pending.get(i);
      boolean field = false;
      IntList referring = snapshot.inbound(node);
      for (int r = 0; r < referring.size() && pending.size() < CutSearch.MANY_ABOVE; r++) {
        int from = referring.get(r);
        field |= from == top;
        if (from != top && snapshot.depth(from) > 0 && seen.get(from) < 0) {
          seen.put(from, 1);
          pending.add(from);
        }
      }
      if (field && links.via(top, node) != null) {
        HolderGroup group = new HolderGroup();
        group.nodes.add(node);
        group.leads.put(node, 1);
        found.add(group);
      }
    }
    return found;
  }

  /** Whether an object is a scope, whose variables hold, each by itself; false for -1. */
  static boolean isScope(Snapshot snapshot, int node) {
    return node >= 0 && snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.SCOPE);
  }

  /** Links of a list are held by each other, step by step; what dominates them has the list. */
  private void dominating(IntList level, int top, int few, Map<String, HolderGroup> found) {
    Map<String, HolderGroup> here = new LinkedHashMap<>();
    for (int i = 0; i < level.size(); i++) {
      int above = snapshot.dominator(level.get(i));
      if (above >= 0 && above != top) {
        String key = family(snapshot.type(above)) + "\nabove";
        HolderGroup group = here.computeIfAbsent(key, k -> new HolderGroup());
        if (group.leads.merge(above, 1, Integer::sum) == 1) {
          group.nodes.add(above);
        }
      }
    }
    here.forEach(
        (key, group) -> {
          if (group.nodes.size() <= few && group.nodes.size() <= MOST_NODES) {
            found.putIfAbsent(key, group);
          }
        });
  }

  private boolean isOfFrameworks(HolderGroup group) throws IOException {
    for (int i = 0; i < group.nodes.size(); i++) {
      if (!climb.isFramework(group.nodes.get(i))) {
        return false;
      }
    }
    return true;
  }

  /**
   * What refers to links of a list from outside of it. Step by step one would not come to its ends,
   * and where there are several ways into it nothing dominates the links.
   */
  private void entries(
      ChainEntries chained, IntList level, Map<Integer, Integer> leadsTo, int top, int few)
      throws IOException {
    IntList pending = new IntList();
    for (int i = 0; i < level.size(); i++) {
      int node = level.get(i);
      boolean known = chained.has(node);
      if ((known || isLinked(node)) && chained.begin(node, leadsTo.get(node)) && !known) {
        pending.add(node);
      }
    }
    for (int i = 0; i < pending.size() && chained.entries() <= few; i++) {
      int node = pending.get(i);
      int member = chained.member(node);
      IntList referring = links.owning(snapshot.inbound(node), node);
      for (int r = 0; r < referring.size(); r++) {
        int from = referring.get(r);
        if (snapshot.type(from) == snapshot.type(node)) {
          if (chained.link(from, node)) {
            pending.add(from);
          }
          continue;
        }
        Via via = snapshot.depth(from) > 0 ? links.via(from, node) : null;
        boolean holds = via != null && via.kind() != Via.Kind.INTERNAL;
        if (holds && (from == top || !links.dominates(member, from))) {
          String key = family(snapshot.type(from)) + "\n" + references.of(via);
          chained.enter(key, from, node);
        }
      }
    }
  }

  /** Whether an object of its own type refers to an object, as in a list. */
  private boolean isLinked(int node) {
    IntList referring = snapshot.inbound(node);
    for (int r = 0; r < Math.min(MOST_LINKS, referring.size()); r++) {
      if (snapshot.type(referring.get(r)) == snapshot.type(node)) {
        return true;
      }
    }
    return false;
  }

  private String family(int type) {
    if (families[type] == null) {
      families[type] = Families.of(snapshot.types().get(type).name());
    }
    return families[type];
  }

  /**
   * Merges what refers to the set, upwards, up to places of which there are only a few; what leads
   * to most comes first.
   *
   * @param roots whether what refers to objects of the set counts that are roots themselves
   */
  List<HolderGroup> above(IntList asked, int top, boolean roots) throws IOException {
    Map<String, HolderGroup> found = new LinkedHashMap<>();
    // by object on the way: one of the asked objects that it leads to
    Map<Integer, Integer> leadsTo = new HashMap<>();
    LongIntMap places = new LongIntMap();
    IntList level = new IntList();
    for (int i = 0; i < asked.size(); i++) {
      level.add(asked.get(i));
      leadsTo.put(asked.get(i), asked.get(i));
      places.put(asked.get(i), i);
    }
    int few = Math.max(1, asked.size() / 10);
    ChainEntries chained = new ChainEntries(MOST_SEEN);
    entries(chained, level, leadsTo, top, few);
    for (int depth = 0;
        depth < DEEPEST && !level.isEmpty() && leadsTo.size() < MOST_SEEN;
        depth++) {
      Map<String, HolderGroup> here = new LinkedHashMap<>();
      for (int i = 0; i < level.size(); i++) {
        int node = level.get(i);
        int member = leadsTo.get(node);
        if (links.root(node) != null && !(roots && depth == 0)) {
          continue;
        }
        for (Links.Link link : links.owning(node, MOST_LINKS)) {
          if (link.via().kind() == Via.Kind.INTERNAL
              || link.from() != top && links.dominates(member, link.from())) {
            continue;
          }
          String key = family(snapshot.type(link.from())) + "\n" + references.of(link.via());
          HolderGroup group = here.computeIfAbsent(key, k -> new HolderGroup());
          group.lead(link.from(), places.get(member));
          if (leadsTo.putIfAbsent(link.from(), member) == null) {
            group.nodes.add(link.from());
          }
        }
      }
      level = new IntList();
      for (Map.Entry<String, HolderGroup> entry : here.entrySet()) {
        HolderGroup group = entry.getValue();
        if (group.nodes.isEmpty()) {
          // these were come upon before
          continue;
        }
        boolean holds = group.nodes.size() <= few && group.nodes.size() <= MOST_NODES;
        if (holds) {
          found.computeIfAbsent(entry.getKey(), k -> new HolderGroup()).addAll(group);
        } else {
          for (int i = 0; i < group.nodes.size(); i++) {
            level.add(group.nodes.get(i));
          }
        }
      }
      dominating(level, top, few, found);
      entries(chained, level, leadsTo, top, few);
    }
    chained
        .groups()
        .forEach(
            (key, group) -> {
              if (group.nodes.size() <= few && group.nodes.size() <= MOST_NODES) {
                found.putIfAbsent(key, group);
              }
            });
    List<HolderGroup> sorted = new ArrayList<>();
    for (HolderGroup group : found.values()) {
      if (!isOfFrameworks(group)) {
        sorted.addAll(group.split());
      }
    }
    sorted.forEach(HolderGroup::mostFirst);
    sorted.sort(Comparator.comparingInt((HolderGroup group) -> -group.leadsTo()));
    return sorted;
  }

  /**
   * The groups that are tried: those that lead to most.
   *
   * @param all those that were found
   */
  static List<HolderGroup> telling(List<HolderGroup> all) {
    return all.size() > MOST_GROUPS ? all.subList(0, MOST_GROUPS) : all;
  }

  /** Among them who has the longest list, which a single reference leads to; null if he is. */
  static List<HolderGroup> withLongest(List<HolderGroup> all, IntList asked) {
    if (all.size() <= MOST_GROUPS) {
      return null;
    }
    HolderGroup longest = Collections.max(all, Comparator.comparingInt(group -> group.reach));
    if (longest.reach * 2 <= asked.size() || telling(all).contains(longest)) {
      return null;
    }
    List<HolderGroup> telling = new ArrayList<>(telling(all));
    telling.set(MOST_GROUPS - 1, longest);
    return telling;
  }
}
