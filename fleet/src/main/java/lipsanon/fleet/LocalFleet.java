package lipsanon.fleet;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.ExecutorCompletionService;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import lipsanon.io.Progress;

/**
 * A fleet's tasks on this machine: a bounded number of processes side by side. What is done stays
 * done: rows are kept as each task ends, and a later run leaves out what succeeded.
 */
public final class LocalFleet {
  private static final int PATIENCE_SECONDS = 5;

  /**
   * From so many tasks on it pays to keep their classes (measured: making costs a third of one).
   */
  private static final int MANY = 4;

  private LocalFleet() {}

  /**
   * What a run did.
   *
   * @param done tasks that ended well in this run
   * @param failed tasks that ended with a row that says why not
   * @param before snapshots that were done before
   */
  public record Result(int done, int failed, int before) {}

  /**
   * Runs all tasks that are not done yet, and brings their rows into the tables.
   *
   * @param workers processes at once
   * @param work a folder for what tasks leave meanwhile
   */
  public static Result run(
      FleetTables tables,
      List<Item> items,
      ChildTask task,
      int workers,
      Path work,
      Progress progress)
      throws Exception {
    Set<String> known = tables.done();
    Path prepared = work.resolve("classes");
    List<Item> open = items.stream().filter(item -> !known.contains(item.key())).toList();
    ChildTask each = open.size() < MANY ? task : task.preparedIn(Files.createDirectories(prepared));
    progress.phase("looking at " + open.size() + " snapshots", open.size());
    ExecutorService pool =
        Executors.newFixedThreadPool(
            workers,
            run -> {
              Thread thread = new Thread(run, "lipsanon-fleet");
              thread.setDaemon(true);
              return thread;
            });
    int failed = 0;
    AtomicBoolean stopped = new AtomicBoolean();
    Thread hook = new Thread(() -> abandon(pool, stopped, work));
    Runtime.getRuntime().addShutdownHook(hook);
    try {
      ExecutorCompletionService<Boolean> ended = new ExecutorCompletionService<>(pool);
      List<Future<Boolean>> all = new ArrayList<>();
      for (Item item : open) {
        all.add(ended.submit(() -> one(tables, item, each, work, stopped)));
      }
      for (int i = 0; i < all.size(); i++) {
        failed += ended.take().get() ? 0 : 1;
        progress.at(i + 1);
      }
    } catch (ExecutionException e) {
      throw e.getCause() instanceof Exception cause ? cause : e;
    } finally {
      pool.shutdownNow();
      removeHook(hook);
    }
    if (Files.exists(prepared)) {
      ChildTask.delete(prepared);
    }
    progress.phase("writing tables", 0);
    tables.merge();
    return new Result(open.size() - failed, failed, items.size() - open.size());
  }

  /** The user stops it: nothing of the tasks goes on or stays; what ended before is kept. */
  private static void abandon(ExecutorService pool, AtomicBoolean stopped, Path work) {
    stopped.set(true);
    pool.shutdownNow();
    ProcessHandle.current().descendants().forEach(ProcessHandle::destroyForcibly);
    try {
      pool.awaitTermination(PATIENCE_SECONDS, TimeUnit.SECONDS);
      ChildTask.delete(work);
    } catch (IOException e) {
      // a task was about to write there
      return;
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  private static void removeHook(Thread hook) {
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // it is running already
      return;
    }
  }

  private static boolean one(
      FleetTables tables, Item item, ChildTask task, Path work, AtomicBoolean stopped)
      throws IOException, InterruptedException {
    if (stopped.get()) {
      throw new InterruptedException();
    }
    Path file = Path.of(item.address());
    byte[] rows =
        Files.isRegularFile(file)
            ? task.run(item, file, work)
            : ChildTask.failed(item, "there is no such file");
    if (stopped.get()) {
      // its process was ended with all others
      throw new InterruptedException();
    }
    tables.keep(item, rows);
    return !ChildTask.isFailed(rows);
  }
}
