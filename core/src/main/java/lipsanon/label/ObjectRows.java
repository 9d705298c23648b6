package lipsanon.label;

import java.io.IOException;
import java.util.HashMap;
import java.util.Locale;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/** Makes rows of objects. */
public final class ObjectRows {
  private final Snapshot snapshot;
  private final NearestPaths paths;
  private final Map<String, Integer> loadersOf = new HashMap<>();
  private final double heap;

  public ObjectRows(Snapshot snapshot) {
    this.snapshot = snapshot;
    this.paths = new NearestPaths(snapshot);
    this.heap = Math.max(1, snapshot.totals().retainedBytes());
  }

  public double share(long bytes) {
    return bytes / heap;
  }

  public ObjectRow row(int node) throws IOException {
    return new ObjectRow(
        snapshot.id(node),
        snapshot.typeName(node),
        loader(snapshot.type(node)),
        Labels.of(snapshot, node),
        snapshot.shallowBytes(node),
        snapshot.retainedBytes(node),
        share(snapshot.retainedBytes(node)),
        heldBy(node),
        snapshot.depth(node),
        snapshot.strength(node).name().toLowerCase(Locale.ROOT),
        Closed.is(snapshot, node));
  }

  /** The loader of a type where several have a type of that name, or "". */
  public String loader(int type) {
    TypeInfo info = snapshot.types().get(type);
    return loadersOf.computeIfAbsent(info.name(), this::copies) > 1 ? info.loader() : "";
  }

  private int copies(String name) {
    int copies = 0;
    for (TypeInfo type : snapshot.types()) {
      copies += type.name().equals(name) ? 1 : 0;
    }
    return copies;
  }

  /** What holds an object: a root, or by which field the nearest path reaches it. */
  String heldBy(int node) throws IOException {
    String root = Labels.rootText(snapshot, node);
    if (!root.isEmpty()) {
      return root;
    }
    NearestPaths.Up up = paths.up(node);
    if (up == null) {
      return "nothing that the snapshot records";
    }
    Via via = up.via();
    String text = Labels.via(via);
    if (via != null && via.kind() == Via.Kind.INTERNAL && via.name().equals("class")) {
      text = "objects of this class";
    }
    if (via != null && via.kind() == Via.Kind.ELEMENT) {
      text = snapshot.typeName(up.node()) + text;
    }
    return snapshot.dominator(node) == up.node() ? text : text + ", among others";
  }
}
