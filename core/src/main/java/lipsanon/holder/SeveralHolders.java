package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Finds the fewest containers that hold a set of objects together, where several sides hold it. One
 * thread.
 */
final class SeveralHolders {
  private static final int MOST_LINKS = 300;
  private static final int DEEPEST = 14;
  private static final int MOST_SEEN = 30_000;
  private static final int MOST_GROUPS = 6;
  private static final int MOST_NODES = 64;
  private static final int MOST_SPLIT = 4;

  /** Objects of the set from which the fields above them are sought. */
  private static final int MOST_BEGUN = 4;

  /** What leads to so many times fewer objects than the first is not named. */
  private static final int NEGLIGIBLE = 20;

  private final Snapshot snapshot;
  private final Links links;
  private final Climb climb;
  private final Ownership ownership;
  private final ReferenceGroups references = new ReferenceGroups();

  /** By type, once asked for. */
  private final String[] families;

  SeveralHolders(Snapshot snapshot, Links links, Climb climb, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = links;
    this.climb = climb;
    this.ownership = ownership;
    this.families = new String[snapshot.types().size()];
  }

  /** Objects that refer to the set in one way, few and not one per member. */
  private static final class Group {
    /** By object: how many of the set it leads to, as far as was looked. */
    final Map<Integer, Integer> leads = new HashMap<>();

    final IntList nodes = new IntList();

    /** Parts of one container are tried together; a few objects one by one as well. */
    List<Group> split() {
      List<Group> single = new ArrayList<>(List.of(this));
      if (nodes.size() > MOST_SPLIT || nodes.size() == 1) {
        return single;
      }
      for (int i = 0; i < nodes.size(); i++) {
        Group one = new Group();
        one.nodes.add(nodes.get(i));
        one.leads.put(nodes.get(i), leads.getOrDefault(nodes.get(i), 0));
        single.add(one);
      }
      return single;
    }

    int leadsTo() {
      int sum = 0;
      for (int count : leads.values()) {
        sum += count;
      }
      return sum;
    }

    /** What leads to most of the set comes first. */
    void mostFirst() {
      List<Integer> order = new ArrayList<>();
      for (int i = 0; i < nodes.size(); i++) {
        order.add(nodes.get(i));
      }
      order.sort(Comparator.comparingInt((Integer node) -> -leads.getOrDefault(node, 0)));
      nodes.clear();
      order.forEach(nodes::add);
    }
  }

  /** The containers; null if no few hold enough. */
  Holding of(IntList asked, IntList members, int top, double enough) throws IOException {
    Holding found = fewest(groups(asked, top), asked, members, top, enough, CutSearch.MOST_ABOVE);
    if (found != null && (top < 0 || found.container() != top)) {
      return found;
    }
    Holding fields = fewest(fields(asked, top), asked, members, top, enough, CutSearch.MANY_ABOVE);
    return fields != null ? fields : found;
  }

  /** The fewest of some groups that hold the set together. */
  private Holding fewest(
      List<Group> groups, IntList asked, IntList members, int top, double enough, int mostAbove)
      throws IOException {
    if (groups.isEmpty()) {
      return null;
    }
    List<int[]> sets = new ArrayList<>();
    int n = groups.size();
    for (int a = 0; a < n; a++) {
      sets.add(new int[] {a});
    }
    for (int a = 0; a < n; a++) {
      for (int b = a + 1; b < n; b++) {
        sets.add(new int[] {a, b});
      }
    }
    for (int a = 0; a < n; a++) {
      for (int b = a + 1; b < n; b++) {
        for (int c = b + 1; c < n; c++) {
          sets.add(new int[] {a, b, c});
        }
      }
    }
    List<IntList> nodes = new ArrayList<>();
    for (int[] set : sets) {
      IntList all = new IntList();
      for (int g : set) {
        for (int i = 0; i < groups.get(g).nodes.size(); i++) {
          all.add(groups.get(g).nodes.get(i));
        }
      }
      nodes.add(all);
    }
    CutSearch.Reached reached = CutSearch.reached(snapshot, links, asked, top, nodes, mostAbove);
    if (reached == null) {
      return null;
    }
    int[] freed = new int[sets.size()];
    for (long still : reached.without()) {
      for (int s = 0; s < freed.length; s++) {
        freed[s] += (still >>> s & 1) == 0 ? 1 : 0;
      }
    }
    int best = best(nodes, freed, enough * asked.size());
    if (best < 0) {
      return null;
    }
    boolean single = sets.get(best).length == 1;
    Group needed =
        single ? needed(groups.get(sets.get(best)[0]), asked, top, enough, mostAbove) : null;
    if (needed != null) {
      return fewest(List.of(needed), asked, members, top, enough, mostAbove);
    }
    Holding found =
        together(groups, sets.get(best), freed, best, reached.without(), asked, members);
    return reached.handles() ? found.untilTakenOut() : found;
  }

