package lipsanon.label;

import java.util.Set;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/**
 * Recognises references by which something is asked about, or taken out of a list again: whoever
 * has one can reach the whole list, and yet is not what the list belongs to. .NET hands them out
 * for the cancelling of work: tokens, registrations, and links that know their list; and for
 * timers, each of which knows its neighbours and the list as well.
 */
final class Handles {
  private static final String SOURCE = "CancellationTokenSource";
  private static final String THREADING = "System.Threading.";
  private static final String WHOLE = THREADING + SOURCE;
  private static final String LINK = "CallbackNode";
  private static final String LIST = "Registrations";

  private static final String TIMER_LIST = "TimerQueue";
  private static final String TIMER = TIMER_LIST + "Timer";

  /** Who may have a link as a part of the list. */
  private static final Set<String> PARTS = Set.of(LINK, LIST);

  private Handles() {}

  /** Whether references to an object may be some. */
  static boolean areThere(Snapshot snapshot, int target) {
    TypeInfo type = snapshot.types().get(snapshot.type(target));
    String name = type.name();
    if (name.equals(THREADING + TIMER) || name.equals(THREADING + TIMER_LIST)) {
      return true;
    }
    // streams leave out what a nested type stands in, if nobody has looked it up
    boolean bare = type.library() && name.indexOf('.') < 0;
    return name.startsWith(WHOLE) || bare && (PARTS.contains(name) || name.endsWith(SOURCE));
  }

  /** Whether a reference to an object is one. */
  static boolean isOne(Snapshot snapshot, Via via, int target) {
    if (!areThere(snapshot, target)) {
      return false;
    }
    String type = last(snapshot.typeName(target));
    String from = last(via.owner());
    if (type.equals(TIMER)) {
      // the list itself is told as a service of the runtime's
      return via.kind() != Via.Kind.SERVICE && !from.equals(TIMER) && !from.equals(TIMER_LIST);
    }
    if (type.equals(TIMER_LIST)) {
      return from.equals(TIMER);
    }
    if (type.equals(LINK)) {
      return via.kind() == Via.Kind.UNNAMED ? !PARTS.contains(from) : via.name().endsWith("_node");
    }
    if (type.equals(LIST)) {
      return from.equals(LINK);
    }
    // of fields without names those with the source itself are not told from those with a token
    boolean token = via.kind() != Via.Kind.UNNAMED && via.name().endsWith("_source");
    return token || from.equals(LIST);
  }

  private static String last(String type) {
    return type.substring(type.lastIndexOf('.') + 1);
  }
}
