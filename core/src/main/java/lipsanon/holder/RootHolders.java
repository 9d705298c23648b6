package lipsanon.holder;

import java.io.IOException;
import java.util.BitSet;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import lipsanon.array.IntList;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.label.Links;
import lipsanon.label.Ownership;
import lipsanon.label.Threads;

/** Finds of a set of objects whether roots hold them, each by one of its own. One thread. */
final class RootHolders {
  /** References from a root to what is near it. */
  private static final int NEAR = 5;

  private static final int MOST_SEEN = 120;

  private final Snapshot snapshot;
  private final Links links;
  private final Ownership ownership;

  RootHolders(Snapshot snapshot, Links links, Ownership ownership) {
    this.snapshot = snapshot;
    this.links = links;
    this.ownership = ownership;
  }

  /** Objects that are roots themselves are held by nothing that could let go. */
  Holding roots(IntList asked, IntList members) throws IOException {
    if (asked.size() == 1) {
      RootInfo variable = links.root(asked.get(0));
      // a single tree or list hangs on a variable that somebody has named
      if (variable != null && variable.named()) {
        return null;
      }
    }
    Map<String, Integer> kinds = new LinkedHashMap<>();
    Map<String, Integer> methods = new LinkedHashMap<>();
    int count = 0;
    for (int i = 0; i < asked.size(); i++) {
      RootInfo root = links.root(asked.get(i));
      boolean passes = root != null && root.passing() && !snapshot.inbound(asked.get(i)).isEmpty();
      if (root != null && !passes && !snapshot.classNodes().contains(asked.get(i))) {
        count++;
        kinds.merge(root.kind(), 1, Integer::sum);
        methods.merge(root.onStack() ? root.detail() : "", 1, Integer::sum);
      }
    }
    if (count < HolderSearch.ENOUGH * asked.size()) {
      return null;
    }
    String method = most(methods);
    boolean alike = methods.get(method) >= HolderSearch.ENOUGH * asked.size();
    boolean own = alike && ownership.ofMethod(method) == Ownership.Whose.OWN;
    if (own && asked.size() > 1) {
      String text = Threads.RUNNING + method;
      return whole(text, RootInfo.THREAD, members, asked.get(0), Ownership.Whose.OWN, true);
    }
    String kind = most(kinds);
    String text = kind.equals(RootInfo.THREAD) ? Threads.described(snapshot, asked) : kind;
    return whole(text, kind, members, asked.get(0), Ownership.Whose.RUNTIME, true);
  }

  private static String most(Map<String, Integer> counts) {
    return counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
  }

  /**
   * Objects that stand near roots, each near one of its own, as a connection near the handle that
   * is open for it; null if most do not.
   */
  Holding nearRoots(IntList asked, IntList members, double enough) throws IOException {
    Map<String, Near> types = new TreeMap<>();
    for (int i = 0; i < asked.size(); i++) {
      for (int root : rootsAbove(asked.get(i))) {
        Near near = types.computeIfAbsent(snapshot.typeName(root), t -> new Near());
        near.roots.set(root);
        if (near.last != i) {
          near.last = i;
          near.asked++;
        }
      }
    }
    types
        .values()
        .removeIf(
            near ->
                near.asked < enough * asked.size() || near.roots.cardinality() * 2 < near.asked);
    if (types.isEmpty() || types.size() > HolderSearch.NAMED) {
      return null;
    }
    int first = types.values().iterator().next().roots.nextSetBit(0);
    String kind = links.root(first).kind();
    String text = "roots of their own: " + String.join(" and ", types.keySet()) + " (" + kind + ")";
    return whole(text, kind, members, first, Ownership.Whose.RUNTIME, false);
  }

  /** Roots of one type that are near some objects. */
  private static final class Near {
    final BitSet roots = new BitSet();
    int asked;
    int last = -1;
  }

  /** Roots that lead to an object by few references. */
  private Set<Integer> rootsAbove(int node) {
    Set<Integer> roots = new LinkedHashSet<>();
    Set<Integer> seen = new HashSet<>(Set.of(node));
    IntList level = new IntList();
    level.add(node);
    for (int depth = 0; depth < NEAR && !level.isEmpty(); depth++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size(); i++) {
        IntList referring = snapshot.inbound(level.get(i));
        for (int r = 0; r < referring.size() && seen.size() < MOST_SEEN; r++) {
          int from = referring.get(r);
          if (snapshot.depth(from) == 0 || !seen.add(from)) {
            continue;
          }
          RootInfo root = links.root(from);
          // variables have names, and what threads have is told by what they run
          boolean told = root != null && (root.named() || root.kind().equals(RootInfo.THREAD));
          if (root != null && !told && !snapshot.classNodes().contains(from)) {
            roots.add(from);
          } else if (!told) {
            next.add(from);
          }
        }
      }
      level = next;
    }
    return roots;
  }

  /** Objects that running threads hold, each by its own variables. */
  Holding threads(IntList asked, IntList members) throws IOException {
    BitSet all = new BitSet();
    for (RootInfo root : snapshot.roots()) {
      if (root.kind().equals(RootInfo.THREAD)) {
        all.set(root.node());
      }
    }
    Dominated below = new Dominated(snapshot, all);
    int held = 0;
    for (int i = 0; i < asked.size(); i++) {
      held += below.test(asked.get(i)) ? 1 : 0;
    }
    if (held < HolderSearch.ENOUGH * asked.size()) {
      return null;
    }
    IntList threads = below.met();
    boolean own = !Threads.runs(snapshot, threads).isEmpty();
    // without their number: the holder is the same when there are more of them
    String text = Threads.described(snapshot, threads);
    Ownership.Whose whose = own ? Ownership.Whose.OWN : Ownership.Whose.RUNTIME;
    return whole(text, RootInfo.THREAD, members, threads.get(0), whose, false);
  }

  /** Whether threads, and nothing else, hold a set. */
  static boolean areThreads(Holding holding) {
    return holding.places().stream()
        .allMatch(place -> place.node() < 0 && place.text().startsWith("thread "));
  }

  /** Held in one way, all of them. */
  private Holding whole(
      String text,
      String via,
      IntList members,
      int example,
      Ownership.Whose whose,
      boolean areRoots) {
    long bytes = bytes(members);
    int size = members.size();
    Holding.Place place = new Holding.Place(text, -1, example, via, size, bytes);
    return new Holding(List.of(place), size, bytes, size, List.of(), -1, whose, areRoots);
  }

  /** What some objects retain in all. */
  long bytes(IntList nodes) {
    long sum = 0;
    for (int i = 0; i < nodes.size(); i++) {
      sum += snapshot.retainedBytes(nodes.get(i));
    }
    return sum;
  }
}
