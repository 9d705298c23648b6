package lipsanon.question;

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
import lipsanon.label.Labels;
import lipsanon.label.NearestPaths;
import lipsanon.label.Ownership;

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

  /** Steps of the merged tree from a root, chains counted once. */
  private static final int DEEPEST = 200;

  private final Snapshot snapshot;
  private final NearestPaths nearest;

  /** All objects on the paths, the asked ones included, in the order found: parents come later. */
  private final Map<Integer, Step> steps = new LinkedHashMap<>();

  private final IntList asked = new IntList();
  private boolean counted;

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
        NearestPaths.Up up = nearest.up(at, false);
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
    if (counted) {
      return;
    }
    counted = true;
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
    private java.util.Set<Integer> known;

    Place(String key) {
      this.key = key;
    }

    boolean contains(int node) {
      if (nodes.size() == 1) {
        return nodes.get(0) == node;
      }
      if (known == null || known.size() != nodes.size()) {
        known = new java.util.HashSet<>();
        for (int i = 0; i < nodes.size(); i++) {
          known.add(nodes.get(i));
        }
      }
      return known.contains(node);
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

  /**
   * The paths as one tree, shared steps once.
   *
   * @param whole whether to begin at the roots even where all paths run through an anchor of the
   *     user's own
   * @param limit nodes at most: those that lead to most
   */
  WaysAnswer ways(Ownership ownership, boolean whole, int limit) throws IOException {
    count();
    IntList roots = new IntList();
    long all = 0;
    for (Map.Entry<Integer, Step> entry : steps.entrySet()) {
      if (entry.getValue().parent < 0) {
        roots.add(entry.getKey());
        all += entry.getValue().leadsTo;
      }
    }
    List<WaysAnswer.Node> nodes = new ArrayList<>();
    long[] left = {0};
    List<Place> top = places(roots, "", all, new IntList());
    expand(whole ? top : anchored(top, all), -1, all, limit, ownership, nodes, left, 0);
    return new WaysAnswer(nodes, left[0]);
  }

  private void expand(
      List<Place> places,
      int parent,
      long all,
      int room,
      Ownership ownership,
      List<WaysAnswer.Node> nodes,
      long[] left,
      int level)
      throws IOException {
    places.sort(Comparator.comparingLong((Place place) -> -leadsTo(place)));
    int leftRoom = room;
    for (int i = 0; i < places.size(); i++) {
      if (leftRoom <= 0 || level > DEEPEST) {
        left[0] += places.size() - i;
        return;
      }
      Place place = places.get(i);
      long leadsTo = leadsTo(place);
      List<Place> next = places(below(place), "", all, new IntList());
      nodes.add(node(place, nodes.size(), parent, leadsTo, ownership));
      leftRoom--;
      int number = nodes.size() - 1;
      long rest = 0;
      for (int k = i; k < places.size(); k++) {
        rest += leadsTo(places.get(k));
      }
      int share = (int) Math.ceil(leftRoom * (leadsTo / (double) Math.max(1, rest)));
      int before = nodes.size();
      expand(
          new ArrayList<>(next),
          number,
          all,
          Math.min(share, leftRoom),
          ownership,
          nodes,
          left,
          level + 1);
      leftRoom -= nodes.size() - before;
    }
  }

  /** Without what is above the lowest anchor that all paths run through. */
  private List<Place> anchored(List<Place> top, long all) {
    List<Place> at = top;
    List<Place> best = top;
    while (at.size() == 1 && at.get(0).nodes.size() == 1) {
      int node = at.get(0).nodes.get(0);
      Step step = steps.get(node);
      if (step.via != null && NearestPaths.isAnchor(snapshot, step.via)) {
        best = at;
      }
      if (step.ends > 0) {
        break;
      }
      IntList below = new IntList();
      for (int k = 0; k < step.children.size(); k++) {
        below.add(step.children.get(k));
      }
      at = places(below, "", all, new IntList());
    }
    return new ArrayList<>(best);
  }

  /** What is below a place; what is like it is a further link of a chain, and belongs to it. */
  private IntList below(Place place) {
    IntList below = new IntList();
    for (int i = 0; i < place.nodes.size(); i++) {
      Step step = steps.get(place.nodes.get(i));
      for (int k = 0; k < step.children.size(); k++) {
        int child = step.children.get(k);
        (key(child).equals(place.key) ? place.nodes : below).add(child);
      }
    }
    return below;
  }

  private String key(int node) {
    Step step = steps.get(node);
    String via = step.via == null ? Labels.rootText(snapshot, node) : step.via.group();
    return snapshot.type(node) + "\n" + via;
  }

  private long leadsTo(Place place) {
    long sum = 0;
    for (int i = 0; i < place.nodes.size(); i++) {
      int node = place.nodes.get(i);
      Step step = steps.get(node);
      // a link of a chain counts with the first link
      boolean nested = step.parent >= 0 && place.contains(step.parent);
      sum += nested ? 0 : step.leadsTo;
    }
    return sum;
  }

  private WaysAnswer.Node node(
      Place place, int number, int parent, long leadsTo, Ownership ownership) throws IOException {
    int first = place.nodes.get(0);
    long members = 0;
    for (int i = 0; i < place.nodes.size(); i++) {
      members += steps.get(place.nodes.get(i)).ends;
    }
    Step step = steps.get(first);
    boolean one = place.nodes.size() == 1;
    String via =
        step.via == null
            ? "root: " + Labels.rootText(snapshot, first)
            : one ? exact(step, first).text() : step.via.group();
    return new WaysAnswer.Node(
        number,
        parent,
        via,
        snapshot.typeName(first),
        one ? Labels.of(snapshot, first) : "",
        snapshot.id(first),
        place.nodes.size(),
        leadsTo,
        members,
        ownership.of(snapshot, first) == Ownership.Whose.OWN);
  }

  /** Which element it is, for the few steps that are one object. */
  private Via exact(Step step, int node) throws IOException {
    boolean element = step.via.kind() == Via.Kind.ELEMENT && step.via.index() < 0;
    Via found = element && step.parent >= 0 ? snapshot.objects().viaTo(step.parent, node) : null;
    return found == null ? step.via : found;
  }

  /** Groups objects that are held by one place; those like it are added to it. */
  private List<Place> places(IntList nodes, String above, long all, IntList same) {
    Map<String, Place> merged = new HashMap<>();
    List<Place> places = new ArrayList<>();
    for (int i = 0; i < nodes.size(); i++) {
      int node = nodes.get(i);
      Step step = steps.get(node);
      String key = key(node);
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