  /**
   * Of a group that holds enough those objects that have part in it, where others do not: they only
   * refer to things of the same sort. Null if all have.
   */
  private Group needed(Group group, IntList asked, int top, double enough, int mostAbove)
      throws IOException {
    int size = group.nodes.size();
    if (size <= MOST_SPLIT || size >= CutSearch.MOST_SETS) {
      return null;
    }
    List<IntList> each = new ArrayList<>();
    for (int i = 0; i < size; i++) {
      IntList one = new IntList();
      one.add(group.nodes.get(i));
      each.add(one);
    }
    CutSearch.Reached reached = CutSearch.reached(snapshot, links, asked, top, each, mostAbove);
    int[] freed = new int[size];
    for (int i = 0; i < asked.size() && reached != null; i++) {
      for (int n = 0; n < size; n++) {
        freed[n] += (reached.without()[i] >>> n & 1) == 0 ? 1 : 0;
      }
    }
    int most = Arrays.stream(freed).max().orElse(0);
    Group needed = new Group();
    int sum = 0;
    for (int n = 0; n < size; n++) {
      if (freed[n] > 0 && freed[n] * NEGLIGIBLE >= most) {
        needed.nodes.add(group.nodes.get(n));
        needed.leads.put(group.nodes.get(n), freed[n]);
        sum += freed[n];
      }
    }
    return needed.nodes.size() < size && sum >= enough * asked.size() ? needed : null;
  }

  /** The fewest objects that free enough; of equals those that free most, the nearest first. */
  private static int best(List<IntList> sets, int[] freed, double enough) {
    int best = -1;
    for (int s = 0; s < freed.length; s++) {
      if (freed[s] < enough) {
        continue;
      }
      boolean smaller = best < 0 || sets.get(s).size() < sets.get(best).size();
      boolean more =
          best >= 0 && sets.get(s).size() == sets.get(best).size() && freed[s] > freed[best];
      best = smaller || more ? s : best;
    }
    return best;
  }

  private Holding together(
      List<Group> groups,
      int[] set,
      int[] freed,
      int best,
      long[] reached,
      IntList asked,
      IntList members)
      throws IOException {
    List<Holding.Place> places = new ArrayList<>();
    Set<String> inside = new LinkedHashSet<>();
    Set<String> texts = new HashSet<>();
    // if one of several is the user's own, there is something to look into
    Ownership.Whose whose = Ownership.Whose.RUNTIME;
    int container = -1;
    for (int g : set) {
      container = container < 0 ? groups.get(g).nodes.get(0) : container;
      for (Part part : parts(groups.get(g))) {
        Climb.Named named = part.found.names().get(0);
        if (texts.add(named.text())) {
          inside.addAll(part.found.inside());
          whose = named.whose().compareTo(whose) < 0 ? named.whose() : whose;
          long alone = HolderSearch.scaled(freed[g], asked, members);
          places.add(
              new Holding.Place(
                  named.text(),
                  named.from(),
                  named.target(),
                  "the contents of " + snapshot.id(part.node),
                  alone,
                  HolderSearch.scaled(bytesFreed(asked, reached, g), asked, members)));
        }
      }
    }
    if (places.size() == 1) {
      Holding.Place only = places.get(0);
      places.set(
          0,
          new Holding.Place(
              only.text(),
              only.node(),
              only.target(),
              only.via(),
              HolderSearch.scaled(freed[best], asked, members),
              HolderSearch.scaled(bytesFreed(asked, reached, best), asked, members)));
    }
    return new Holding(
        places,
        HolderSearch.scaled(freed[best], asked, members),
        HolderSearch.scaled(bytesFreed(asked, reached, best), asked, members),
        members.size(),
        List.copyOf(inside),
        container,
        whose,
        false);
  }

