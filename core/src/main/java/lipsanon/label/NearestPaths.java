package lipsanon.label;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * Nearest paths from roots, found upwards: from an object to one that refers to it and lies one
 * level less deep. Paths of a million steps are no problem; nothing recurses. One thread.
 */
public final class NearestPaths {
  /** Referring objects at the right depth that are compared for the plainest. */
  private static final int MOST_COMPARED = 24;

  private final Snapshot snapshot;

  public NearestPaths(Snapshot snapshot) {
    this.snapshot = snapshot;
  }

  /**
   * A reference upwards.
   *
   * @param node the object that refers, or -1 for the super-root
   * @param via how; null for the super-root
   */
  public record Up(int node, Via via) {}

  /** From where the nearest path reaches an object; null if it is not retained. */
  public Up up(int node) throws IOException {
    return up(node, true);
  }

  /**
   * The same.
   *
   * @param exact whether an array's element needs its number: to find it reads the array, which is
   *     long where very many objects are asked for
   */
  public Up up(int node, boolean exact) throws IOException {
    int depth = snapshot.depth(node);
    if (depth == 0) {
      return null;
    }
    if (depth == 1) {
      return new Up(-1, null);
    }
    IntList referring = snapshot.inbound(node);
    Up best = null;
    int bestRank = Integer.MAX_VALUE;
    int looked = 0;
    for (int i = 0; i < referring.size() && bestRank > 0 && looked < MOST_COMPARED; i++) {
      int from = referring.get(i);
      if (snapshot.depth(from) == depth - 1) {
        Via array = exact ? null : snapshot.objects().ofArray(from);
        Via via = array != null ? array : snapshot.objects().viaTo(from, node);
        int rank = via == null ? Integer.MAX_VALUE : rank(from, via);
        if (rank < bestRank) {
          best = new Up(from, via);
          bestRank = rank;
        }
        looked += via == null ? 0 : 1;
      }
    }
    return best != null ? best : instanceOf(node, depth - 1);
  }

  /** Of several nearest paths the one through the user's own types tells most. */
  private int rank(int from, Via via) {
    if (via.kind() == Via.Kind.INTERNAL) {
      return 3;
    }
    if (via.kind() == Via.Kind.VARIABLE || via.kind() == Via.Kind.SERVICE) {
      return 0;
    }
    TypeInfo info = snapshot.types().get(snapshot.type(from));
    return info.library() ? 2 : info.foreign() ? 1 : 0;
  }

  /** A class that only its instances hold at that depth: any of them. */
  private Up instanceOf(int classNode, int depth) throws IOException {
    for (int t = 0; t < snapshot.types().size(); t++) {
      if (snapshot.types().get(t).classNode() == classNode) {
        int instance = first(t, depth);
        if (instance >= 0) {
          return new Up(instance, snapshot.objects().viaTo(instance, classNode));
        }
      }
    }
    throw new IllegalStateException("nothing at depth " + depth + " refers to " + classNode);
  }

  private int first(int type, int depth) {
    PackedColumn types = snapshot.typeColumn();
    long[] block = new long[64];
    long blocks = types.count() + 63 >> 6;
    for (long b = 0; b < blocks; b++) {
      int size = types.block(b, block);
      for (int i = 0; i < size; i++) {
        if (block[i] == type && snapshot.depth((int) (b << 6) + i) == depth) {
          return (int) (b << 6) + i;
        }
      }
    }
    return -1;
  }

  /** The path to an object from the user's own anchor, if it has one; empty if not retained. */
  public List<Step> to(int node) throws IOException {
    return to(node, false);
  }

  /**
   * The path to an object: the nearest one, or where that leads through what is kept less firmly
   * than the object, one that does not.
   *
   * @param whole whether to begin at the root even where the user's own anchor is on the way
   */
  public List<Step> to(int node, boolean whole) throws IOException {
    IntList nodes = new IntList();
    List<Via> vias = new ArrayList<>();
    collect(node, nodes, vias);
    if (FirmPath.isNeeded(snapshot, nodes)) {
      IntList firm = new IntList();
      List<Via> how = new ArrayList<>();
      if (FirmPath.find(snapshot, node, firm, how)) {
        nodes = firm;
        vias = how;
      }
    }
    if (!whole) {
      trim(nodes, vias);
    }
    return fold(nodes, vias);
  }

  /** Adds the steps from an object up to its root. */
  public void collect(int node, IntList nodes, List<Via> vias) throws IOException {
    int at = node;
    for (Up up = up(at); up != null; up = at < 0 ? null : up(at)) {
      nodes.add(at);
      vias.add(up.via);
      at = up.node;
    }
  }

  /** Cuts off what is above the lowest anchor. */
  public void trim(IntList nodes, List<Via> vias) {
    for (int i = 0; i < vias.size(); i++) {
      if (vias.get(i) != null && isAnchor(snapshot, vias.get(i))) {
        while (vias.size() > i + 1) {
          vias.remove(vias.size() - 1);
          nodes.removeLast();
        }
        return;
      }
    }
  }

  /**
   * Whether a reference lasts as long as code is loaded that is no part of the runtime: a static
   * field, unless its class is loaded several times over, or a module's variable.
   */
  public static boolean isAnchor(Snapshot snapshot, Via via) {
    if (via.kind() == Via.Kind.VARIABLE
        || via.kind() == Via.Kind.LIBRARY_VARIABLE
        || via.kind() == Via.Kind.RUNTIME_VARIABLE) {
      return via.owner().contains("top level") || via.owner().contains("global scope");
    }
    if (via.kind() != Via.Kind.STATIC) {
      return via.kind() == Via.Kind.GLOBAL;
    }
    int copies = 0;
    boolean library = false;
    for (TypeInfo type : snapshot.types()) {
      if (type.name().equals(via.owner())) {
        copies++;
        library |= type.library();
      }
    }
    return copies < 2 && !library;
  }

  /** From the root down, runs of the same type and reference made one step. */
  public List<Step> fold(IntList nodes, List<Via> vias) throws IOException {
    List<Step> steps = new ArrayList<>();
    for (int i = nodes.size() - 1; i >= 0; i--) {
      int node = nodes.get(i);
      int last = i;
      while (last > 1 && like(nodes, vias, last, last - 1)) {
        last--;
      }
      steps.add(step(node, vias.get(i), 1));
      if (i - last > 2) {
        steps.add(step(nodes.get(last + 1), vias.get(last + 1), i - last - 1));
        steps.add(step(nodes.get(last), vias.get(last), 1));
        i = last;
      }
    }
    return steps;
  }

  /** Whether two steps of a path lead to the same type by the same reference. */
  public boolean like(IntList nodes, List<Via> vias, int upper, int lower) {
    Via a = vias.get(upper);
    Via b = vias.get(lower);
    return a != null
        && b != null
        && snapshot.type(nodes.get(upper)) == snapshot.type(nodes.get(lower))
        && a.group().equals(b.group());
  }

  Step step(int node, Via via, long repeats) throws IOException {
    return new Step(
        snapshot.id(node),
        snapshot.typeName(node),
        Labels.of(snapshot, node),
        via == null ? Labels.rootText(snapshot, node) : via.text(),
        snapshot.retainedBytes(node),
        repeats);
  }
}
