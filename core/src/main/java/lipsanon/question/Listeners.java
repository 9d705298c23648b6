package lipsanon.question;

import java.io.IOException;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Listeners whose subject is closed: what stands in a place that is named after listeners, and is
 * such an object or refers to it. Each listener counts once, with all that it keeps.
 */
final class Listeners {
  /** Parts of the names of fields in which such things are kept, in small letters. */
  private static final List<String> NAMES =
      List.of(
          "listener",
          "observer",
          "handler",
          "subscri",
          "callback",
          "watcher",
          "hook",
          "invocationlist");

  /** An object with more references to it has many uses. */
  private static final int MOST = 16;

  private final Snapshot snapshot;
  private final HoldingPlace holding;
  private final SavingsPlaces places;
  private final Set<Integer> known = new HashSet<>();

  Listeners(Snapshot snapshot) {
    this.snapshot = snapshot;
    this.holding = new HoldingPlace(snapshot, snapshot.objects());
    this.places = new SavingsPlaces(snapshot);
  }

  /** Looks at those of a closed object. */
  void of(int closed) throws IOException {
    if (listens(closed)) {
      take(closed);
      return;
    }
    IntList from = snapshot.inbound(closed);
    if (from.size() > MOST) {
      return;
    }
    for (int i = 0; i < from.size(); i++) {
      int node = from.get(i);
      if (snapshot.depth(node) > 0
          && !snapshot.types().get(snapshot.type(node)).array()
          && listens(node)) {
        take(node);
      }
    }
  }

  private boolean listens(int node) throws IOException {
    String place = holding.of(node).toLowerCase(Locale.ROOT);
    String field = place.substring(place.lastIndexOf('.') + 1);
    return NAMES.stream().anyMatch(field::contains);
  }

  private void take(int listener) throws IOException {
    if (known.add(listener)) {
      places.add(listener, snapshot.retainedBytes(listener));
    }
  }

  SavingsPlaces places() {
    return places;
  }
}
