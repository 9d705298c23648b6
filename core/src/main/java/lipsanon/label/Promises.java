package lipsanon.label;

import java.io.IOException;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;

/**
 * Says what goes on when a promise of V8 is settled: the async function that awaits it, or the
 * handler given to {@code then}. A pending promise refers to its reactions, these to their
 * handlers; the handler of an {@code await} to the suspended function by its scope; a suspended
 * async function to its own promise.
 */
final class Promises {
  private static final String ANONYMOUS = "(anonymous)";
  private static final int LOOKED_AT = 20;

  private Promises() {}

  /** Whether an object may be a promise or one of the functions that settle one. */
  static boolean concerns(TypeInfo info, String label) {
    return info.name().equals("v8:closure") && label.equals(ANONYMOUS)
        || info.name().equals("Promise") && label.isEmpty();
  }

  /** What waits for a promise, or for the promise that a function settles; "" if unknown. */
  static String waiting(Snapshot snapshot, int node) throws IOException {
    if (!isNamed(snapshot, node, "Promise")) {
      int scope = target(snapshot, node, "context", null);
      int promise = scope < 0 ? -1 : target(snapshot, scope, null, "Promise");
      // a function of the runtime's: one of the user's own has a place, and another label
      String waiting = promise < 0 ? "" : waiting(snapshot, promise);
      int function = waiting.isEmpty() ? suspended(snapshot, scope) : -1;
      if (function >= 0) {
        return "that resumes " + Labels.of(snapshot, function);
      }
      return waiting.isEmpty() ? "" : "that settles a promise " + waiting;
    }
    int reaction = target(snapshot, node, "reactions_or_result", "v8:hidden");
    if (reaction < 0) {
      return outcome(snapshot, node);
    }
    IntList handlers = targets(snapshot, reaction, null, "v8:closure");
    String waiting = "";
    for (int i = 0; i < handlers.size(); i++) {
      String here = handler(snapshot, handlers.get(i));
      // a handler is preferred that has a name: of one reaction both often are the same
      boolean better = waiting.isEmpty() || waiting.contains(ANONYMOUS);
      waiting = better && !here.isEmpty() ? here : waiting;
    }
    return waiting;
  }

  /** Of a promise for which nothing waits: the suspended function that will settle it. */
  private static String outcome(Snapshot snapshot, int promise) throws IOException {
    IntList in = snapshot.inbound(promise);
    for (int i = 0; i < Math.min(in.size(), LOOKED_AT); i++) {
      if (isNamed(snapshot, in.get(i), "Generator")) {
        int function = target(snapshot, in.get(i), "function", "v8:closure");
        return function < 0 ? "" : "the outcome of " + Labels.of(snapshot, function);
      }
    }
    return "";
  }

  private static String handler(Snapshot snapshot, int closure) throws IOException {
    int function = suspended(snapshot, target(snapshot, closure, "context", null));
    if (function >= 0) {
      return "awaited by " + Labels.of(snapshot, function);
    }
    String own = snapshot.objects().label(closure, Labels.TEXT);
    return own.isEmpty() || own.equals(ANONYMOUS) ? "" : "then " + own;
  }

  /** The async function that goes on when a handler with that scope is called; -1 if none does. */
  private static int suspended(Snapshot snapshot, int scope) throws IOException {
    int generator = scope < 0 ? -1 : target(snapshot, scope, "extension", null);
    return generator < 0 ? -1 : target(snapshot, generator, "function", "v8:closure");
  }

  private static int target(Snapshot snapshot, int node, String via, String type)
      throws IOException {
    IntList all = targets(snapshot, node, via, type);
    return all.isEmpty() ? -1 : all.get(0);
  }

  /** The targets of a node's references with a name, and of a type; null: any. */
  private static IntList targets(Snapshot snapshot, int node, String via, String type)
      throws IOException {
    IntList targets = new IntList();
    snapshot
        .objects()
        .references(
            node,
            reference -> {
              boolean fits =
                  reference.kind() == Reference.Kind.STRONG
                      && (via == null || reference.via().name().equals(via))
                      && (type == null || isNamed(snapshot, reference.target(), type));
              if (fits) {
                targets.add(reference.target());
              }
            });
    return targets;
  }

  private static boolean isNamed(Snapshot snapshot, int node, String type) {
    return snapshot.types().get(snapshot.type(node)).name().equals(type);
  }
}
