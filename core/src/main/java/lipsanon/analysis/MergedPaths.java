package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * Nearest paths of many objects, merged by place: two paths are the same if they run through the
 * same holding objects by the same references. Objects on the way that each lead to only a few of
 * the asked ones (entries of a table, links of a chain) are merged by type and reference; those
 * that lead to many stay apart, so that two collections of one type are two places. What was found
 * of an object on the way is remembered, so that shared beginnings are walked once. One thread.
 */
final class MergedPaths {
  /** An object on the way that leads to this share of all is a place of its own. */
  private static final double OF_ITS_OWN = 0.05;

  private final Snapshot snapshot;
  private final NearestPaths nearest;

  /** All objects on the paths, the asked ones included, in the order found: parents come later. */
  private final Map<Integer, Step> steps = new LinkedHashMap<>();

  private final IntList asked = new IntList();

  /** An object on the way. */
  private static final class Step {
    final int parent;
    final Via via;
    final IntList children = new IntList();
    long leadsTo;
    long ends;

    Step(int parent, Via via) {
      this.parent = parent;
      this.via = via;
    }
  }

  /**
   * A merged path with an example.
   *
   * @param example one of the objects that it leads to
   * @param count of the objects that it leads to
   * @param shallowBytes of these
   */
  record Merged(int example, long count, long shallowBytes) {}

  MergedPaths(Snapshot snapshot) {
    this.snapshot = snapshot;
    this.nearest = new NearestPaths(snapshot);
  }

  /** Adds an object; false if it is not retained. */
  boolean add(int node) throws IOException {
    if (snapshot.depth(node) == 0) {
      return false;
    }
    int at = node;
    int child = -1;
    while (at >= 0) {
      Step known = steps.get(at);
      boolean fresh = known == null;
      if (fresh) {
        NearestPaths.Up up = nearest.up(at);
        known = new Step(up.node(), up.via());
        steps.put(at, known);
      }
      if (child >= 0) {
        known.children.add(child);
      }
      if (!fresh) {
        break;
      }
      child = at;
      at = known.parent;
    }
    Step own = steps.get(node);
    if (own.ends == 0) {
      asked.add(node);
    }
    own.ends++;
    return true;
  }

  private void count() {
    for (int i = 0; i < asked.size(); i++) {
      // chains may be long: the way up is walked for each object, once in all for shared parts
      long ends = steps.get(asked.get(i)).ends;
      steps.get(asked.get(i)).leadsTo += ends;
    }
    List<Integer> order = new ArrayList<>(steps.keySet());
    order.sort(Comparator.comparingInt((Integer node) -> snapshot.depth(node)).reversed());
    for (int node : order) {
      Step step = steps.get(node);
      if (step.parent >= 0) {
        steps.get(step.parent).leadsTo += step.leadsTo;
      }
    }
  }

  /** Objects on the way that are taken for one place. */
  private static final class Place {
    final String key;
    final IntList nodes = new IntList();

    Place(String key) {
      this.key = key;
    }
  }

  /** All paths that lead to objects added, the most frequent first. */
  List<Merged> mostFrequent() {
    count();
    long all = 0;
    ArrayDeque<Place> pending = new ArrayDeque<>();
    IntList roots = new IntList();
    for (Map.Entry<Integer, Step> entry : steps.entrySet()) {
      if (entry.getValue().parent < 0) {
        roots.add(entry.getKey());
        all += entry.getValue().leadsTo;
      }
    }
    pending.addAll(places(roots, "", all, new IntList()));
    List<Merged> merged = new ArrayList<>();
    while (!pending.isEmpty()) {
      Place place = pending.removeLast();
      Ends ends = new Ends();
      IntList below = new IntList();
      // what is like its place is a further link of a chain, and belongs to it
      for (int i = 0; i < place.nodes.size(); i++) {
        int node = place.nodes.get(i);
        Step step = steps.get(node);
        ends.add(node, step.ends);
        for (int k = 0; k < step.children.size(); k++) {
          below.add(step.children.get(k));
        }
        if (i == place.nodes.size() - 1) {
          List<Place> next = places(below, place.key, all, place.nodes);
          below = new IntList();
          pending.addAll(next);
        }
      }
      if (ends.count > 0) {
        merged.add(new Merged(ends.example, ends.count, ends.bytes));
      }
    }
    merged.sort(Comparator.comparingLong(Merged::count).reversed());
    return merged;
  }

  private final class Ends {
    int example = -1;
    long count;
    long bytes;

    void add(int node, long ends) {
      if (ends > 0) {
        example = example < 0 ? node : example;
        count += ends;
        bytes += ends * snapshot.shallowBytes(node);
      }
    }
  }

  /** Groups objects that are held by one place; those like it are added to it. */
  private List<Place> places(IntList nodes, String above, long all, IntList same) {
    Map<String, Place> merged = new HashMap<>();
    List<Place> places = new ArrayList<>();
    for (int i = 0; i < nodes.size(); i++) {
      int node = nodes.get(i);
      Step step = steps.get(node);
      String via = step.via == null ? Labels.rootText(snapshot, node) : step.via.group();
      String key = snapshot.type(node) + "\n" + via;
      boolean ofItsOwn = step.ends == 0 && step.leadsTo >= Math.max(2, OF_ITS_OWN * all);
      if (key.equals(above)) {
        same.add(node);
      } else if (ofItsOwn) {
        Place place = new Place(key);
        place.nodes.add(node);
        places.add(place);
      } else {
        merged.computeIfAbsent(key, Place::new).nodes.add(node);
      }
    }
    places.addAll(merged.values());
    return places;
  }
}
