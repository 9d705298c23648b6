package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Finds the fewest containers that hold a set of objects together, where several sides hold it. One
 * thread.
 */
final class SeveralHolders {
  /** What leads to so many times fewer objects than the first is not named. */
  static final int NEGLIGIBLE = 20;

  /** Groups that are named together; of six there are 56 choices, which a search can tell apart. */
  private static final int MOST_TOGETHER = 4;

  /** A name that a compiler has made, such as that of what a lambda or a coroutine has with it. */
  private static final Pattern MADE = Pattern.compile("\\.[A-Za-z]+\\$\\d+$");

  private final Snapshot snapshot;
  private final Links links;
  private final Climb climb;
  private final HolderGroups groups;

  SeveralHolders(Snapshot snapshot, Links links, Climb climb, HolderGroups groups) {
    this.snapshot = snapshot;
    this.links = links;
    this.climb = climb;
    this.groups = groups;
  }

  /**
   * The containers.
   *
   * @param all the groups above the asked ones
   * @return null if no few hold enough
   */
  Holding of(List<HolderGroup> all, IntList asked, IntList members, int top, double enough)
      throws IOException {
    Holding found =
        fewest(HolderGroups.telling(all), asked, members, top, enough, CutSearch.MOST_ABOVE);
    boolean one = found != null && found.places().size() == 1;
    List<HolderGroup> more = one ? null : HolderGroups.withLongest(all, asked);
    if (more != null) {
      Holding other = fewest(more, asked, members, top, enough, CutSearch.MOST_ABOVE);
      found = other == null ? found : other;
    }
    if (found != null && (top < 0 || found.container() != top)) {
      return found;
    }
    Holding fields =
        fewest(groups.fields(asked, top), asked, members, top, enough, CutSearch.MANY_ABOVE);
    return fields != null || HolderGroups.isScope(snapshot, top) ? fields : found;
  }

  /**
   * Adds all choices of as many groups as there are places, each in ascending order.
   *
   * @param chosen places, the first of which are taken
   */
  private static void combine(int groups, int[] chosen, int taken, List<int[]> sets) {
    if (taken == chosen.length) {
      sets.add(chosen.clone());
      return;
    }
    for (int g = taken == 0 ? 0 : chosen[taken - 1] + 1; g < groups; g++) {
      chosen[taken] = g;
      combine(groups, chosen, taken + 1, sets);
    }
  }

  /** The fewest of some groups that hold the set together. */
  private Holding fewest(
      List<HolderGroup> groups,
      IntList asked,
      IntList members,
      int top,
      double enough,
      int mostAbove)
      throws IOException {
    if (groups.isEmpty()) {
      return null;
    }
    List<int[]> sets = new ArrayList<>();
    for (int size = 1; size <= MOST_TOGETHER; size++) {
      combine(groups.size(), new int[size], 0, sets);
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
    HolderGroup needed =
        single ? needed(groups.get(sets.get(best)[0]), asked, top, enough, mostAbove) : null;
    if (needed != null) {
      return fewest(List.of(needed), asked, members, top, enough, mostAbove);
    }
    Holding found =
        together(
            groups,
            sets.get(best),
            scaled(reached.without(), best, asked, members),
            alone -> CutSearch.reached(snapshot, links, asked, top, alone, mostAbove),
            asked,
            members);
    return reached.handles() ? found.untilTakenOut() : found;
  }

  /**
   * Of a group that holds enough those objects that have part in it, where others do not: they only
   * refer to things of the same sort. Null if all have.
   */
  private HolderGroup needed(
      HolderGroup group, IntList asked, int top, double enough, int mostAbove) throws IOException {
    int size = group.nodes.size();
    if (size <= HolderGroup.MOST_SPLIT || size >= CutSearch.MOST_SETS) {
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
    HolderGroup needed = new HolderGroup();
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

  /** How many of the set go without some objects, and what these retain. */
  private record Freed(long count, long bytes) {}

  private Freed scaled(long[] without, int set, IntList asked, IntList members) {
    long count = 0;
    long bytes = 0;
    for (int i = 0; i < without.length; i++) {
      boolean goes = (without[i] >>> set & 1) == 0;
      count += goes ? 1 : 0;
      bytes += goes ? snapshot.retainedBytes(asked.get(i)) : 0;
    }
    return new Freed(
        HolderSearch.scaled(count, asked, members), HolderSearch.scaled(bytes, asked, members));
  }

  /** Tries sets of objects that let go. */
  private interface Trial {
    CutSearch.Reached of(List<IntList> sets) throws IOException;
  }

  private Holding together(
      List<HolderGroup> groups, int[] set, Freed freed, Trial trial, IntList asked, IntList members)
      throws IOException {
    Map<String, Part> named = new LinkedHashMap<>();
    Set<String> inside = new LinkedHashSet<>();
    // if one of several is the user's own, there is something to look into
    Ownership.Whose whose = Ownership.Whose.RUNTIME;
    int container = -1;
    for (int g : set) {
      container = container < 0 ? groups.get(g).nodes.get(0) : container;
      for (Part part : parts(groups.get(g))) {
        Part known = named.putIfAbsent(part.name().text(), part);
        if (known == null) {
          inside.addAll(part.found.inside());
          whose = part.name().whose().compareTo(whose) < 0 ? part.name().whose() : whose;
        } else {
          known.addAll(part);
        }
      }
    }
    List<Part> parts = new ArrayList<>(named.values());
    if (parts.size() > 1) {
      // what is the user's own tells where to look, and least what a compiler has named
      parts.sort(
          Comparator.comparing((Part part) -> part.name().whose())
              .thenComparing(part -> MADE.matcher(part.name().text()).find()));
      container = parts.get(0).nodes.get(0);
    }
    // of several each is tried alone
    long[] without =
        parts.size() == 1
            ? null
            : trial.of(parts.stream().map(part -> part.nodes).toList()).without();
    List<Holding.Place> places = new ArrayList<>();
    for (int p = 0; p < parts.size(); p++) {
      Freed alone = without == null ? freed : scaled(without, p, asked, members);
      places.add(parts.get(p).place(snapshot, alone));
    }
    return new Holding(
        places,
        freed.count,
        freed.bytes,
        members.size(),
        List.copyOf(inside),
        container,
        whose,
        false);
  }

  /** Objects of a group that one place holds, and how many all lead to. */
  private static final class Part {
    final IntList nodes = new IntList();
    final Climb.Found found;
    int leads;

    Part(Climb.Found found) {
      this.found = found;
    }

    Climb.Named name() {
      return found.names().get(0);
    }

    void addAll(Part other) {
      for (int i = 0; i < other.nodes.size(); i++) {
        nodes.add(other.nodes.get(i));
      }
    }

    Holding.Place place(Snapshot snapshot, Freed alone) {
      Climb.Named named = name();
      String via = "the contents of " + snapshot.id(nodes.get(0));
      return new Holding.Place(
          named.text(), named.from(), named.target(), via, alone.count, alone.bytes, nodes.get(0));
    }
  }

  /** The places that hold a group; what few objects hang on by chance is left out. */
  private List<Part> parts(HolderGroup group) throws IOException {
    Map<String, Part> parts = new LinkedHashMap<>();
    int most = 0;
    for (int i = 0; i < Math.min(group.nodes.size(), HolderGroups.MOST_NODES); i++) {
      int node = group.nodes.get(i);
      Climb.Found found = climb.ofContents(node);
      Part part = parts.computeIfAbsent(found.names().get(0).text(), text -> new Part(found));
      part.nodes.add(node);
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
}
