package lipsanon.analysis;

import java.io.IOException;
import java.util.Set;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/** Finds, up the dominator tree, the nearest place of the user's own that holds an object. */
final class Owners {
  private static final int MOST_STEPS = 1000;

  private final Snapshot snapshot;
  private final Holders holders;

  Owners(Snapshot snapshot, Holders holders) {
    this.snapshot = snapshot;
    this.holders = holders;
  }

  /**
   * The place in words, with the names of properties that lead from there to the object.
   *
   * @param without types whose fields do not count for the first step: what piles up cannot be its
   *     own holder
   * @param inTable whether the first reference goes by a key that means nothing
   * @return "" if there is none, or several sides hold the object
   */
  String of(int object, Set<String> without, boolean inTable) throws IOException {
    StringBuilder names = new StringBuilder();
    int node = object;
    for (int step = 0; step < MOST_STEPS; step++) {
      String keyed = keyed(node, without);
      if (!keyed.isEmpty()) {
        return keyed;
      }
      int above = snapshot.dominator(node);
      if (above < 0) {
        return "";
      }
      Via via = snapshot.objects().viaTo(above, node);
      boolean first = node == object;
      if (via == null) {
        if (!snapshot.types().get(snapshot.type(above)).library()) {
          // held from several sides below the user's own: the fields say more than the dominator
          return "";
        }
        names.setLength(0);
      } else if (holders.isMine(via) && !(first && without.contains(via.owner()))) {
        return Holders.clean(via.with(names.toString()));
      } else if (via.kind() == Via.Kind.PROPERTY && !(first && inTable)) {
        names.insert(0, "." + via.name());
      }
      node = above;
    }
    return "";
  }

  /**
   * For a value that goes by a weak key of the runtime's tables: whoever of the user's has the key.
   */
  private String keyed(int node, Set<String> without) throws IOException {
    if (!snapshot.types().get(snapshot.type(node)).library()) {
      return "";
    }
    int key = snapshot.objects().weakKey(node);
    if (key < 0) {
      return "";
    }
    for (Holders.Holder holder : holders.of(key, without)) {
      return holder.distance() <= 2 ? holder.text() : "";
    }
    return "";
  }
}
