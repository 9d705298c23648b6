package lipsanon.change;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.graph.Strength;
import lipsanon.holder.Finding;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Links;

/**
 * Tells of what piles up with nothing of the user's own above it whether the runtime lets it go by
 * itself: soft references alone keep it, or each stands in an entry of a table which goes with its
 * key, and the keys are held elsewhere. Such piles follow from others. One thread.
 */
final class SelfClearing {
  /** Why something is no finding. */
  static final String SOFT = "only soft references keep them: they go before memory runs out";

  /** Why something is none where there is another. */
  static final String KEYED = "go by themselves with what the table has them for, each its own";

  /** So many of a sample, in tenths, decide. */
  private static final int MOST = 9;

  /** Several references may be kept of one thing, but not all of the same. */
  private static final int OF_ONE = 4;

  /** From an object up to the entry of a table that it is in. */
  private static final int NEAR = 6;

  /** From a wrapper down to the reference object that it is made around. */
  private static final int INSIDE = 1;

  private static final int MOST_OWNERS = 8;

  /** Bytes of a reference object, with what a library adds to it. */
  private static final int LARGEST = 256;

  /** An entry of a table has no more references. */
  private static final int OF_ENTRY = 8;

  private final Snapshot last;
  private final Links links;

  /** Whether the runtime's reference objects are told from others. */
  private final boolean tellsKeys;

  /** Looks at the last snapshot. */
  SelfClearing(Snapshot last) {
    this.last = last;
    this.links = new Links(last);
    boolean some = false;
    for (int t = 0; t < last.types().size() && !some; t++) {
      some = !last.objects().mayReferWeakly(t);
    }
    this.tellsKeys = some;
  }

  /**
   * Why a pile is no finding of its own, {@link #SOFT} or {@link #KEYED}; null if it may be.
   *
   * @param some objects of the pile
   * @param own whether what piles up is of the user's own types
   */
  String reason(Finding finding, IntList some, boolean own) throws IOException {
    if (!finding.reasons().contains(PileReport.NOTHING_OWN)) {
      return null;
    }
    int soft = 0;
    int keyed = 0;
    Set<Integer> keys = new HashSet<>();
    for (int i = 0; i < some.size(); i++) {
      soft += last.strength(some.get(i)) == Strength.SOFT ? 1 : 0;
      int key = own || !tellsKeys ? -1 : key(some.get(i));
      if (key >= 0) {
        keyed++;
        keys.add(key);
      }
    }
    int least = some.size() * MOST;
    if (soft > 0 && soft * 10 >= least) {
      return SOFT;
    }
    boolean each = keyed * 10 >= least && keys.size() * OF_ONE >= some.size();
    return each && keys.size() > 1 ? KEYED : null;
  }

  /** What the table's entry that an object is in goes by, if that is kept elsewhere; else -1. */
  private int key(int node) throws IOException {
    int at = node;
    for (int step = 0; step < NEAR && at >= 0; step++) {
      int reference = mayClear(at) ? at : keyOf(at);
      if (reference < 0 && step == 0) {
        reference = wrapped(at, 0);
      }
      int key = reference < 0 ? -1 : referent(reference);
      // what keeps its own key, or softly what it is there for, may be in an entry all the same
      if (key >= 0 && last.depth(key) > 0 && !links.dominates(at, key)) {
        return key;
      }
      List<Links.Link> owning = links.owning(at, MOST_OWNERS);
      at = owning.size() == 1 ? owning.get(0).from() : last.dominator(at);
    }
    return -1;
  }

  /** Whether an object may be a reference object: these are small. */
  private boolean mayClear(int node) {
    return last.objects().mayReferWeakly(last.type(node)) && last.shallowBytes(node) <= LARGEST;
  }

  /** The reference object that is the key of an ordinary entry, or -1. */
  private int keyOf(int entry) throws IOException {
    for (Reference field : fields(entry)) {
      if (field.via().name().equals("key") && mayClear(field.target())) {
        return field.target();
      }
    }
    return -1;
  }

  /** The reference object that an object is made around, or -1: libraries have them in others. */
  private int wrapped(int node, int depth) throws IOException {
    List<Reference> fields = fields(node);
    for (Reference field : fields) {
      if (mayClear(field.target())) {
        return field.target();
      }
    }
    for (Reference field : fields) {
      boolean part =
          last.dominator(field.target()) == node && last.type(field.target()) != last.type(node);
      int found = part && depth < INSIDE ? wrapped(field.target(), depth + 1) : -1;
      if (found >= 0) {
        return found;
      }
    }
    return -1;
  }

  /** The references of an entry's or a wrapper's fields; none of other objects. */
  private List<Reference> fields(int node) throws IOException {
    List<Reference> fields = new ArrayList<>();
    if (!last.types().get(last.type(node)).array()) {
      last.objects()
          .references(
              node,
              reference -> {
                boolean field = reference.via().kind() == Via.Kind.FIELD;
                if (field && reference.kind() == Reference.Kind.STRONG) {
                  fields.add(reference);
                }
              });
    }
    return fields.size() > OF_ENTRY ? List.of() : fields;
  }

  /** What a reference object refers to without keeping it; -1 if it was cleared. */
  private int referent(int reference) throws IOException {
    int[] found = {-1};
    last.objects()
        .references(
            reference,
            to -> {
              boolean clears = to.kind() == Reference.Kind.WEAK || to.kind() == Reference.Kind.SOFT;
              if (clears && to.via().kind() == Via.Kind.FIELD) {
                found[0] = to.target();
              }
            });
    return found[0];
  }
}
