package portmerrow;

import java.util.ArrayList;
import java.util.List;

/** Tells all who subscribed how high the water stands. */
final class TideBoard {
  private final List<TideListener> subscribers = new ArrayList<>();

  void subscribe(TideListener listener) {
    subscribers.add(listener);
  }

  void unsubscribe(TideListener listener) {
    subscribers.remove(listener);
  }

  void announce(int centimetres) {
    for (TideListener listener : subscribers) {
      listener.tideChanged(centimetres);
    }
  }

  int subscriberCount() {
    return subscribers.size();
  }
}
