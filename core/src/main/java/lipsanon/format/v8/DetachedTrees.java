package lipsanon.format.v8;

import java.io.IOException;
import java.util.BitSet;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Finds the elements that are in no page any more. V8 says so only of some elements of a tree that
 * was taken out; the others of unknown state that hang on these are in no page either, unless they
 * hang on an element that is in one.
 */
final class DetachedTrees {
  private static final int ATTACHED = 1;
  static final int DETACHED = 2;

  private final Snapshot snapshot;
  private final V8Detail detail;
  private final boolean[] elements;
  private final boolean any;

  DetachedTrees(Snapshot snapshot, V8Detail detail) {
    this.snapshot = snapshot;
    this.detail = detail;
    this.elements = new boolean[snapshot.types().size()];
    boolean found = false;
    for (int t = 0; t < elements.length; t++) {
      TypeInfo type = snapshot.types().get(t);
      elements[t] = type.is(TypeInfo.Trait.ELEMENT) || type.name().equals("HTMLDocument");
      found |= elements[t];
    }
    this.any = found;
  }

  IntList find() throws IOException {
    BitSet unknown = new BitSet();
    IntList attached = new IntList();
    IntList detached = new IntList();
    for (int n = 0; any && n < snapshot.objectCount(); n++) {
      if (elements[snapshot.type(n)]) {
        int state = detail.detachedness(n);
        if (state == DETACHED) {
          detached.add(n);
        } else if (state == ATTACHED) {
          attached.add(n);
        } else {
          unknown.set(n);
        }
      }
    }
    if (!detached.isEmpty() && !unknown.isEmpty()) {
      spread(attached, unknown);
      spread(detached, unknown);
    }
    return detached;
  }

  /** Adds the elements of unknown state that are reached over such elements alone. */
  private void spread(IntList found, BitSet unknown) throws IOException {
    for (int i = 0; i < found.size(); i++) {
      detail.references(
          found.get(i),
          reference -> {
            boolean strong = reference.kind() == Reference.Kind.STRONG;
            if (strong && unknown.get(reference.target())) {
              unknown.clear(reference.target());
              found.add(reference.target());
            }
          });
    }
  }
}
