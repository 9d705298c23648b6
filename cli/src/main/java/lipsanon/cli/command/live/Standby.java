package lipsanon.cli.command.live;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.Comparator;
import java.util.Deque;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.RuntimeInfo;
import lipsanon.cli.Context;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.SafeText;
import lipsanon.cli.watch.Watching;

/**
 * Waits by a live runtime for days, and takes a snapshot when it is time to. Intervals are measured
 * by a clock that nobody sets. A target that ends is waited for by its name; a disk that is full is
 * told, and tried again later.
 */
final class Standby {
  private static final long LOOK_MILLIS = 1_000;

  /** After one that was taken or failed, a condition that goes on holding is no news. */
  private static final long REST_MILLIS = 10 * 60_000L;

  private final Context context;
  private final Plan plan;
  private final Taker taker;
  private final Deque<Path> taken = new ArrayDeque<>();
  private int count;

  /**
   * What to wait for.
   *
   * @param target as the user named it
   * @param where how it is found
   * @param condition null: only time counts
   * @param everyMillis between two, or -1
   * @param keep how many to keep, 0: all
   * @param times how many to take
   */
  record Plan(
      String target,
      TargetOptions where,
      Condition condition,
      long everyMillis,
      int keep,
      int times) {}

  /** Takes a snapshot. */
  interface Taker {
    /** The file that was written. */
    Path take(RuntimeInfo info) throws Exception;
  }

  Standby(Context context, Plan plan, Taker taker) {
    this.context = context;
    this.plan = plan;
    this.taker = taker;
  }

  /** Until all were taken, or the user stops it. */
  void run() throws Exception {
    RuntimeInfo info = plan.where().find(plan.target());
    say(
        "waiting by "
            + info.program()
            + " ("
            + info.kind()
            + " "
            + info.id()
            + ")"
            + (plan.condition() == null ? "" : " until " + plan.condition().text())
            + "; Ctrl-C ends it");
    while (count < plan.times()) {
      try {
        beside(info);
      } catch (CaptureException e) {
        if (running(info)) {
          throw e;
        }
        say(SafeText.message(e.getMessage()));
        info = again(info, e);
      }
    }
  }

  private static boolean running(RuntimeInfo info) {
    return info.pid() >= 0 && Files.isDirectory(Path.of("/proc/" + info.pid()));
  }

  /** A target that was started again; one that was named by its number never comes back. */
  private RuntimeInfo again(RuntimeInfo gone, CaptureException why) throws Exception {
    if (plan.target() == null || plan.target().equals(gone.id())) {
      throw why;
    }
    say("waiting for \"" + plan.target() + "\" to be started again");
    while (true) {
      Thread.sleep(2 * LOOK_MILLIS);
      try {
        RuntimeInfo info = plan.where().find(plan.target());
        say("it runs again: " + info.kind() + " " + info.id());
        return info;
      } catch (CaptureException e) {
        // not yet
        continue;
      }
    }
  }

  /** Looks at one process until all were taken or it ends. */
  private void beside(RuntimeInfo info) throws Exception {
    boolean counts = plan.condition() != null && plan.condition().needsSurvivors();
    Watching.Counting counting = counts ? Watching.Counting.LIVE : Watching.Counting.NONE;
    try (HeapMeter meter = plan.where().meter(info)) {
      Watching watching = new Watching(meter, counting, null);
      long last = System.nanoTime();
      long rest = 0;
      while (count < plan.times()) {
        watching.tick();
        long since = (System.nanoTime() - last) / 1_000_000;
        if (since >= rest) {
          String why = due(watching, since);
          if (!why.isEmpty()) {
            say(why);
            take(info);
            last = System.nanoTime();
            rest = plan.everyMillis() > 0 ? plan.everyMillis() : REST_MILLIS;
          }
        }
        if (count < plan.times()) {
          Thread.sleep(LOOK_MILLIS);
        }
      }
    }
  }

  /** Why it is time, or "". */
  private String due(Watching watching, long sinceMillis) {
    if (plan.condition() != null) {
      return plan.condition().holds(watching.watched(), new Format(false));
    }
    boolean first = count == 0;
    return first || sinceMillis >= plan.everyMillis() ? "it is time for one" : "";
  }

  private void take(RuntimeInfo info) throws Exception {
    try {
      taken.addLast(taker.take(info));
      count++;
    } catch (CaptureException e) {
      if (!running(info)) {
        throw e;
      }
      // no room on the disk, or busy: the next time may be better
      say("not taken: " + SafeText.message(e.getMessage()));
    }
    while (plan.keep() > 0 && taken.size() > plan.keep()) {
      Path oldest = taken.removeFirst();
      delete(oldest);
      say("deleted " + oldest + ", the oldest of " + (plan.keep() + 1));
    }
  }

  /** Deletes a snapshot that this call took, and its index. */
  private static void delete(Path file) throws IOException {
    Files.deleteIfExists(file);
    Path index = file.resolveSibling(file.getFileName() + ".lipsanon");
    if (Files.isDirectory(index)) {
      try (Stream<Path> all = Files.walk(index)) {
        for (Path path : (Iterable<Path>) all.sorted(Comparator.reverseOrder())::iterator) {
          Files.deleteIfExists(path);
        }
      }
    }
  }

  private void say(String text) {
    context.err().println("lipsanon: " + SafeText.visible(text));
    context.err().flush();
  }
}
