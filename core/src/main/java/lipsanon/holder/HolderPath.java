package lipsanon.holder;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Links;
import lipsanon.label.NearestPaths;
import lipsanon.label.Step;

/**
 * The path through a named holder to one of the objects that it holds: from the holder's anchor
 * down to it. One thread.
 */
public final class HolderPath {
  private static final int MOST_SEEN = 20_000;

  private final Snapshot snapshot;
  private final Links links;
  private final NearestPaths nearest;

  public HolderPath(Snapshot snapshot) {
    this.snapshot = snapshot;
    this.links = new Links(snapshot);
    this.nearest = new NearestPaths(snapshot);
  }

  /** The steps; the nearest path from a root where the holder is none that can be walked from. */
  public List<Step> to(int object, Holding.Place place) throws IOException {
    List<Step> through = place == null ? null : through(place, object);
    return through == null ? nearest.to(object) : through;
  }

  /**
   * The steps of a way that goes through a place; null if the place leads to the object by none.
   */
  public List<Step> through(Holding.Place place, int object) throws IOException {
    if (place.node() < 0 || place.node() == place.target()) {
      return null;
    }
    Via via = links.via(place.node(), place.target());
    IntList nodes = new IntList();
    List<Via> vias = new ArrayList<>();
    if (via == null || !below(object, place.target(), nodes, vias)) {
      return null;
    }
    nodes.add(place.target());
    vias.add(via);
    if (!NearestPaths.isAnchor(snapshot, via)) {
      nearest.collect(place.node(), nodes, vias);
      nearest.trim(nodes, vias);
    }
    named(nodes, vias);
    return nearest.fold(nodes, vias);
  }

  /** Elements are told without their places while many are looked at: here they are wanted. */
  private void named(IntList nodes, List<Via> vias) throws IOException {
    for (int i = 0; i + 1 < nodes.size(); i++) {
      Via via = vias.get(i);
      if (via != null && via.kind() == Via.Kind.ELEMENT && via.index() < 0) {
        Via exact = snapshot.objects().viaTo(nodes.get(i + 1), nodes.get(i));
        vias.set(i, exact == null ? via : exact);
      }
    }
  }

  /** From an object up to one that leads to it, that one left out; false if no way was found. */
  private boolean below(int object, int top, IntList nodes, List<Via> vias) throws IOException {
    Map<Integer, Integer> towards = new HashMap<>();
    Map<Integer, Via> by = new HashMap<>();
    IntList level = new IntList();
    level.add(object);
    towards.put(object, object);
    while (!level.isEmpty() && !towards.containsKey(top) && towards.size() < MOST_SEEN) {
      IntList next = new IntList();
      for (int i = 0; i < level.size() && !towards.containsKey(top); i++) {
        int node = level.get(i);
        IntList referring = snapshot.inbound(node);
        for (int k = 0; k < referring.size(); k++) {
          int from = referring.get(k);
          if (snapshot.depth(from) == 0 || towards.containsKey(from)) {
            continue;
          }
          Via via = links.via(from, node);
          if (via != null && via.kind() != Via.Kind.INTERNAL) {
            towards.put(from, node);
            by.put(from, via);
            next.add(from);
          }
        }
      }
      level = next;
    }
    if (!towards.containsKey(top)) {
      return false;
    }
    IntList down = new IntList();
    List<Via> downVias = new ArrayList<>();
    for (int at = top; at != object; at = towards.get(at)) {
      down.add(towards.get(at));
      downVias.add(by.get(at));
    }
    for (int i = down.size() - 1; i >= 0; i--) {
      nodes.add(down.get(i));
      vias.add(downVias.get(i));
    }
    return true;
  }
}