  /** Objects of a group that one place holds: the first of them, and how many all lead to. */
  private static final class Part {
    final int node;
    final Climb.Found found;
    int leads;

    Part(int node, Climb.Found found) {
      this.node = node;
      this.found = found;
    }
  }

  /** The places that hold a group; what few objects hang on by chance is left out. */
  private List<Part> parts(Group group) throws IOException {
    Map<String, Part> parts = new LinkedHashMap<>();
    int most = 0;
    for (int i = 0; i < Math.min(group.nodes.size(), MOST_NODES); i++) {
      int node = group.nodes.get(i);
      Climb.Found found = climb.ofContents(node);
      Part part = parts.computeIfAbsent(found.names().get(0).text(), text -> new Part(node, found));
      part.leads += group.leads.getOrDefault(node, 0);
      most = Math.max(most, part.leads);
    }
    List<Part> telling = new ArrayList<>();
    for (Part part : parts.values()) {
      if (part.leads * NEGLIGIBLE >= most && telling.size() < HolderSearch.NAMED) {
        telling.add(part);
      }
    }
    return telling;
  }

  private long bytesFreed(IntList asked, long[] reached, int set) {
    long sum = 0;
    for (int i = 0; i < reached.length; i++) {
      sum += (reached[i] >>> set & 1) == 0 ? snapshot.retainedBytes(asked.get(i)) : 0;
    }
    return sum;
  }

