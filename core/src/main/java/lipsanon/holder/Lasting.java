package lipsanon.holder;

import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.NearestPaths;
import lipsanon.label.Ownership;

/** What the runtime keeps by itself, whoever refers to it: modules and their variables, pages. */
final class Lasting {
  private final Snapshot snapshot;
  private final Ownership ownership;

  Lasting(Snapshot snapshot, Ownership ownership) {
    this.snapshot = snapshot;
    this.ownership = ownership;
  }

  /**
   * Whether the runtime has loaded an object and keeps it: who refers to it holds nothing in it.
   */
  boolean isLoaded(int node) {
    TypeInfo type = snapshot.types().get(snapshot.type(node));
    return type.is(TypeInfo.Trait.MODULE) || isPage(node);
  }

  /** A page that is shown; one that was taken out may well be held by a variable alone. */
  boolean isPage(int node) {
    int at = node;
    while (at >= 0 && snapshot.types().get(snapshot.type(at)).is(TypeInfo.Trait.PAGE)) {
      // a document hangs on its page
      at = snapshot.dominator(at);
    }
    return at < 0;
  }

  /** Whether it is a variable of code that is not the user's own. */
  static boolean isForeignVariable(Via via) {
    return via.kind() == Via.Kind.LIBRARY_VARIABLE || via.kind() == Via.Kind.RUNTIME_VARIABLE;
  }

  /** Whether it is one of a whole module: it lasts by itself, whoever refers to that module. */
  boolean isOfModule(Via via) {
    boolean foreignGlobal =
        via.kind() == Via.Kind.GLOBAL && ownership.of(via) != Ownership.Whose.OWN;
    return foreignGlobal || isForeignVariable(via) && NearestPaths.isAnchor(snapshot, via);
  }

  /** Whether a reference lasts as long as the program. */
  static boolean isVariable(Via via) {
    return via.kind() == Via.Kind.STATIC || via.kind() == Via.Kind.GLOBAL || isForeignVariable(via);
  }
}
