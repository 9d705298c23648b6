package lipsanon.analysis;

import java.io.IOException;
import java.util.HashMap;
import java.util.HashSet;
import java.util.Map;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * Names what piles up: behind entries and links of the runtime's collections, what these are for.
 */
final class PiledType {
  private static final int SAMPLE = 60;
  private static final int DEEPEST = 2;

  private final Snapshot snapshot;
  private final Holders holders;

  PiledType(Snapshot snapshot, Holders holders) {
    this.snapshot = snapshot;
    this.holders = holders;
  }

  /** The type to name for objects of a type, some of which are given. */
  String of(String type, boolean library, IntList objects) throws IOException {
    boolean passage = !objects.isEmpty() && info(objects.get(0)).passage();
    String best = library && passage ? behind(objects, 0) : null;
    return Holders.clean(best != null ? best : library ? labelled(type, objects) : type);
  }

  private TypeInfo info(int node) {
    return snapshot.types().get(snapshot.type(node));
  }

  /** With what all objects are called, if that is the same: the name of a function. */
  private String labelled(String type, IntList objects) throws IOException {
    String label = null;
    for (int i = 0; i < objects.size(); i++) {
      String own = Labels.of(snapshot, objects.get(i));
      if (own.isEmpty() || own.startsWith("\"") || label != null && !label.equals(own)) {
        return type;
      }
      label = own;
    }
    return label == null ? type : type + " " + label;
  }

  /**
   * The type that most of some objects refer to: the user's own if there is one, else the largest.
   */
  private String behind(IntList objects, int depth) throws IOException {
    Map<String, long[]> types = new HashMap<>();
    IntList further = new IntList();
    for (int i = 0; i < objects.size(); i++) {
      count(objects.get(i), types, further);
    }
    String best = null;
    long most = 0;
    for (Map.Entry<String, long[]> entry : types.entrySet()) {
      boolean often = entry.getValue()[0] * 2 >= objects.size();
      if (isOwn(entry.getKey()) && often && entry.getValue()[1] > most) {
        best = entry.getKey();
        most = entry.getValue()[1];
      }
    }
    if (best == null && depth < DEEPEST && !further.isEmpty()) {
      IntList some = new IntList();
      for (int i = 0; i < further.size(); i += Math.max(1, further.size() / SAMPLE)) {
        some.add(further.get(i));
      }
      best = behind(some, depth + 1);
    }
    return best == null && depth == 0 ? largest(types) : best;
  }

  private void count(int object, Map<String, long[]> types, IntList further) throws IOException {
    Set<String> here = new HashSet<>();
    String own = snapshot.typeName(object);
    int[] left = {SAMPLE};
    snapshot
        .objects()
        .references(
            object,
            reference -> {
              String type = snapshot.typeName(reference.target());
              boolean counts =
                  reference.via().kind() != Via.Kind.INTERNAL
                      && !type.equals(own)
                      && !(info(reference.target()).plain() && info(reference.target()).library())
                      && left[0]-- > 0;
              if (counts) {
                further.add(reference.target());
                long[] sums = types.computeIfAbsent(type, key -> new long[2]);
                sums[0] += here.add(type) ? 1 : 0;
                sums[1] += snapshot.retainedBytes(reference.target());
              }
            });
  }

  private static String largest(Map<String, long[]> types) {
    String best = null;
    long most = -1;
    for (Map.Entry<String, long[]> entry : types.entrySet()) {
      if (entry.getValue()[1] > most) {
        best = entry.getKey();
        most = entry.getValue()[1];
      }
    }
    return best;
  }

  private boolean isOwn(String type) {
    return holders.isMine(new Via(Via.Kind.FIELD, type, "", -1));
  }
}
