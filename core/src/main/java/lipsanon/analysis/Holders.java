package lipsanon.analysis;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * Finds, upwards from an object, the fields of the user's own through which it is held: a search
 * over referring objects that passes through the runtime's own and stops at the user's.
 */
final class Holders {
  private static final int MOST_VISITED = 3000;
  private static final int MOST_REFERRING = 400;

  private final Snapshot snapshot;
  private final TypeFilter mine;
  private final Map<String, Boolean> ownTypes = new HashMap<>();

  Holders(Snapshot snapshot, TypeFilter mine) {
    this.snapshot = snapshot;
    this.mine = mine;
    for (TypeInfo type : snapshot.types()) {
      ownTypes.merge(type.name(), mine.isMine(type), Boolean::logicalOr);
    }
  }

  /**
   * A field by which objects are held.
   *
   * @param text as users read it
   * @param distance references between it and the object
   * @param from the object that has the field
   */
  record Holder(String text, int distance, int from) {}

  /** Whether a reference stands in a field or method of the user's own. */
  boolean isMine(Via via) {
    return switch (via.kind()) {
      case FIELD, PROPERTY -> ownTypes.getOrDefault(via.owner(), false);
        // the owner may be a function that has no objects
      case STATIC -> ownTypes.getOrDefault(via.owner(), true);
      case SERVICE -> true;
        // a function that an object made for itself keeps the object, but is not its holder
      case VARIABLE -> !via.name().equals("this");
      case LOCAL -> !via.owner().isEmpty() && mineMethod(via.owner());
      default -> false;
    };
  }

  private boolean mineMethod(String method) {
    int end = method.indexOf(" (");
    String name = end < 0 ? method : method.substring(0, end);
    int dot = name.lastIndexOf('.');
    return dot > 0 && ownTypes.getOrDefault(name.substring(0, dot), false);
  }

  /** A type's name without what the VM appends to hidden classes. */
  static String clean(String name) {
    return name.replaceAll("[+/]0x[0-9a-f]+", "");
  }

  /**
   * All fields of the user's own through which an object is held, nearest first.
   *
   * @param without types whose fields do not count: what piles up cannot be its own holder
   */
  List<Holder> of(int node, Set<String> without) throws IOException {
    Map<String, Holder> found = new LinkedHashMap<>();
    Set<Integer> seen = new HashSet<>();
    IntList level = new IntList();
    level.add(node);
    seen.add(node);
    for (int distance = 1; !level.isEmpty() && distance < 40; distance++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size() && seen.size() < MOST_VISITED; i++) {
        step(level.get(i), distance, without, seen, next, found);
      }
      level = next;
    }
    return new ArrayList<>(found.values());
  }

  private void step(
      int node,
      int distance,
      Set<String> without,
      Set<Integer> seen,
      IntList next,
      Map<String, Holder> found)
      throws IOException {
    IntList referring = snapshot.inbound(node);
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      int from = referring.get(i);
      if (snapshot.depth(from) == 0 || seen.contains(from)) {
        continue;
      }
      Via via = snapshot.objects().viaTo(from, node);
      if (via == null || via.kind() == Via.Kind.INTERNAL) {
        continue;
      }
      if (isMine(via) && !without.contains(via.owner())) {
        String text = clean(via.text());
        found.putIfAbsent(text, new Holder(text, distance, from));
        continue;
      }
      if (seen.add(from)) {
        next.add(from);
        keyed(from, distance, without, found);
      }
    }
  }

  /** A value that goes by a weak key is held as much by whoever has the key: a thread local. */
  private void keyed(int entry, int distance, Set<String> without, Map<String, Holder> found)
      throws IOException {
    int key = snapshot.objects().weakKey(entry);
    if (key < 0) {
      return;
    }
    IntList referring = snapshot.inbound(key);
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      int from = referring.get(i);
      Via via = snapshot.depth(from) == 0 ? null : snapshot.objects().viaTo(from, key);
      if (via != null && isMine(via) && !without.contains(via.owner())) {
        String text = clean(via.text());
        found.putIfAbsent(text, new Holder(text, distance, from));
      }
    }
  }
}
