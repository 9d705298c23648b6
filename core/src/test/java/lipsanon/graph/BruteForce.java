package lipsanon.graph;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;

/** The definitions, word for word: slow and plain. */
public final class BruteForce {
  final GraphFixture g;
  public final Strength[] strength;
  final List<Set<Integer>> retaining = new ArrayList<>();
  final Set<Integer> roots;

  /** Of a graph. */
  public BruteForce(GraphFixture g) {
    this.g = g;
    this.strength = new Strength[g.count];
    this.roots = new HashSet<>(g.roots);
    Set<Integer> strong = reach(roots, false, Set.of());
    Set<Integer> soft = reach(roots, true, Set.of());
    Set<Integer> all = new HashSet<>(soft);
    Set<Integer> waiting = new HashSet<>();
    for (boolean changed = true; changed; ) {
      changed = false;
      for (int[] e : g.finalizer) {
        if (all.contains(e[0]) && !soft.contains(e[1]) && waiting.add(e[1])) {
          changed = true;
        }
      }
      Set<Integer> from = new HashSet<>(roots);
      from.addAll(waiting);
      all = reach(from, true, Set.of());
    }
    roots.addAll(waiting);
    for (int i = 0; i < g.count; i++) {
      strength[i] =
          strong.contains(i)
              ? Strength.STRONG
              : soft.contains(i)
                  ? Strength.SOFT
                  : all.contains(i) ? Strength.FINALIZER : Strength.UNRETAINED;
    }
    for (int i = 0; i < g.count; i++) {
      Set<Integer> targets = new HashSet<>();
      if (strength[i] != Strength.UNRETAINED) {
        targets.addAll(g.targets(i));
        for (int[] e : g.soft) {
          boolean keeps = strength[e[1]] == Strength.SOFT || strength[e[1]] == Strength.FINALIZER;
          if (e[0] == i && keeps) {
            targets.add(e[1]);
          }
        }
      }
      retaining.add(targets);
    }
  }

  private Set<Integer> reach(Set<Integer> from, boolean softToo, Set<Integer> without) {
    Set<Integer> seen = new HashSet<>(from);
    Deque<Integer> pending = new ArrayDeque<>(from);
    while (!pending.isEmpty()) {
      int node = pending.poll();
      Set<Integer> targets = new HashSet<>(g.targets(node));
      for (int[] e : g.soft) {
        if (softToo && e[0] == node) {
          targets.add(e[1]);
        }
      }
      for (int target : targets) {
        if (!without.contains(target) && seen.add(target)) {
          pending.add(target);
        }
      }
    }
    return seen;
  }

  /** What is reached over retaining edges when some nodes are removed. */
  Set<Integer> reachedWithout(Set<Integer> removed) {
    Set<Integer> seen = new HashSet<>();
    Deque<Integer> pending = new ArrayDeque<>();
    for (int root : roots) {
      if (!removed.contains(root) && seen.add(root)) {
        pending.add(root);
      }
    }
    while (!pending.isEmpty()) {
      for (int target : retaining.get(pending.poll())) {
        if (!removed.contains(target) && seen.add(target)) {
          pending.add(target);
        }
      }
    }
    return seen;
  }

  /** All that a node dominates, itself included; empty if it is not retained. */
  public Set<Integer> dominated(int node) {
    Set<Integer> lost = new HashSet<>(reachedWithout(Set.of()));
    lost.removeAll(reachedWithout(Set.of(node)));
    return lost;
  }

  /** The dominator that dominates fewest: the closest; -1 for the super-root. */
  public int immediateDominator(int node) {
    int best = -1;
    int bestSize = Integer.MAX_VALUE;
    for (int d = 0; d < g.count; d++) {
      Set<Integer> dominated = dominated(d);
      if (d != node && dominated.contains(node) && dominated.size() < bestSize) {
        best = d;
        bestSize = dominated.size();
      }
    }
    return best;
  }

  /** By node: its depth. */
  public int[] depths() {
    int[] depth = new int[g.count];
    Deque<Integer> pending = new ArrayDeque<>();
    for (int root : roots) {
      depth[root] = 1;
      pending.add(root);
    }
    while (!pending.isEmpty()) {
      int node = pending.poll();
      for (int target : retaining.get(node)) {
        if (depth[target] == 0) {
          depth[target] = depth[node] + 1;
          pending.add(target);
        }
      }
    }
    return depth;
  }

  /** What keeps a join, objects of which it is the class left out; null if it is none. */
  public int[] joinKeepers(int node) {
    if (strength[node] == Strength.UNRETAINED || roots.contains(node)) {
      return null;
    }
    int dominator = immediateDominator(node);
    if (dominator >= 0 && retaining.get(dominator).contains(node)) {
      return null;
    }
    Set<Integer> keepers = new TreeSet<>();
    for (int from = 0; from < g.count; from++) {
      boolean asClass = g.classNode[g.type[from]] == node;
      if (strength[from] != Strength.UNRETAINED
          && from != node
          && retaining.get(from).contains(node)
          && (!asClass || g.strong.get(from).contains(node))) {
        keepers.add(from);
      }
    }
    return keepers.stream().mapToInt(Integer::intValue).toArray();
  }

  /** What refers to a node by edges of any kind, objects of which it is the class left out. */
  public Set<Integer> inbound(int node) {
    Set<Integer> sources = new TreeSet<>();
    for (int from = 0; from < g.count; from++) {
      if (g.strong.get(from).contains(node)) {
        sources.add(from);
      }
    }
    for (List<int[]> pairs : List.of(g.soft, g.weak, g.finalizer)) {
      for (int[] edge : pairs) {
        if (edge[1] == node) {
          sources.add(edge[0]);
        }
      }
    }
    return sources;
  }
}
