package lipsanon.holder;

import java.io.IOException;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * Arrays that go on in another: queues that grow by pieces have the next piece as the last element
 * of one. What is in the pieces is in one place, however many there are.
 */
final class LinkedArrays {
  private static final String SHARED = "java.util.concurrent.atomic.AtomicReferenceArray";
  private static final int MOST_REFERRING = 8;

  private LinkedArrays() {}

  /** The array in which an array goes on, which it alone keeps; -1 for what does not go on. */
  static int next(Snapshot snapshot, DominatorChildren below, int node) throws IOException {
    int type = snapshot.type(node);
    TypeInfo info = snapshot.types().get(type);
    if (!info.array()) {
      return -1;
    }
    int next = -1;
    for (int i = 0, count = below.count(node); i < count; i++) {
      int child = below.child(node, i);
      if (snapshot.type(child) == type) {
        if (next >= 0) {
          return -1; // arrays in an array
        }
        next = child;
      }
    }
    return next >= 0 && isLast(snapshot, node, next) ? next : -1;
  }

  /** Whether objects of a place may go on in others like them; plain ones refer to all sorts. */
  static boolean canGoOn(Place place) {
    return place.is(TypeInfo.Trait.ARRAY) || !place.is(TypeInfo.Trait.PLAIN);
  }

  /** Whether objects of a place have an array each, which goes on in another such object. */
  static boolean isShared(Place place) {
    return place.type.equals(SHARED);
  }

  /** The first of the pieces that go on in each other up to one; -1 if none goes on in that. */
  static int first(Snapshot snapshot, int piece) throws IOException {
    int type = snapshot.type(piece);
    boolean array = snapshot.types().get(type).array();
    IntList referring = snapshot.inbound(piece);
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      int at = referring.get(i);
      int part = snapshot.type(at);
      boolean ofArray = snapshot.types().get(part).array();
      if (ofArray ? isLast(snapshot, at, piece) : part == type && !array) {
        int first = -1;
        while (at >= 0 && (snapshot.type(at) == type || snapshot.type(at) == part)) {
          first = snapshot.type(at) == type ? at : first;
          at = snapshot.dominator(at);
        }
        return first;
      }
    }
    return -1;
  }

  private static boolean isLast(Snapshot snapshot, int array, int element) throws IOException {
    Via via = snapshot.objects().viaTo(array, element);
    return via != null
        && via.kind() == Via.Kind.ELEMENT
        && via.index() == snapshot.objects().length(array) - 1;
  }
}
