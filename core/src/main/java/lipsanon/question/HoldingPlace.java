package lipsanon.question;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.index.NodeCursor;
import lipsanon.index.ObjectReader;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Labels;

/** Says by which field an object is held: through arrays and collections, by the owner of these. */
final class HoldingPlace {
  private static final int HIGHEST = 12;
  private static final int MOST_KNOWN = 1 << 20;

  private final Snapshot snapshot;
  private final ObjectReader objects;
  private final NodeCursor nodes;
  private final Map<Integer, String> containers = new HashMap<>();

  private static final int RECENT = 8;

  private final Map<Via, String> words = new HashMap<>();
  private final Via[] recent = new Via[RECENT];
  private final String[] said = new String[RECENT];
  private int turn;

  /** By type: 1 where an object of it only passes on what it holds, 2 where it does not. */
  private final byte[] passing;

  /** One serves one thread, as its reader does. */
  HoldingPlace(Snapshot snapshot, ObjectReader objects) {
    this.snapshot = snapshot;
    this.objects = objects;
    this.nodes = snapshot.cursor();
    this.passing = new byte[snapshot.types().size()];
  }

  /** In words, the same for all objects that are held in the same way. */
  String of(int node) throws IOException {
    int above = nodes.dominator(node);
    if (above < 0) {
      return snapshot.rootsOf(node).isEmpty()
          ? "held from several sides"
          : Labels.rootText(snapshot, node);
    }
    if (!passes(above)) {
      return climb(node);
    }
    // all that is in one container is held in the same way
    String known = containers.get(above);
    if (known == null) {
      known = climb(above);
      if (containers.size() < MOST_KNOWN) {
        containers.put(above, known);
      }
    }
    return known;
  }

  private boolean passes(int node) {
    int type = nodes.type(node);
    if (passing[type] == 0) {
      TypeInfo info = snapshot.types().get(type);
      boolean passes = info.array() || info.passage() || info.is(TypeInfo.Trait.COLLECTION);
      passing[type] = (byte) (passes ? 1 : 2);
    }
    return passing[type] == 1;
  }

  /** The nearest reference above an object that somebody has named. */
  private String climb(int node) throws IOException {
    int at = node;
    for (int i = 0; i < HIGHEST; i++) {
      int above = nodes.dominator(at);
      if (above < 0) {
        break;
      }
      Via via = passes(above) ? null : objects.viaTo(above, at);
      boolean named =
          via != null
              && via.kind() != Via.Kind.ELEMENT
              && via.kind() != Via.Kind.PART
              && via.kind() != Via.Kind.INTERNAL;
      if (named) {
        return words(via);
      }
      if (via == null && !passes(above)) {
        return "below a " + snapshot.typeName(above);
      }
      at = above;
    }
    return "in a " + snapshot.typeName(at);
  }

  private String words(Via via) {
    // readers tell the same field by the same object again and again
    for (int i = 0; i < RECENT; i++) {
      if (recent[i] == via) {
        return said[i];
      }
    }
    String known = known(via);
    recent[turn] = via;
    said[turn] = known;
    turn = turn + 1 & RECENT - 1;
    return known;
  }

  private String known(Via via) {
    String known = words.get(via);
    if (known == null) {
      known = via.group();
      if (words.size() < MOST_KNOWN) {
        words.put(via, known);
      }
    }
    return known;
  }
}
