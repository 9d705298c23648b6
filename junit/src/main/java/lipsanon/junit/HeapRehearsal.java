package lipsanon.junit;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.locks.ReentrantLock;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.GrowthQuestion;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.function.Executable;
import org.opentest4j.AssertionFailedError;

/**
 * Does an action again and again and looks what stays behind. One round without a snapshot comes
 * first, for all that is made once; then a snapshot, and another after each of the rounds; then a
 * long round with three times as many actions as all before, by which what is bounded (a cache that
 * fills) is told from what leaks. A test of its own, or a part of one:
 *
 * <pre>{@code
 * HeapRehearsal.of(() -> office.leave(office.arrive("Alma"))).check();
 * }</pre>
 *
 * The dumps lie in a folder below {@code target}, {@code build} or the temporary one; they go when
 * the check passes and stay when it fails. An action may do what it likes, but not run beside other
 * tests: a second rehearsal at the same time is refused.
 */
public final class HeapRehearsal {
  static final int ACTIONS = 5;
  static final int ROUNDS = 3;
  private static final int LONG = 3;

  /** There is one heap in a VM. */
  private static final ReentrantLock ONE_AT_A_TIME = new ReentrantLock();

  private final Executable action;
  private String name = "rehearsal";
  private int actions = ACTIONS;
  private int rounds = ROUNDS;
  private long allowedBytes;
  private List<String> mine = List.of();
  private Path parent;

  private HeapRehearsal(Executable action) {
    this.action = action;
  }

  /** A rehearsal of an action. */
  public static HeapRehearsal of(Executable action) {
    return new HeapRehearsal(action);
  }

  /** How it is called in messages and in the folder's name. */
  public HeapRehearsal named(String text) {
    name = text;
    return this;
  }

  /** How often the action is done between two snapshots, at least once. */
  public HeapRehearsal actions(int count) {
    actions = atLeastOne(count, "actions");
    return this;
  }

  /** How many rounds there are, at least one; the long one comes besides. */
  public HeapRehearsal rounds(int count) {
    rounds = atLeastOne(count, "rounds");
    return this;
  }

  /** Bytes that may pile up with each action. */
  public HeapRehearsal allowedBytes(long bytes) {
    allowedBytes = bytes;
    return this;
  }

  /** Own packages, where they are not found by themselves. */
  public HeapRehearsal mine(String... packages) {
    mine = List.of(packages);
    return this;
  }

  /** The folder in which that of the dumps is made. */
  public HeapRehearsal in(Path folder) {
    parent = folder;
    return this;
  }

  private static int atLeastOne(int count, String what) {
    if (count < 1) {
      throw new IllegalArgumentException(what + ": " + count + "; at least one is needed");
    }
    return count;
  }

  /**
   * Rehearses.
   *
   * @throws AssertionFailedError if something piles up
   * @throws IllegalStateException if another rehearsal runs in this VM
   * @throws Throwable what the action throws
   */
  public void check() throws Throwable {
    if (!ONE_AT_A_TIME.tryLock()) {
      throw new IllegalStateException(
          name
              + ": another test rehearses in this VM at this moment, and there is one heap only. Run"
              + " such tests one after another: @Isolated, or @ResourceLock with one name.");
    }
    try {
      rehearse();
    } finally {
      ONE_AT_A_TIME.unlock();
    }
  }

  private void rehearse() throws Throwable {
    Dumps dumps = Dumps.create(parent, name);
    boolean keep = false;
    try {
      List<Integer> between = new ArrayList<>();
      repeat(actions);
      dumps.take();
      for (int round = 0; round < rounds; round++) {
        repeat(actions);
        between.add(actions);
        dumps.take();
      }
      int many = LONG * actions * (rounds + 1);
      repeat(many);
      between.add(many);
      dumps.take();
      GrowthAnswer answer = ask(dumps, between);
      List<Finding> findings =
          answer.findings().stream()
              .filter(finding -> finding.bytesPerAction() > allowedBytes)
              .toList();
      if (!findings.isEmpty()) {
        keep = true;
        throw new AssertionFailedError(message(findings, dumps, between));
      }
    } finally {
      dumps.close(keep);
    }
  }

  private void repeat(int times) throws Throwable {
    for (int i = 0; i < times; i++) {
      action.execute();
    }
  }

  private GrowthAnswer ask(Dumps dumps, List<Integer> between) throws Exception {
    Snapshots.Options options =
        new Snapshots.Options(null, dumps.folder(), true, Runtime.getRuntime().maxMemory() / 2);
    List<Snapshot> series = new ArrayList<>();
    try {
      for (Path file : dumps.files()) {
        series.add(Snapshots.open(file, options, Progress.NONE));
      }
      TypeFilter own = new TypeFilter(null, mine, false);
      return GrowthQuestion.ask(series, new GrowthQuestion.Options(own, between));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }

  private String message(List<Finding> findings, Dumps dumps, List<Integer> between)
      throws IOException {
    StringBuilder text = new StringBuilder(name).append(": something stays behind.");
    List<Finding> worst = new ArrayList<>(findings);
    worst.sort(Comparator.comparingDouble(Finding::bytesPerAction).reversed());
    for (Finding finding : worst) {
      text.append("\n  ").append(finding.sentence());
      finding
          .steps()
          .forEach(
              step -> text.append("\n    ").append(step.via()).append(" → ").append(step.type()));
    }
    List<String> counts = between.stream().map(String::valueOf).toList();
    return text.append("\n  The snapshots are kept: lipsanon growth ")
        .append(dumps.folder())
        .append("/*.hprof --actions ")
        .append(String.join(",", counts))
        .toString();
  }
}
