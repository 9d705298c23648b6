package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Families;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Finds what holds a set of objects, and tests it. The containers of the set come from its
 * dominator where all its objects are held through that directly, else from their referring
 * objects, merged level by level: a place that exists once per object is only the way. Each
 * container, pair and triple of them is tested by the search that its emptying would leave; the
 * smallest that frees nine tenths is named, by climbing from it to somebody's own field. One
 * thread.
 */
public final class HolderSearch {
  /** A holder frees so much of the set at least. */
  public static final double ENOUGH = 0.9;

  /** Objects that are looked at. */
  public static final int MOST_ASKED = 500;

  private static final int MOST_LINKS = 300;
  private static final int DEEPEST = 14;
  private static final int MOST_SEEN = 30_000;
  private static final int MOST_GROUPS = 6;
  private static final int MOST_NODES = 64;
  private static final int NAMED = 16;
  private static final int MOST_SPLIT = 4;

  /** So few objects may each have a holder of their own, if these are alike. */
  private static final int MOST_ALIKE = 8;

  /** What leads to so many times fewer objects than the first is not named. */
  private static final int NEGLIGIBLE = 20;

  private final Snapshot snapshot;
  private final Links links;
  private final Climb climb;
  private final RootHolders rootHolders;
  private final PageElements elements;

