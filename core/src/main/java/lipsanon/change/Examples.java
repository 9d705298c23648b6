package lipsanon.change;

import java.io.IOException;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import lipsanon.array.IntList;
import lipsanon.holder.HolderPath;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.label.Families;
import lipsanon.label.Step;

/** Chooses of what piles up in a place one object to show, with the way to it. */
final class Examples {
  /** Objects that are tried. */
  private static final int MOST_TRIED = 16;

  /** Steps from an entry to what it is for. */
  private static final int INSIDE = 3;

  /** Objects that are looked at on each of these. */
  private static final int SAMPLE = 60;

  private final Snapshot last;
  private final HolderPath paths;

  Examples(Snapshot last) {
    this.last = last;
    this.paths = new HolderPath(last);
  }

  /**
   * One of the objects, with the way to it: the largest, unless something else holds that, and the
   * place another.
   *
   * @param node -1 if there is none
   */
  record Example(int node, List<Step> steps) {}

  /**
   * Chooses.
   *
   * @param heads the objects of the place
   * @param what the type by which they are called
   * @param first the first place that holds them, or null
   */
  Example of(IntList heads, String what, Holding.Place first) throws IOException {
    if (heads.isEmpty()) {
      return new Example(-1, List.of());
    }
    if (first == null) {
      return typical(heads, what);
    }
    int largest = inside(largestOf(heads), what);
    List<Step> steps = paths.through(first, largest);
    Example found = steps == null ? null : new Example(largest, steps);
    int every = Math.max(1, heads.size() / MOST_TRIED);
    for (int i = 0; i < heads.size() && (found == null || leadsThroughOthers(found)); i += every) {
      int other = inside(heads.get(i), what);
      steps = paths.through(first, other);
      if (steps != null && (found == null || !leadsThroughOthers(new Example(other, steps)))) {
        found = new Example(other, steps);
      }
    }
    return found == null ? new Example(largest, paths.to(largest, null)) : found;
  }

  /** Whether the way to an object leads through others like it. */
  private static boolean leadsThroughOthers(Example example) {
    String type = Families.of(example.steps.get(example.steps.size() - 1).type());
    return example.steps.stream()
        .limit(example.steps.size() - 1)
        .anyMatch(step -> Families.of(step.type()).equals(type));
  }

  /** Where no place holds most of them: one that is reached in the way that most are. */
  private Example typical(IntList heads, String what) throws IOException {
    Map<String, Integer> ways = new HashMap<>();
    Map<String, Example> first = new LinkedHashMap<>();
    int every = Math.max(1, heads.size() / MOST_TRIED);
    for (int i = 0; i < heads.size(); i += every) {
      int node = inside(heads.get(i), what);
      Example example = new Example(node, paths.to(node, null));
      String way =
          example.steps.stream()
              .map(step -> step.via().replaceAll("\\[\\d+]", "[]") + ' ' + Families.of(step.type()))
              .collect(Collectors.joining("\n"));
      ways.merge(way, 1, Integer::sum);
      first.putIfAbsent(way, example);
    }
    String best = Collections.max(first.keySet(), Comparator.comparingInt(ways::get));
    return first.get(best);
  }

  private int largestOf(IntList nodes) {
    int best = nodes.get(0);
    for (int i = 1; i < nodes.size(); i++) {
      if (last.retainedBytes(nodes.get(i)) > last.retainedBytes(best)) {
        best = nodes.get(i);
      }
    }
    return best;
  }

  /**
   * Where entries, timers and the like pile up: what is in one of them, by which they are called.
   */
  private int inside(int node, String what) throws IOException {
    String family = Families.of(last.typeName(node));
    if (what.equals(family) || what.startsWith(family + " ")) {
      return node;
    }
    IntList level = new IntList();
    level.add(node);
    for (int depth = 0; depth < INSIDE && !level.isEmpty(); depth++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size(); i++) {
        int at = level.get(i);
        last.objects()
            .references(
                at,
                reference -> {
                  if (next.size() < SAMPLE && last.dominator(reference.target()) == at) {
                    next.add(reference.target());
                  }
                });
      }
      for (int i = 0; i < next.size(); i++) {
        if (Families.of(last.typeName(next.get(i))).equals(what)) {
          return next.get(i);
        }
      }
      level = next;
    }
    return node;
  }
}
