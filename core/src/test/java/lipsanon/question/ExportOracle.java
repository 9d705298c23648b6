package lipsanon.question;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;

/**
 * What anyone can compute from the exported tables with the definitions alone: objects, references
 * and roots as they stand there, sets of identifiers, and searches that leave something out.
 */
public final class ExportOracle {
  private static final String WAITING = "waits for its finalizer";

  /** A row of the objects' table. */
  public record Row(
      String id,
      String type,
      long shallow,
      Long retained,
      String dominator,
      Long depth,
      String strength) {}

  public final Map<String, Row> objects = new LinkedHashMap<>();
  final Set<String> roots = new HashSet<>();
  private final Set<String> waiting = new HashSet<>();
  private final Map<String, Set<String>> strong = new HashMap<>();
  private final Map<String, Set<String>> soft = new HashMap<>();
  private final Map<String, Set<String>> retaining = new HashMap<>();
  final Map<String, String> strength = new HashMap<>();

  public ExportOracle(Snapshot snapshot) throws IOException {
    ExportQuestion.objects(
        snapshot,
        v ->
            objects.put(
                (String) v[0],
                new Row(
                    (String) v[0],
                    (String) v[1],
                    (Long) v[2],
                    (Long) v[3],
                    (String) v[4],
                    (Long) v[5],
                    (String) v[6])),
        Progress.NONE);
    objects.keySet().forEach(id -> strong.put(id, new TreeSet<>()));
    objects.keySet().forEach(id -> soft.put(id, new TreeSet<>()));
    ExportQuestion.references(
        snapshot,
        v -> {
          String to = (String) v[1];
          switch ((String) v[2]) {
            case "root" -> {
              roots.add(to);
              if (v[3].equals(WAITING)) {
                waiting.add(to);
              }
            }
            case "strong" -> strong.get((String) v[0]).add(to);
            case "soft" -> soft.get((String) v[0]).add(to);
            default -> {
              // weak references and those of the finalizer machinery keep nothing
            }
          }
        },
        Progress.NONE);
    strengths();
  }

  private void strengths() {
    Set<String> first = new HashSet<>(roots);
    first.removeAll(waiting);
    Set<String> byStrong = reach(first, strong, Map.of(), Set.of());
    Set<String> bySoft = reach(first, strong, soft, Set.of());
    Set<String> all = reach(roots, strong, soft, Set.of());
    for (String id : objects.keySet()) {
      strength.put(
          id,
          byStrong.contains(id)
              ? "strong"
              : bySoft.contains(id) ? "soft" : all.contains(id) ? "finalizer" : "unretained");
    }
    for (String id : objects.keySet()) {
      Set<String> targets = new TreeSet<>();
      if (!strength.get(id).equals("unretained")) {
        targets.addAll(strong.get(id));
        for (String to : soft.get(id)) {
          if (strength.get(to).equals("soft") || strength.get(to).equals("finalizer")) {
            targets.add(to);
          }
        }
      }
      retaining.put(id, targets);
    }
  }

  private static Set<String> reach(
      Set<String> from,
      Map<String, Set<String>> edges,
      Map<String, Set<String>> more,
      Set<String> without) {
    Set<String> seen = new HashSet<>();
    Deque<String> pending = new ArrayDeque<>();
    for (String id : from) {
      if (!without.contains(id) && seen.add(id)) {
        pending.add(id);
      }
    }
    while (!pending.isEmpty()) {
      String at = pending.poll();
      List<String> targets = new ArrayList<>(edges.get(at));
      targets.addAll(more.getOrDefault(at, Set.of()));
      for (String to : targets) {
        if (!without.contains(to) && seen.add(to)) {
          pending.add(to);
        }
      }
    }
    return seen;
  }

  /** What is lost when a set is removed, retained members of the set included. */
  Set<String> lost(Set<String> removed) {
    Set<String> all = reach(roots, retaining, Map.of(), Set.of());
    all.removeAll(reach(roots, retaining, Map.of(), removed));
    return all;
  }

  long bytes(Set<String> ids) {
    return ids.stream().mapToLong(id -> objects.get(id).shallow()).sum();
  }

  /** What is lost when some references are cleared, each as {@code from to}. */
  Set<String> lostWithout(Set<String> cleared) {
    Map<String, Set<String>> rest = new HashMap<>();
    retaining.forEach(
        (from, targets) -> {
          Set<String> left = new TreeSet<>(targets);
          left.removeIf(to -> cleared.contains(from + " " + to));
          rest.put(from, left);
        });
    Set<String> all = reach(roots, retaining, Map.of(), Set.of());
    all.removeAll(reach(roots, rest, Map.of(), Set.of()));
    return all;
  }

  /** What an object refers to by references that retain. */
  Set<String> keeps(String id) {
    return retaining.get(id);
  }

  /** By object: how many references lie between it and a root, that into it included. */
  Map<String, Long> depths() {
    Map<String, Long> depths = new HashMap<>();
    Deque<String> pending = new ArrayDeque<>();
    for (String root : roots) {
      depths.put(root, 1L);
      pending.add(root);
    }
    while (!pending.isEmpty()) {
      String at = pending.poll();
      for (String to : retaining.get(at)) {
        if (depths.putIfAbsent(to, depths.get(at) + 1) == null) {
          pending.add(to);
        }
      }
    }
    return depths;
  }

  /** By object: all that is lost without it. */
  Map<String, Set<String>> dominated() {
    Map<String, Set<String>> dominated = new HashMap<>();
    for (String id : objects.keySet()) {
      dominated.put(id, lost(Set.of(id)));
    }
    return dominated;
  }

  /** The closest other object without which one is lost; null if there is none. */
  static String dominator(String id, Map<String, Set<String>> dominated) {
    String best = null;
    for (Map.Entry<String, Set<String>> entry : dominated.entrySet()) {
      boolean above = !entry.getKey().equals(id) && entry.getValue().contains(id);
      if (above && (best == null || entry.getValue().size() < dominated.get(best).size())) {
        best = entry.getKey();
      }
    }
    return best;
  }
}