  public HolderSearch(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = new Links(snapshot);
    this.climb = new Climb(snapshot, links, ownership);
    this.rootHolders = new RootHolders(snapshot, links);
    this.elements = new PageElements(snapshot);
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

  /** Searches for some objects that are not dominated by each other; of very many, for a part. */
  public Holding search(IntList members) throws IOException {
    return search(members, MOST_ASKED, 1);
  }

  /**
   * The same, from a smaller part where less certainty will do.
   *
   * @param atMost objects that are looked at
   * @param share how much of the set is meant: others of their kind may have been there before
   */
  public Holding search(IntList members, int atMost, double share) throws IOException {
    double enough = ENOUGH * share;
    IntList asked = sample(members, atMost);
    Holding roots = rootHolders.roots(asked, members);
    if (roots != null) {
      return roots;
    }
    if (asked.size() == 1) {
      return of(single(asked.get(0)), asked, members, snapshot.dominator(asked.get(0)));
    }
    int near = links.commonDominator(asked, enough);
    if (near >= 0 && isDirect(asked, near, enough) && !climb.isListOfClasses(near)) {
      return of(emptied(near), asked, members, near);
    }
    int top = links.commonDominator(asked, 1);
    Holding several = several(asked, members, top, enough);
    boolean bare = several != null && hasBareRoot(several);
    if (several != null && !(bare && asked.size() <= MOST_ALIKE)) {
      return several;
    }
    Holding inPage = elements.around(asked, members);
    if (inPage != null) {
      return inPage;
    }
    if (top >= 0 && !climb.isListOfClasses(top)) {
      return of(emptied(top), asked, members, top);
    }
    Holding threads = rootHolders.threads(asked, members);
    if (threads != null) {
      return threads;
    }
    Holding alike = alike(asked, members);
    if (alike != null || several != null) {
      return alike != null ? alike : several;
    }
    return new Holding(
        List.of(), 0, 0, members.size(), List.of(), -1, Ownership.Whose.RUNTIME, false);
  }

  /** Whether a place is a root of the runtime, which tells nobody where to look. */
  private boolean hasBareRoot(Holding holding) throws IOException {
    for (Holding.Place place : holding.places()) {
      boolean root = place.node() < 0;
      if (root && climb.from(place.target()).names().get(0).whose() == Ownership.Whose.RUNTIME) {
        return true;
      }
    }
    return false;
  }

  /**
   * A few objects, each held by another one in the same way: what follows on them is much, but no
   * container has more than one. A runtime may have a queue for each processor.
   */
  private Holding alike(IntList asked, IntList members) throws IOException {
    if (asked.size() > MOST_ALIKE) {
      return null;
    }
    Climb.Found first = climb.from(asked.get(0));
    Climb.Named named = first.names().get(0);
    for (int i = 0; i < asked.size(); i++) {
      int node = asked.get(i);
      boolean same = climb.from(node).names().get(0).text().equals(named.text());
      // a single reference, so that its cut frees the object and all that hangs on it
      if (!same || named.from() < 0 || links.into(node, 2).size() != 1) {
        return null;
      }
    }
    long bytes = rootHolders.bytes(members);
    int size = members.size();
    String text = named.text() + " in " + size + " objects";
    Holding.Place place = new Holding.Place(text, named.from(), named.target(), text, size, bytes);
    return new Holding(List.of(place), size, bytes, size, first.inside(), -1, named.whose(), false);
  }

  /** The place that holds a single object or collection. */
  public Holding searchOne(int node) throws IOException {
    IntList one = new IntList();
    one.add(node);
    return search(one);
  }

  /**
   * What holds a container whose contents are a set.
   *
   * @param count objects in it
   * @param bytes what these retain
   */
  public Holding searchBelow(int container, long count, long bytes) throws IOException {
    Candidate candidate = emptied(container);
    IntList one = new IntList();
    one.add(container);
    Holding holding = of(candidate, one, one, container);
    return new Holding(
        holding.places(), count, bytes, count, holding.inside(), container, holding.whose(), false);
  }

  private static IntList sample(IntList members, int atMost) {
    if (members.size() <= atMost) {
      return members;
    }
    IntList some = new IntList();
    for (int i = 0; i < atMost; i++) {
      some.add(members.get((int) ((long) i * members.size() / atMost)));
    }
    return some;
  }

  /** Whether most objects hang on one by references all the way, each dominating the next. */
  private boolean isDirect(IntList asked, int top, double enough) throws IOException {
    int direct = 0;
    int looked = 0;
    int every = Math.max(1, asked.size() / NAMED);
    for (int i = 0; i < asked.size(); i += every) {
      looked++;
      int at = asked.get(i);
      while (at != top && at >= 0) {
        at = links.fromDominator(at) == null ? -1 : snapshot.dominator(at);
      }
      direct += at == top ? 1 : 0;
    }
    // what is not below it at all was counted before
    return direct >= ENOUGH * enough * looked;
  }

  /** What a search found before it is tested. */
  private record Candidate(Climb.Found found, int container, boolean emptied) {}

  private Candidate single(int node) throws IOException {
    return new Candidate(climb.from(node), node, false);
  }

  private Candidate emptied(int container) throws IOException {
    return new Candidate(climb.from(container), container, true);
  }

  /** All objects of the set are below the candidate's container, which dominates them. */
  private Holding of(Candidate candidate, IntList asked, IntList members, int top)
      throws IOException {
    List<Holding.Place> places = new ArrayList<>();
    for (Climb.Named named : candidate.found.names()) {
      int target = named.target();
      boolean dominates =
          target == asked.get(0) || links.dominates(target, asked.get(0)) || target == top;
      boolean cut = named.alone() && dominates;
      // where others refer to the same container, it is its contents that are let go
      long freed =
          cut
              ? snapshot.retainedBytes(target)
              : snapshot.retainedBytes(candidate.container)
                  - (candidate.emptied ? snapshot.shallowBytes(candidate.container) : 0);
      places.add(
          new Holding.Place(
              named.text(),
              named.from(),
              target,
              cut ? named.text() : "the contents of " + snapshot.id(candidate.container),
              members.size(),
              freed));
    }
    long freedMembers = 0;
    long freedBytes = 0;
    // above a single object may be the super-root, which is none
    Dominated below = asked.size() == 1 ? null : dominated(top);
    for (int i = 0; i < asked.size(); i++) {
      boolean freed = below == null || below.test(asked.get(i));
      freedMembers += freed ? 1 : 0;
      freedBytes += freed ? snapshot.retainedBytes(asked.get(i)) : 0;
    }
    return new Holding(
        places,
        scaled(freedMembers, asked, members),
        scaled(freedBytes, asked, members),
        members.size(),
        candidate.found.inside(),
        candidate.container,
        candidate.found.names().get(0).whose(),
        false);
  }

  private Dominated dominated(int top) {
    BitSet one = new BitSet();
    one.set(top);
    return new Dominated(snapshot, one);
  }

  /** Held from several sides: the fewest containers that hold the set together. */
  private Holding several(IntList asked, IntList members, int top, double enough)
      throws IOException {
    List<Group> groups = groups(asked, top);
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
    long[] reached = CutSearch.reached(snapshot, links, asked, top, nodes);
    if (reached == null) {
      return null;
    }
    int[] freed = new int[sets.size()];
    for (long still : reached) {
      for (int s = 0; s < freed.length; s++) {
        freed[s] += (still >>> s & 1) == 0 ? 1 : 0;
      }
    }
    int best = best(nodes, freed, enough * asked.size());
    return best < 0 ? null : together(groups, sets.get(best), freed, best, reached, asked, members);
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
      IntList nodes = groups.get(g).nodes;
      int most = groups.get(g).leads.getOrDefault(nodes.get(0), 0);
      container = container < 0 ? nodes.get(0) : container;
      for (int i = 0; i < Math.min(nodes.size(), NAMED); i++) {
        if (groups.get(g).leads.getOrDefault(nodes.get(i), 0) * NEGLIGIBLE < most) {
          break;
        }
        Climb.Found found = climb.from(nodes.get(i));
        Climb.Named named = found.names().get(0);
        if (texts.add(named.text())) {
          inside.addAll(found.inside());
          whose = named.whose().compareTo(whose) < 0 ? named.whose() : whose;
          long alone = scaled(freed[g], asked, members);
          places.add(
              new Holding.Place(
                  named.text(),
                  named.from(),
                  named.target(),
                  "the contents of " + snapshot.id(nodes.get(i)),
                  alone,
                  scaled(bytesFreed(asked, reached, g), asked, members)));
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
              scaled(freed[best], asked, members),
              scaled(bytesFreed(asked, reached, best), asked, members)));
    }
    return new Holding(
        places,
        scaled(freed[best], asked, members),
        scaled(bytesFreed(asked, reached, best), asked, members),
        members.size(),
        List.copyOf(inside),
        container,
        whose,
        false);
  }

  private long bytesFreed(IntList asked, long[] reached, int set) {
    long sum = 0;
    for (int i = 0; i < reached.length; i++) {
      sum += (reached[i] >>> set & 1) == 0 ? snapshot.retainedBytes(asked.get(i)) : 0;
    }
    return sum;
  }

  private static long scaled(long value, IntList asked, IntList members) {
    return asked.size() == members.size()
        ? value
        : Math.round(value * (members.size() / (double) asked.size()));
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
        for (Links.Link link : links.into(node, MOST_LINKS)) {
          if (link.via().kind() == Via.Kind.INTERNAL
              || link.from() != top && links.dominates(member, link.from())) {
            continue;
          }
          String key = Families.of(snapshot.typeName(link.from())) + "\n" + link.via().group();
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
    }
    List<Group> sorted = new ArrayList<>();
    found.values().forEach(group -> sorted.addAll(group.split()));
    sorted.forEach(Group::mostFirst);
    sorted.sort(Comparator.comparingInt((Group group) -> -group.leadsTo()));
    return sorted.size() > MOST_GROUPS ? sorted.subList(0, MOST_GROUPS) : sorted;
  }
}
