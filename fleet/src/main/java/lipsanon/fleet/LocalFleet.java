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
import lipsanon.io.Progress;

/**
 * A fleet's tasks on this machine: a bounded number of processes side by side. What is done stays
 * done: rows are kept as each task ends, and a later run leaves out what succeeded.
 */
public final class LocalFleet {
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
    List<Item> open = items.stream().filter(item -> !known.contains(item.key())).toList();
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
    try {
      ExecutorCompletionService<Boolean> ended = new ExecutorCompletionService<>(pool);
      List<Future<Boolean>> all = new ArrayList<>();
      for (Item item : open) {
        all.add(ended.submit(() -> one(tables, item, task, work)));
      }
      for (int i = 0; i < all.size(); i++) {
        failed += ended.take().get() ? 0 : 1;
        progress.at(i + 1);
      }
    } catch (ExecutionException e) {
      throw e.getCause() instanceof Exception cause ? cause : e;
    } finally {
      pool.shutdownNow();
    }
    progress.phase("writing tables", 0);
    tables.merge();
    return new Result(open.size() - failed, failed, items.size() - open.size());
  }

  private static boolean one(FleetTables tables, Item item, ChildTask task, Path work)
      throws IOException, InterruptedException {
    Path file = Path.of(item.address());
    byte[] rows =
        Files.isRegularFile(file)
            ? task.run(item, file, work)
            : ChildTask.failed(item, "there is no such file");
    tables.keep(item, rows);
    return !new String(rows, java.nio.charset.StandardCharsets.UTF_8)
        .contains("\"status\":\"failed\"");
  }
}
