package lipsanon.label;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * Which references keep an object, upwards. The references of an object that is asked about often
 * are read once and remembered, since tables may hold a million. One thread.
 */
public final class Links {
  private static final int OFTEN = 3;

  /** Of each type this part of what is looked at comes first. */
  private static final int PER_TYPE = 8;

  private static final int MOST_STEPS = 20_000;
  private static final int MOST_ABOVE = 200_000;

  private final Snapshot snapshot;
  private final Map<Integer, Integer> asked = new HashMap<>();
  private final Map<Integer, Map<Integer, Via>> known = new HashMap<>();

  public Links(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /** A reference that keeps its target. */
  public record Link(int from, Via via) {}

  /**
   * How the object that dominates another refers to it; null if only others below it do, or none
   * dominates it.
   */
  public Via fromDominator(int node) throws IOException {
    int above = snapshot.dominator(node);
    if (above < 0) {
      return null;
    }
    // what an array refers to is not read, but taken from those who ask
    boolean unread =
        snapshot.objects().ofArray(above) != null && !snapshot.classNodes().contains(node);
    return unread && !refers(above, node) ? null : via(above, node);
  }

  private boolean refers(int from, int to) {
    IntList referring = snapshot.inbound(to);
    for (int i = 0; i < referring.size(); i++) {
      if (referring.get(i) == from) {
        return true;
      }
    }
    return false;
  }

  /** How an object keeps another, which an array must be known to refer to; null if it does not. */
  public Via via(int from, int to) throws IOException {
    Via element = snapshot.objects().ofArray(from);
    if (element != null && !snapshot.classNodes().contains(to)) {
      return element;
    }
    Map<Integer, Via> all = known.get(from);
    if (all == null && asked.merge(from, 1, Integer::sum) > OFTEN) {
      all = read(from);
      known.put(from, all);
    }
    return all != null ? all.get(to) : snapshot.objects().viaTo(from, to);
  }

  /** Whether an object that refers to another keeps it. */
  public boolean keeps(int from, int to) throws IOException {
    return !snapshot.objects().mayReferWeakly(snapshot.type(from)) || via(from, to) != null;
  }

  private Map<Integer, Via> read(int from) throws IOException {
    Map<Integer, Via> vias = new HashMap<>();
    snapshot
        .objects()
        .references(
            from,
            reference -> {
              if (reference.kind() == Reference.Kind.STRONG) {
                vias.merge(reference.target(), reference.via(), Links::plainer);
              }
            });
    // soft and finalizer references keep some objects; these are rare, and asked for one by one
    Map<Integer, Via> special = new HashMap<>();
    snapshot
        .objects()
        .references(
            from,
            reference -> {
              if (reference.kind() != Reference.Kind.STRONG
                  && !vias.containsKey(reference.target())) {
                special.put(reference.target(), reference.via());
              }
            });
    for (int target : special.keySet()) {
      Via via = snapshot.objects().viaTo(from, target);
      if (via != null) {
        vias.put(target, via);
      }
    }
    return vias;
  }

  /**
   * The references that keep an object, those from what it dominates itself left out; at most so
   * many. Where there are more, some of each type come first: of thousands of like ones the only
   * other one is what is asked for.
   */
  public List<Link> into(int node, int atMost) throws IOException {
    List<Link> links = new ArrayList<>();
    List<Link> internal = new ArrayList<>();
    IntList referring = snapshot.inbound(node);
    if (referring.size() > atMost) {
      referring = varied(referring, Math.max(1, atMost / PER_TYPE));
    }
    WaysUp below = new WaysUp(snapshot, node, referring.size());
    for (int i = 0; i < referring.size() && links.size() < atMost; i++) {
      int from = referring.get(i);
      if (from == node || snapshot.depth(from) == 0 || below.has(from)) {
        continue;
      }
      Via via = via(from, node);
      if (via != null) {
        (via.kind() == Via.Kind.INTERNAL ? internal : links).add(new Link(from, via));
      }
    }
    return links.isEmpty() ? internal : links;
  }

  /**
   * Those of the same by which an object belongs to somebody: what only asks about it, or may take
   * it out of a list, is left out where there are others.
   */
  public List<Link> owning(int node, int atMost) throws IOException {
    List<Link> all = into(node, atMost);
    List<Link> owning = new ArrayList<>(all);
    owning.removeIf(
        link -> isWeaker(link.from(), node) || Handles.isOne(snapshot, link.via(), node));
    return owning.isEmpty() ? all : owning;
  }

  /**
   * Whether an object is itself kept less firmly than another that it refers to, as by soft
   * references alone: then the other belongs to whoever keeps it firmly.
   */
  public boolean isWeaker(int from, int to) {
    return snapshot.strength(from).compareTo(snapshot.strength(to)) > 0;
  }

  /** Of objects that refer to another, those to which it belongs in this sense. */
  public IntList owning(IntList referring, int node) throws IOException {
    if (!Handles.areThere(snapshot, node)) {
      return referring;
    }
    IntList owning = new IntList();
    for (int i = 0; i < referring.size(); i++) {
      Via via = via(referring.get(i), node);
      if (via == null || !Handles.isOne(snapshot, via, node)) {
        owning.add(referring.get(i));
      }
    }
    return owning.isEmpty() ? referring : owning;
  }

  /** The same objects, with the first few of each type before all others. */
  private IntList varied(IntList nodes, int few) {
    LongIntMap met = new LongIntMap();
    IntList first = new IntList(nodes.size());
    IntList others = new IntList(nodes.size());
    for (int i = 0; i < nodes.size(); i++) {
      int node = nodes.get(i);
      int type = snapshot.type(node);
      int before = Math.max(0, met.get(type));
      met.put(type, before + 1);
      (before < few ? first : others).add(node);
    }
    for (int i = 0; i < others.size(); i++) {
      first.add(others.get(i));
    }
    return first;
  }

  /** Whether one object dominates another. */
  public boolean dominates(int above, int node) {
    // what dominates is on every path, the nearest included: it is never deeper
    int depth = snapshot.depth(above);
    int at = node;
    for (int i = 0; i < MOST_STEPS && at >= 0 && snapshot.depth(at) >= depth; i++) {
      if (at == above) {
        return true;
      }
      at = snapshot.dominator(at);
    }
    return false;
  }

  /**
   * The root that holds an object directly, or null; locals of threads are no such roots. One that
   * passes is told only where there is no other.
   */
  public RootInfo root(int node) {
    RootInfo passing = null;
    for (RootInfo root : snapshot.rootsOf(node)) {
      if (root.thread() < 0) {
        if (!root.passing()) {
          return root;
        }
        passing = passing == null ? root : passing;
      }
    }
    return passing;
  }

  /**
   * The nearest object that dominates a share of some objects.
   *
   * @param share from more than a half to 1
   * @return -1 if only the super-root does
   */
  public int commonDominator(IntList nodes, double share) {
    // the part of the dominator tree above the objects: shared parts are walked once
    LongIntMap number = new LongIntMap();
    IntList above = new IntList();
    IntList parent = new IntList();
    IntList begun = new IntList();
    for (int i = 0; i < nodes.size(); i++) {
      int at = snapshot.dominator(nodes.get(i));
      int child = -1;
      while (at >= 0 && above.size() < MOST_ABOVE) {
        int known = number.get(at);
        if (known < 0) {
          known = above.size();
          number.put(at, known);
          above.add(at);
          parent.add(-1);
          begun.add(0);
          if (child >= 0) {
            parent.set(child, known);
          } else {
            begun.set(known, 1);
          }
          child = known;
          at = snapshot.dominator(at);
        } else {
          if (child >= 0) {
            parent.set(child, known);
          } else {
            begun.set(known, begun.get(known) + 1);
          }
          break;
        }
      }
    }
    return nearest(above, parent, begun, share * nodes.size());
  }

  /** Of some objects of the dominator tree the deepest that has enough below it. */
  private int nearest(IntList above, IntList parent, IntList begun, double enough) {
    // what is deeper comes first: a dominator is never as deep as what it dominates
    long[] order = new long[above.size()];
    for (int i = 0; i < order.length; i++) {
      order[i] = (long) snapshot.depth(above.get(i)) << 32 | i;
    }
    Arrays.sort(order);
    int[] below = begun.toArray();
    for (int i = order.length - 1; i >= 0; i--) {
      int at = (int) order[i];
      if (below[at] >= enough) {
        return above.get(at);
      }
      if (parent.get(at) >= 0) {
        below[parent.get(at)] += below[at];
      }
    }
    return -1;
  }

  /** Of two references of one object to another the one that says more to its user. */
  public static Via plainer(Via known, Via other) {
    boolean hidden = known.kind() == Via.Kind.INTERNAL || known.kind() == Via.Kind.PART;
    return hidden && other.kind() != Via.Kind.INTERNAL ? other : known;
  }
}
