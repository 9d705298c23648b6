package lipsanon.label;

import lipsanon.index.Snapshot;
import lipsanon.index.Via;

/**
 * Recognises references by which something is asked about, or taken out of a list again: whoever
 * has one can reach the whole list, and yet is not what the list belongs to. .NET hands them out
 * for the cancelling of work: tokens, registrations, and links that know their list.
 */
final class Handles {
  private static final String SOURCE = "System.Threading.CancellationTokenSource";
  private static final String CALLBACK = SOURCE + ".CallbackNode";
  private static final String LIST = SOURCE + ".Registrations";

  private Handles() {}

  /** Whether references to an object may be some. */
  static boolean areThere(Snapshot snapshot, int target) {
    return snapshot.typeName(target).startsWith(SOURCE);
  }

  /** Whether a reference to an object is one. */
  static boolean isOne(Snapshot snapshot, Via via, int target) {
    if (!areThere(snapshot, target)) {
      return false;
    }
    String type = snapshot.typeName(target);
    if (type.equals(CALLBACK)) {
      return via.name().endsWith("_node");
    }
    boolean back = via.owner().equals(type.equals(LIST) ? CALLBACK : LIST);
    return back || !type.equals(LIST) && via.name().endsWith("_source");
  }
}
