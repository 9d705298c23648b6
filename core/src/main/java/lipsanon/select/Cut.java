package lipsanon.select;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;

/**
 * References that are cleared, for the question what that frees: pairs of objects between which no
 * keeping reference is left.
 */
public final class Cut {
  private final IntList from = new IntList();
  private final IntList to = new IntList();

  /** Clears nothing yet. */
  public Cut() {}

  /** Number of pairs. */
  public int size() {
    return from.size();
  }

  /** The object that refers. */
  public int from(int i) {
    return from.get(i);
  }

  /** The object that it refers to. */
  public int to(int i) {
    return to.get(i);
  }

  /** Adds a pair. */
  public void add(int source, int target) {
    from.add(source);
    to.add(target);
  }

  /**
   * Clears a field of some objects: pairs that another field of the same object still joins stay
   * joined.
   *
   * @param field its name; {@code []} for all elements of arrays, {@code [3]} for one; null for all
   *     references
   */
  public static Cut of(Snapshot snapshot, Iterable<Integer> objects, String field)
      throws IOException {
    Cut cut = new Cut();
    for (int object : objects) {
      List<Integer> cleared = new ArrayList<>();
      List<Integer> left = new ArrayList<>();
      snapshot
          .objects()
          .references(
              object,
              reference -> {
                // an object's class stays its class, whatever is cleared
                boolean asClass = reference.via().name().equals("class");
                if (reference.kind() == Reference.Kind.WEAK || asClass) {
                  return;
                }
                boolean meant = field == null || Fields.isCalled(reference.via(), field);
                (meant ? cleared : left).add(reference.target());
              });
      cleared.removeAll(new java.util.HashSet<>(left));
      for (int target : new java.util.TreeSet<>(cleared)) {
        cut.add(object, target);
      }
    }
    return cut;
  }
}
