package lipsanon.fleet.spark;

import java.io.FileNotFoundException;
import java.io.IOException;
import java.nio.file.Path;
import org.apache.hadoop.fs.FileSystem;
import org.apache.spark.sql.SparkSession;

/**
 * The job that brings tables from any of the engine's file systems to a folder of the machine that
 * it was submitted on, where they are asked. It runs in the submitting process alone.
 *
 * <p>Arguments: where the tables are, and the folder. The last line on standard output is {@code
 * lipsanon-fleet: copied N of N files}.
 */
public final class CopyJob {
  /** A run that joins files exchanges them: then what was listed may be gone. */
  private static final int TRIES = 3;

  private CopyJob() {}

  /** Runs. */
  public static void main(String[] args) throws Exception {
    SparkSession spark =
        SparkSession.builder()
            .appName("lipsanon-fleet-copy")
            .config("spark.ui.enabled", "false")
            .getOrCreate();
    try {
      org.apache.hadoop.fs.Path root = new org.apache.hadoop.fs.Path(args[0]);
      FileSystem system = root.getFileSystem(spark.sparkContext().hadoopConfiguration());
      TablesCopy copy = new TablesCopy(system, root, Path.of(args[1]));
      System.out.println("lipsanon-fleet: copied " + copied(copy) + " of " + copy.all() + " files");
    } finally {
      spark.stop();
    }
  }

  private static int copied(TablesCopy copy) throws IOException {
    for (int left = TRIES - 1; ; left--) {
      try {
        return copy.run();
      } catch (FileNotFoundException e) {
        if (left == 0) {
          throw e;
        }
      }
    }
  }
}
