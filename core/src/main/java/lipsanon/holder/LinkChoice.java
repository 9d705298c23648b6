package lipsanon.holder;

import java.io.IOException;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/** Chooses among several references to one object that which says most of what keeps it. */
final class LinkChoice {
  /** So many objects that refer back to what has them are the members of a list. */
  private static final int MEMBERS = 8;

  private final Snapshot snapshot;
  private final Ownership ownership;

  LinkChoice(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.ownership = ownership;
  }

  /** A variable before all else that refers to the same object, then a field of what is no list. */
  Links.Link mostLasting(int target, List<Links.Link> in) {
    return in.stream()
        .filter(link -> Lasting.isVariable(link.via()))
        .min(Comparator.comparing(link -> link.via().text()))
        .or(() -> in.stream().filter(this::isNamedField).min(fieldsOf(target)))
        .orElse(in.get(0));
  }

  /** From outside of a list before from its links, a library's before the runtime's. */
  private Comparator<Links.Link> fieldsOf(int target) {
    return Comparator.comparing(
            (Links.Link link) -> snapshot.type(link.from()) == snapshot.type(target))
        .thenComparing(link -> ClosureNames.isClosure(link.via().owner()))
        .thenComparing(link -> ownership.of(link.via()))
        .thenComparing(link -> snapshot.depth(link.from()));
  }

  /**
   * The one reference into a list from outside of it: links refer to each other, and back to what
   * has the list. Null if there is none, or several.
   */
  Links.Link entry(int target, List<Links.Link> in) throws IOException {
    int own = snapshot.type(target);
    Links.Link found = null;
    Map<Integer, Integer> many = new HashMap<>();
    in.forEach(link -> many.merge(snapshot.type(link.from()), 1, Integer::sum));
    for (Links.Link link : in) {
      int type = snapshot.type(link.from());
      if (type != own && !(many.get(type) >= MEMBERS && refersToType(target, type))) {
        if (found != null) {
          return null;
        }
        found = link;
      }
    }
    return found;
  }

  private boolean refersToType(int node, int type) throws IOException {
    boolean[] found = new boolean[1];
    snapshot
        .objects()
        .references(node, reference -> found[0] |= snapshot.type(reference.target()) == type);
    return found[0];
  }

  private boolean isNamedField(Links.Link link) {
    return link.via().kind() == Via.Kind.FIELD && !isCollection(link.from());
  }

  /** Whether an object is a collection or a part of one. */
  boolean isCollection(int node) {
    return snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.COLLECTION);
  }
}