  /**
   * What an object of the user's own that dominates the set refers to and through which it holds
   * some of it: of several of its fields, all may have to let go.
   */
  private List<Group> fields(IntList asked, int top) throws IOException {
    if (top < 0 || ownership.of(snapshot, top) != Ownership.Whose.OWN) {
      return List.of();
    }
    LongIntMap seen = new LongIntMap();
    IntList pending = new IntList();
    List<Group> found = new ArrayList<>();
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
        Group group = new Group();
        group.nodes.add(node);
        group.leads.put(node, 1);
        found.add(group);
      }
    }
    return found;
  }

  /** Links of a list are held by each other, step by step; what dominates them has the list. */
  private void above(IntList level, int top, int few, Map<String, Group> found) {
    Map<String, Group> here = new LinkedHashMap<>();
    for (int i = 0; i < level.size(); i++) {
      int above = snapshot.dominator(level.get(i));
      if (above >= 0 && above != top) {
        String key = family(snapshot.type(above)) + "\nabove";
        Group group = here.computeIfAbsent(key, k -> new Group());
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

  private boolean isOfFrameworks(Group group) throws IOException {
    for (int i = 0; i < group.nodes.size(); i++) {
      if (!climb.isFramework(group.nodes.get(i))) {
        return false;
      }
    }
    return true;
  }

  /** Links of lists that were gone through, each once, by one of the asked that it leads to. */
  private static final class Chained {
    final LongIntMap members = new LongIntMap();
    final Map<String, Group> entries = new LinkedHashMap<>();
    int count;

    boolean add(int node, int member) {
      if (count >= MOST_SEEN || members.get(node) >= 0) {
        return false;
      }
      members.put(node, member);
      count++;
      return true;
    }
  }

  /**
   * What refers to links of a list from outside of it. Step by step one would not come to its ends,
   * and where there are several ways into it nothing dominates the links.
   */
  private void entries(
      Chained chained, IntList level, Map<Integer, Integer> leadsTo, int top, int few)
      throws IOException {
    IntList pending = new IntList();
    for (int i = 0; i < level.size(); i++) {
      int node = level.get(i);
      if (chained.members.get(node) < 0 && isLinked(node) && chained.add(node, leadsTo.get(node))) {
        pending.add(node);
      }
    }
    for (int i = 0; i < pending.size() && chained.entries.size() <= few; i++) {
      int node = pending.get(i);
      int member = chained.members.get(node);
      IntList referring = snapshot.inbound(node);
      for (int r = 0; r < referring.size(); r++) {
        int from = referring.get(r);
        if (snapshot.type(from) == snapshot.type(node)) {
          if (chained.add(from, member)) {
            pending.add(from);
          }
          continue;
        }
        Via via = snapshot.depth(from) > 0 ? links.via(from, node) : null;
        boolean holds = via != null && via.kind() != Via.Kind.INTERNAL;
        if (holds && (from == top || !links.dominates(member, from))) {
          String key = family(snapshot.type(from)) + "\n" + references.of(via);
          Group group = chained.entries.computeIfAbsent(key, k -> new Group());
          if (group.leads.merge(from, 1, Integer::sum) == 1) {
            group.nodes.add(from);
          }
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

  /** Merges what refers to the set, upwards, up to places of which there are only a few. */
  private List<Group> groups(IntList asked, int top) throws IOException {
    Map<String, Group> found = new LinkedHashMap<>();
    // by object on the way: one of the asked objects that it leads to
    Map<Integer, Integer> leadsTo = new HashMap<>();
    IntList level = new IntList();
    for (int i = 0; i < asked.size(); i++) {
      level.add(asked.get(i));
      leadsTo.put(asked.get(i), asked.get(i));
    }
    int few = Math.max(1, asked.size() / 10);
    Chained chained = new Chained();
    for (int depth = 0;
        depth < DEEPEST && !level.isEmpty() && leadsTo.size() < MOST_SEEN;
        depth++) {
      Map<String, Group> here = new LinkedHashMap<>();
      for (int i = 0; i < level.size(); i++) {
        int node = level.get(i);
        int member = leadsTo.get(node);
        if (links.root(node) != null) {
          continue;
        }
        for (Links.Link link : links.owning(node, MOST_LINKS)) {
          if (link.via().kind() == Via.Kind.INTERNAL
              || link.from() != top && links.dominates(member, link.from())) {
            continue;
          }
          String key = family(snapshot.type(link.from())) + "\n" + references.of(link.via());
          Group group = here.computeIfAbsent(key, k -> new Group());
          group.leads.merge(link.from(), 1, Integer::sum);
          if (leadsTo.putIfAbsent(link.from(), member) == null) {
            group.nodes.add(link.from());
          }
        }
      }
      level = new IntList();
      for (Map.Entry<String, Group> entry : here.entrySet()) {
        Group group = entry.getValue();
        if (group.nodes.isEmpty()) {
          // these were come upon before
          continue;
        }
        boolean holds = group.nodes.size() <= few && group.nodes.size() <= MOST_NODES;
        if (holds) {
          Group known = found.computeIfAbsent(entry.getKey(), k -> new Group());
          group.leads.forEach((node, count) -> known.leads.merge(node, count, Integer::sum));
          for (int i = 0; i < group.nodes.size(); i++) {
            known.nodes.add(group.nodes.get(i));
          }
        } else {
          for (int i = 0; i < group.nodes.size(); i++) {
            level.add(group.nodes.get(i));
          }
        }
      }
      above(level, top, few, found);
      entries(chained, level, leadsTo, top, few);
    }
    chained.entries.forEach(
        (key, group) -> {
          if (group.nodes.size() <= few && group.nodes.size() <= MOST_NODES) {
            found.putIfAbsent(key, group);
          }
        });
    List<Group> sorted = new ArrayList<>();
    for (Group group : found.values()) {
      if (!isOfFrameworks(group)) {
        sorted.addAll(group.split());
      }
    }
    sorted.forEach(Group::mostFirst);
    sorted.sort(Comparator.comparingInt((Group group) -> -group.leadsTo()));
    return sorted.size() > MOST_GROUPS ? sorted.subList(0, MOST_GROUPS) : sorted;
  }
}
