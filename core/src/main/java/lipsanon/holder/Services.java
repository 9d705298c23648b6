package lipsanon.holder;

import java.io.IOException;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Ownership;

/** Objects by means of which the runtime does something for the program, such as its timers. */
final class Services {
  private Services() {}

  /** What an object is for, as a name for what it contains; null if it is none of these. */
  static Climb.Named of(Snapshot snapshot, Ownership ownership, int container) throws IOException {
    if (snapshot.objects().ofArray(container) != null) {
      return null;
    }
    Reference[] found = new Reference[1];
    snapshot
        .objects()
        .references(
            container,
            reference -> {
              if (reference.via().kind() == Via.Kind.SERVICE) {
                found[0] = reference;
              }
            });
    return found[0] == null
        ? null
        : new Climb.Named(
            found[0].via().text(),
            container,
            found[0].target(),
            false,
            ownership.of(found[0].via()));
  }
}
