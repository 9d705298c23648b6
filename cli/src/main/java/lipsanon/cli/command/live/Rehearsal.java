package lipsanon.cli.command.live;

import java.io.IOException;
import java.net.URI;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.v8.V8Adders;
import lipsanon.cli.watch.Connections;

/** Does an action again and again, and takes a snapshot after each round. */
public final class Rehearsal {
  private static final Duration PATIENCE = Duration.ofSeconds(60);

  private final Plan plan;
  private final Listener listener;
  private final PageSeries page = new PageSeries();

  /**
   * What to do.
   *
   * @param action the action
   * @param url the URL that the action gets, or null
   * @param times actions a round
   * @param rounds snapshots after the baseline
   * @param warmUp rounds before the baseline
   * @param folder where the snapshots go
   */
  public record Plan(Action action, String url, int times, int rounds, int warmUp, Path folder) {}

  /**
   * What was taken.
   *
   * @param files snapshots in order
   * @param actions how often the action was done between each two
   */
  public record Taken(List<Path> files, List<Integer> actions) {}

  /** Looks at a series, and says whether a long round is worth its time. */
  public interface Doubt {
    /** No long round. */
    Doubt NONE = taken -> false;

    /** Whether something in it seems to pile up. */
    boolean worthALongRound(Taken taken) throws Exception;
  }

  /** Does something with the target once all snapshots are taken, over the same connection. */
  public interface Afterwards {
    /** Nothing. */
    Afterwards NOTHING = (live, once, taken) -> {};

    /** Does it; {@code once} does the action once more. */
    void run(LiveRuntime live, V8Adders.Once once, Taken taken) throws Exception;
  }

  /** A long round has so many times the actions of all rounds before it. */
  private static final int LONG_ROUND = 3;

  /** Hears what is done. */
  public interface Listener {
    /** A step begins. */
    void step(String text);

    /** A snapshot was taken. */
    void taken(Path file, CaptureResult result);

    /** A snapshot is about to be taken. */
    void beforeSnapshot() throws IOException;
  }

  public Rehearsal(Plan plan, Listener listener) {
    this.plan = plan;
    this.listener = listener;
  }

  /** Runs all; the snapshots that were taken stay even if an action fails. */
  public Taken run(RuntimeInfo target, Doubt doubt) throws Exception {
    return run(target, doubt, Afterwards.NOTHING);
  }

  /** The same, with something to do at the end. */
  public Taken run(RuntimeInfo target, Doubt doubt, Afterwards afterwards) throws Exception {
    // V8 numbers objects anew for each connection, and the series needs the same numbers
    try (LiveRuntime held = Connections.to(target)) {
      Taken taken = run(target, held, doubt);
      afterwards.run(held, () -> plan.action.perform(target, held, plan.rounds + 2), taken);
      return taken;
    }
  }

  private Taken run(RuntimeInfo target, LiveRuntime held, Doubt doubt) throws Exception {
    Taken taken = new Taken(new ArrayList<>(), new ArrayList<>());
    if (plan.warmUp > 0) {
      listener.step(
          "warm-up: " + plan.warmUp + " × " + plan.times + " actions, which do not count");
      for (int i = 0; i < plan.warmUp; i++) {
        round(target, held, 0, plan.times);
      }
    }
    for (int round = 0; round <= plan.rounds; round++) {
      if (round > 0) {
        listener.step("round " + round + " of " + plan.rounds + ": " + plan.times + " actions");
        round(target, held, round, plan.times);
        taken.actions.add(plan.times);
      }
      snapshot(target, held, round == 0 ? "0-baseline" : Integer.toString(round), taken);
    }
    if (doubt.worthALongRound(taken)) {
      int actions = LONG_ROUND * plan.times * (plan.rounds + plan.warmUp);
      listener.step(
          "something seems to pile up; one long round to tell a leak from a cache: "
              + actions
              + " actions (--no-confirm leaves it out)");
      round(target, held, plan.rounds + 1, actions);
      taken.actions.add(actions);
      snapshot(target, held, plan.rounds + 1 + "-long", taken);
    }
    return taken;
  }

  private void snapshot(RuntimeInfo target, LiveRuntime held, String name, Taken taken)
      throws IOException {
    listener.beforeSnapshot();
    page.look(target, held);
    Path file = plan.folder.resolve(name + "." + target.extension());
    CaptureOptions options = new CaptureOptions(file, false, false, false);
    listener.taken(file, held.capture(options, CaptureProgress.NONE));
    taken.files.add(file);
  }

  /** What the target counted itself, if it is a page. */
  public PageSeries page() {
    return page;
  }

  private void round(RuntimeInfo target, LiveRuntime live, int round, int times)
      throws IOException, InterruptedException {
    for (int i = 1; i <= times; i++) {
      String problem = plan.action.perform(target, live, round);
      if (problem != null) {
        throw new CaptureException(
            "action "
                + i
                + " of "
                + (round == 0 ? "the warm-up" : "round " + round)
                + " failed: "
                + problem
                + "; the snapshots taken so far are in "
                + plan.folder);
      }
    }
  }

  /** Waits until a started program answers at the URL's port, if there is a URL. */
  void awaitReady(Process program) throws IOException, InterruptedException {
    if (plan.url == null) {
      return;
    }
    long deadline = System.nanoTime() + PATIENCE.toNanos();
    URI uri;
    try {
      uri = URI.create(plan.url);
    } catch (IllegalArgumentException e) {
      throw new CaptureException("\"" + plan.url + "\" is no URL");
    }
    int port = uri.getPort() > 0 ? uri.getPort() : "https".equals(uri.getScheme()) ? 443 : 80;
    while (System.nanoTime() < deadline && program.isAlive()) {
      try {
        new java.net.Socket(uri.getHost(), port).close();
        return;
      } catch (IOException e) {
        TimeUnit.MILLISECONDS.sleep(50);
      }
    }
    throw new CaptureException(
        "nothing answers at " + plan.url + (program.isAlive() ? "" : "; the program has ended"));
  }
}
