package portmerrow;

import java.util.ArrayDeque;
import java.util.Deque;

/** The last events of the harbour; old ones make room for new ones. */
final class EventLog {
  private static final int MOST = 3_000;

  private final Deque<String> events = new ArrayDeque<>();

  void note(String event) {
    events.addLast(event);
    if (events.size() > MOST) {
      events.removeFirst();
    }
  }
}
