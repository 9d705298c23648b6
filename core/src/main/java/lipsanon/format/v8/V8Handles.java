package lipsanon.format.v8;

import java.io.IOException;
import java.util.Set;

/**
 * Says what an open handle of Node.js is for: a handle is a root as long as it is open, and refers
 * to the server, socket or watcher that it belongs to; that one to the functions it calls.
 */
final class V8Handles {
  private static final Set<String> TYPES =
      Set.of(
          "TCP",
          "Pipe",
          "TTY",
          "UDP",
          "TLSWrap",
          "FSEvent",
          "StatWatcher",
          "Process",
          "ChannelWrap");

  private static final String OWNER = "<symbol owner_symbol>";
  private static final String EVENTS = "_events";

  private final V8Rows rows;
  private final V8Scripts scripts;

  V8Handles(V8Rows rows, V8Scripts scripts) {
    this.rows = rows;
    this.scripts = scripts;
  }

  static boolean isOne(String type) {
    return TYPES.contains(type);
  }

  /** What a handle belongs to, or -1. */
  int owner(int handle) throws IOException {
    return scripts.property(handle, OWNER);
  }

  /** The first function of the user's own that something calls on an event, or -1. */
  int called(int emitter) throws IOException {
    int events = scripts.property(emitter, EVENTS);
    return events < 0 ? -1 : ownFunction(events, 2);
  }

  /** A function of the user's own that an object refers to, through so many objects at most. */
  private int ownFunction(int from, int steps) throws IOException {
    int[] found = {-1};
    rows.edges(
        from,
        rows.node(from).edges(),
        (type, name, target) -> {
          boolean held =
              type.equals(V8Format.EDGE_PROPERTY) && !rows.text(name).equals("__proto__")
                  || type.equals(V8Format.EDGE_ELEMENT);
          if (!held) {
            return true;
          }
          if (rows.node(target).type().equals(V8Format.CLOSURE)) {
            V8Scripts.Location place = scripts.of(target);
            found[0] = place != null && place.own() ? target : -1;
          } else if (steps > 1) {
            found[0] = ownFunction(target, steps - 1);
          }
          return found[0] < 0;
        });
    return found[0];
  }
}
