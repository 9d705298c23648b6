package lipsanon.fleet.spark;

import java.io.IOException;
import java.io.InputStream;
import java.io.Serializable;
import java.net.URI;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import java.util.Map;
import lipsanon.fleet.ChildTask;
import lipsanon.fleet.Inputs;
import lipsanon.fleet.Item;
import org.apache.hadoop.conf.Configuration;
import org.apache.hadoop.fs.FileSystem;
import org.apache.spark.SparkFiles;

/**
 * One snapshot on an executor: brought to local disk if it lies elsewhere, looked at in a process
 * of its own, and gone again. What fails is a row.
 *
 * @param archives names of the archives that the process needs, as the cluster handed them out
 * @param memoryBytes that the process may use
 * @param hidingKey 16 bytes
 * @param mine own packages, may be empty
 * @param timeoutMillis after which it is ended
 * @param settings of the file systems, as the user gave them to the engine
 */
record ClusterTask(
    List<String> archives,
    long memoryBytes,
    byte[] hidingKey,
    List<String> mine,
    long timeoutMillis,
    Map<String, String> settings)
    implements Serializable {

  /** The snapshot's rows, as JSON Lines. */
  byte[] run(Item item) throws IOException, InterruptedException {
    List<Path> classPath = archives.stream().map(name -> Path.of(SparkFiles.get(name))).toList();
    // the executor's own folder, which the engine removes
    ChildTask task =
        new ChildTask(classPath, memoryBytes, hidingKey, mine, timeoutMillis)
            .preparedIn(Path.of(SparkFiles.getRootDirectory()));
    Path work = Files.createTempDirectory("lipsanon-fleet-");
    try {
      Path file;
      try {
        file = local(item.address(), work);
      } catch (IOException | IllegalArgumentException e) {
        return ChildTask.failed(item, "cannot be fetched: " + message(e));
      }
      return Files.isRegularFile(file)
          ? task.run(item, file, work)
          : ChildTask.failed(item, "there is no such file");
    } finally {
      ChildTask.delete(work);
    }
  }

  private static String message(Exception e) {
    return e.getMessage() == null ? e.getClass().getSimpleName() : e.getMessage();
  }

  private Path local(String address, Path work) throws IOException {
    if (!Inputs.isAddress(address)) {
      return Path.of(address);
    }
    URI uri = URI.create(address);
    if ("file".equals(uri.getScheme())) {
      return Path.of(uri);
    }
    String name = address.substring(address.lastIndexOf('/') + 1);
    Path copy = work.resolve(name.isEmpty() ? "snapshot" : name);
    org.apache.hadoop.fs.Path from = new org.apache.hadoop.fs.Path(uri);
    // an executor knows its own files of settings, but not what the job was given
    Configuration configuration = new Configuration();
    settings.forEach(configuration::set);
    try (FileSystem system = FileSystem.newInstance(uri, configuration);
        InputStream in = system.open(from)) {
      Files.copy(in, copy, StandardCopyOption.REPLACE_EXISTING);
    }
    return copy;
  }
}
