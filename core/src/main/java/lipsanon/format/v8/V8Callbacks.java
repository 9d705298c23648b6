package lipsanon.format.v8;

import java.io.IOException;
import java.util.HashSet;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/** Which function a browser calls by an object of its own: a listener, a timer, an observer. */
final class V8Callbacks {
  private static final int MOST_HOPS = 5;
  private static final int MOST_SEEN = 64;

  /** What leads to a function: these, and what they pass it on to. */
  private static final Pattern CALLING =
      Pattern.compile(
          "(blink::)?(\\w*EventListener|DOMTimer|ScheduledAction|V8\\w*(Callback|Function)"
              + "|(Mutation|Intersection|Resize|Performance|Reporting)Observer(Registration)?"
              + "|\\w+ObserverDelegate|\\w*::\\w*Delegate)");

  private final Snapshot snapshot;
  private final V8Rows rows;

  V8Callbacks(Snapshot snapshot, V8Rows rows) {
    this.snapshot = snapshot;
    this.rows = rows;
  }

  /** Whether objects of a type are made to call something. */
  static boolean isOne(String type) {
    return CALLING.matcher(type).matches();
  }

  /** The function that an object calls, or -1 if that cannot be seen. */
  int of(int node) throws IOException {
    IntList level = new IntList();
    level.add(node);
    Set<Integer> seen = new HashSet<>(Set.of(node));
    int[] function = {-1};
    for (int hop = 0; hop < MOST_HOPS && !level.isEmpty() && function[0] < 0; hop++) {
      IntList next = new IntList();
      for (int i = 0; i < level.size() && function[0] < 0; i++) {
        int at = level.get(i);
        rows.edges(
            at,
            rows.node(at).edges(),
            (edge, name, target) -> {
              String kind = rows.node(target).type();
              if (kind.equals(V8Format.CLOSURE)) {
                function[0] = target;
              } else if (kind.equals(V8Format.NATIVE)
                  && isOne(snapshot.typeName(target))
                  && seen.size() < MOST_SEEN
                  && seen.add(target)) {
                next.add(target);
              }
              return function[0] < 0;
            });
      }
      level = next;
    }
    return function[0];
  }
}
