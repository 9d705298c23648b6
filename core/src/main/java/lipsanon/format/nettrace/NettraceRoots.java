package lipsanon.format.nettrace;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.format.dotnet.DotnetFields;
import lipsanon.format.dotnet.DotnetTypes;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.format.dotnet.RootKinds;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.RootInfo;

/** Finds the roots that the events of a stream tell, once its objects are read. */
final class NettraceRoots {
  private static final int ROOT_STACK = 0;
  private static final int ROOT_FINALIZER = 1;
  private static final int ROOT_HANDLE = 2;
  private static final int FLAG_PINNED = 1;
  private static final int FLAG_WEAK = 2;
  private static final int FLAG_COUNTED = 8;

  private final HeapEvents events;
  private final NettraceTypes types;
  private final Objects objects;

  /**
   * The objects, in the order of their addresses.
   *
   * @param type by object, its number
   * @param generation by object, as by {@link HeapParts}
   * @param firstEdge by object, where its list begins in {@code edges}
   * @param edges lists of references, as by {@link lipsanon.graph.ObjectGraph}
   */
  record Objects(
      Addresses addresses,
      IntArray type,
      IntArray generation,
      IntArray firstEdge,
      IntPages edges) {}

  NettraceRoots(HeapEvents events, NettraceTypes types, Objects objects) {
    this.events = events;
    this.types = types;
    this.objects = objects;
  }

  /**
   * Adds what is found.
   *
   * @param special for what waits for its finalizer
   */
  void find(List<RootInfo> roots, SpecialEdges special) {
    for (HeapEvents.RawStatic one : events.statics) {
      int node = one.object() == 0 ? -1 : objects.addresses().rank(one.object());
      if (node >= 0) {
        String owner = events.names.book().statics.getOrDefault(one.slot(), "");
        String name = DotnetTypes.fieldName(one.name());
        roots.add(
            new RootInfo(node, RootKinds.STATIC, owner.isEmpty() ? name : owner + "." + name, -1));
      }
    }
    List<Integer> finalizing = new ArrayList<>();
    for (HeapEvents.RawRoot root : events.roots) {
      int node = root.object() == 0 ? -1 : objects.addresses().rank(root.object());
      if (node < 0 || (root.flags() & FLAG_WEAK) != 0) {
        continue;
      }
      if (root.kind() == ROOT_FINALIZER) {
        finalizing.add(node);
      } else {
        roots.add(root(node, root));
      }
    }
    for (int n = 0; n < objects.addresses().count(); n++) {
      if (objects.generation().get(n) == HeapParts.FROZEN && !events.ranges.isEmpty()) {
        roots.add(new RootInfo(n, RootKinds.FROZEN, "", -1));
      }
    }
    genericStatics(roots);
    // a reference of the finalizer machinery needs an object that is kept to start from
    if (!roots.isEmpty()) {
      for (int node : finalizing) {
        special.finalizer.add(roots.get(0).node(), node);
      }
    }
  }

  /** Objects in the runtime's tables that the one variable of a generic class has which fits. */
  private void genericStatics(List<RootInfo> roots) {
    Map<Integer, String> names = new HashMap<>();
    events
        .names
        .book()
        .generics
        .forEach(
            (id, name) -> {
              if (events.types.containsKey(id)) {
                names.put(types.number(id), name);
              }
            });
    Map<Integer, Integer> found = new HashMap<>();
    for (RootInfo root : names.isEmpty() ? List.<RootInfo>of() : roots) {
      int at = root.kind().equals(RootInfo.TABLE) ? objects.firstEdge().get(root.node()) : -1;
      for (boolean more = at >= 0; more; at++) {
        int edge = objects.edges().get(at);
        more = edge >= 0;
        int target = more ? edge : ~edge;
        int ofType = objects.type().get(target);
        if (names.containsKey(ofType)) {
          // of several alike none is
          found.merge(ofType, target, (one, other) -> one.equals(other) ? one : -1);
        }
      }
    }
    found.forEach(
        (ofType, node) -> {
          if (node >= 0) {
            roots.add(new RootInfo(node, RootKinds.STATIC, names.get(ofType), -1));
          }
        });
  }

  /**
   * Whether an object is an array of arrays of anything: so a thread's own variables are kept,
   * which the runtime tells as if the thread's last frame had them.
   */
  private boolean holdsArraysAlone(int node) {
    int at = objects.firstEdge().get(node);
    if (at < 0 || !types.infos().get(objects.type().get(node)).name().equals(RootKinds.ANYTHING)) {
      return false;
    }
    for (; ; at++) {
      int edge = objects.edges().get(at);
      int target = edge < 0 ? ~edge : edge;
      if (!types.infos().get(objects.type().get(target)).name().equals(RootKinds.ANYTHING)) {
        return false;
      }
      if (edge < 0) {
        return true;
      }
    }
  }

  private RootInfo root(int node, HeapEvents.RawRoot root) {
    if (root.kind() == ROOT_STACK) {
      String method = events.methods.getOrDefault(root.root(), "");
      return root.root() == 0 || holdsArraysAlone(node)
          ? new RootInfo(node, RootKinds.THREAD_STATIC, "", -1)
          : told(node, RootKinds.LOCAL, DotnetFields.runs(method));
    }
    if (root.kind() == ROOT_HANDLE) {
      String kind =
          (root.flags() & FLAG_PINNED) != 0
              ? RootKinds.PINNED
              : (root.flags() & FLAG_COUNTED) != 0 ? RootKinds.COUNTED : RootKinds.HANDLE;
      return told(node, kind, "");
    }
    return new RootInfo(node, RootKinds.OTHER, "", -1);
  }

  private RootInfo told(int node, String kind, String detail) {
    return RootKinds.told(
        new RootInfo(node, kind, detail, -1),
        objects.generation().get(node),
        types.infos().get(objects.type().get(node)).name());
  }
}
