package lipsanon.fleet;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import lipsanon.io.InputException;

/**
 * A fleet's tasks without a process for each, for what other ways of running them must equal: a
 * hundred times as fast. What is no snapshot goes the usual way, which words the problem.
 */
public final class InProcess {
  private InProcess() {}

  /** Brings the rows of all snapshots into the tables. */
  public static void run(
      FleetTables tables, List<Item> items, List<String> mine, ChildTask task, Path work)
      throws Exception {
    for (Item item : items) {
      Path file = Path.of(item.address());
      Path scratch = Files.createTempDirectory(work, "task-");
      try {
        tables.keep(item, Reduction.of(item, file, options(scratch, mine)));
      } catch (InputException e) {
        tables.keep(item, task.run(item, file, work));
      } finally {
        ChildTask.delete(scratch);
      }
    }
    tables.merge();
  }

  private static Reduction.Options options(Path scratch, List<String> mine) {
    return new Reduction.Options(scratch, 256L << 20, new byte[16], mine);
  }
}
