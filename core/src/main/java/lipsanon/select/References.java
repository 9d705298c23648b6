package lipsanon.select;

import java.io.IOException;
import java.util.BitSet;
import lipsanon.index.ListColumn;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;

/** References between sets of objects. */
final class References {
  private References() {}

  /** The objects that refer to some of a set. */
  static BitSet to(Snapshot snapshot, BitSet targets, String field) throws IOException {
    BitSet sources = new BitSet();
    ListColumn.Cursor cursor = snapshot.inboundColumn().cursor();
    int next = -1;
    for (int n = targets.nextSetBit(0); n >= 0; n = targets.nextSetBit(n + 1)) {
      if (n != next) {
        cursor.moveTo(n);
      }
      int size = cursor.next();
      next = n + 1;
      int[] list = cursor.list();
      for (int i = 0; i < size; i++) {
        sources.set(list[i]);
      }
    }
    if (field.isEmpty()) {
      return sources;
    }
    BitSet through = new BitSet();
    for (int n = sources.nextSetBit(0); n >= 0; n = sources.nextSetBit(n + 1)) {
      int source = n;
      snapshot
          .objects()
          .references(
              source,
              reference -> {
                if (targets.get(reference.target()) && Fields.isCalled(reference.via(), field)) {
                  through.set(source);
                }
              });
    }
    return through;
  }

  /** The objects to which some of a set refer, otherwise than as their class. */
  static BitSet from(Snapshot snapshot, BitSet sources, String field) throws IOException {
    BitSet targets = new BitSet();
    for (int n = sources.nextSetBit(0); n >= 0; n = sources.nextSetBit(n + 1)) {
      snapshot
          .objects()
          .references(
              n,
              (Reference reference) -> {
                boolean wanted =
                    field.isEmpty()
                        ? !reference.via().name().equals("class")
                        : Fields.isCalled(reference.via(), field);
                if (wanted) {
                  targets.set(reference.target());
                }
              });
    }
    return targets;
  }
}
