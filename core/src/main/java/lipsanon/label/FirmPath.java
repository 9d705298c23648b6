package lipsanon.label;

import java.io.IOException;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * The path to an object that is kept firmly, where the nearest one leads through what is kept less
 * firmly itself: soft references could go, and the object would stay. Found upwards, level by
 * level. One thread.
 */
final class FirmPath {
  /** Objects that are looked at; beyond that the nearest path has to do. */
  private static final int MOST_VISITED = 200_000;

  private FirmPath() {}

  /** Whether a path, from an object up to its root, leads through something kept less firmly. */
  static boolean isNeeded(Snapshot snapshot, IntList nodes) {
    Links links = new Links(snapshot);
    for (int i = 1; i < nodes.size(); i++) {
      if (links.isWeaker(nodes.get(i), nodes.get(0))) {
        return true;
      }
    }
    return false;
  }

  /**
   * Finds it.
   *
   * @param nodes takes the objects, from the one that is asked about up to the root
   * @param vias takes how each is referred to; null for the root
   * @return whether there is one; else nothing was added
   */
  static boolean find(Snapshot snapshot, int node, IntList nodes, List<Via> vias)
      throws IOException {
    Links links = new Links(snapshot);
    LongIntMap number = new LongIntMap();
    IntList seen = new IntList();
    IntList below = new IntList();
    seen.add(node);
    below.add(-1);
    number.put(node, 0);
    for (int at = 0; at < seen.size() && seen.size() < MOST_VISITED; at++) {
      int target = seen.get(at);
      if (snapshot.depth(target) == 1) {
        add(snapshot, seen, below, at, nodes, vias);
        return true;
      }
      IntList referring = snapshot.inbound(target);
      for (int i = 0; i < referring.size() && seen.size() < MOST_VISITED; i++) {
        int from = referring.get(i);
        boolean firm = snapshot.depth(from) > 0 && !links.isWeaker(from, node);
        if (firm && number.get(from) < 0 && links.keeps(from, target)) {
          number.put(from, seen.size());
          seen.add(from);
          below.add(at);
        }
      }
    }
    return false;
  }

  private static void add(
      Snapshot snapshot, IntList seen, IntList below, int root, IntList nodes, List<Via> vias)
      throws IOException {
    IntList down = new IntList();
    for (int at = root; at >= 0; at = below.get(at)) {
      down.add(seen.get(at));
    }
    for (int i = down.size() - 1; i >= 0; i--) {
      nodes.add(down.get(i));
      vias.add(i == 0 ? null : snapshot.objects().viaTo(down.get(i - 1), down.get(i)));
    }
  }
}
