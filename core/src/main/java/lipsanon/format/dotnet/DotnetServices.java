package lipsanon.format.dotnet;

import java.util.Map;
import lipsanon.index.Via;

/**
 * What the runtime keeps because a program asked it to: work that is to be done later. Its own
 * fields for that say nothing to whoever wrote the program.
 */
public final class DotnetServices {
  private static final String TIMERS = "the timers of .NET";
  private static final String WORK = "the work that waits for the thread pool";

  private static final String TIMER_QUEUE = "System.Threading.TimerQueue";
  private static final String POOL = "System.Threading.ThreadPoolWorkQueue";

  /** By the class and its field. */
  private static final Map<String, String> FIELDS =
      Map.of(
          TIMER_QUEUE + "._shortTimers", TIMERS,
          TIMER_QUEUE + "._longTimers", TIMERS,
          POOL + ".workItems", WORK,
          POOL + ".highPriorityWorkItems", WORK,
          POOL + ".lowPriorityWorkItems", WORK,
          POOL + "._assignableWorkItemQueues", WORK,
          POOL + "ThreadLocals.workStealingQueue", WORK,
          POOL + "ThreadLocals.assignedGlobalWorkItemQueue", WORK);

  private DotnetServices() {}

  /** A field as what the runtime does for the program by it; null: it is none of these. */
  static Via of(String owner, String path) {
    String service = owner.startsWith("System.Threading.") ? FIELDS.get(owner + "." + path) : null;
    return service == null ? null : new Via(Via.Kind.SERVICE, "", service, -1);
  }

  /** The same where only the types are known of what refers, and of what it refers to. */
  public static Via between(String from, String to) {
    boolean timers = from.equals(TIMER_QUEUE) && to.equals(TIMER_QUEUE + "Timer");
    return timers ? new Via(Via.Kind.SERVICE, "", TIMERS, -1) : null;
  }
}
