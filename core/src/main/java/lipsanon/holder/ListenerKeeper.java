package lipsanon.holder;

import java.io.IOException;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.label.Links;
import lipsanon.label.Ownership;

/**
 * Says who has what is listened to, where that is neither a page nor in one: an object of the
 * browser's that a program made for itself. One thread.
 */
final class ListenerKeeper {
  private static final String LISTENING = "event listeners of ";

  private final Snapshot snapshot;
  private final Climb climb;

  /** Whether it is being asked for: what listens to what listens is not followed on. */
  private boolean asking;

  ListenerKeeper(Snapshot snapshot, Climb climb) {
    this.snapshot = snapshot;
    this.climb = climb;
  }

  /** What to add to the name of a reference; "" if nothing, or nothing is known. */
  String of(Links.Link link) throws IOException {
    int owner = link.from();
    TypeInfo type = snapshot.types().get(snapshot.type(owner));
    boolean wanted =
        !asking
            && link.via().kind() == Via.Kind.SERVICE
            && link.via().name().startsWith(LISTENING)
            && !type.is(TypeInfo.Trait.PAGE)
            && !PageElements.isElement(snapshot, owner);
    if (!wanted) {
      return "";
    }
    asking = true;
    try {
      Climb.Named above = climb.from(owner).names().get(0);
      return above.whose() == Ownership.Whose.OWN ? Holding.KEPT_BY + above.text() : "";
    } finally {
      asking = false;
    }
  }
}
