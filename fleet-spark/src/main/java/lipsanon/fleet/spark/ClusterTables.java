package lipsanon.fleet.spark;

import java.io.FileNotFoundException;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lipsanon.fleet.FleetSchema;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;
import org.apache.hadoop.fs.Path;

/**
 * The folder of tables on any of the cluster's file systems. A run writes below {@code
 * .cluster-RUN}; when all is there it says so by a file {@code complete}, and its files move to the
 * tables under names that are the same however often that is tried. A run that joins files of
 * earlier ones names these in a file {@code replaces}; they go before its own move in.
 */
final class ClusterTables {
  private static final String PREFIX = ".cluster-";
  private static final String COMPLETE = "complete";
  private static final String REPLACES = "replaces";

  private final FileSystem system;
  private final Path root;

  ClusterTables(FileSystem system, Path root) {
    this.system = system;
    this.root = root;
  }

  boolean exist(FleetSchema table) throws IOException {
    return system.exists(new Path(root, table.table()));
  }

  String raw(String run) {
    return new Path(home(run), "raw").toString();
  }

  private Path home(String run) {
    return new Path(root, PREFIX + run);
  }

  /** All of a run is written: its files become part of the tables. */
  void complete(String run) throws IOException {
    system.create(new Path(home(run), COMPLETE), true).close();
    move(home(run));
  }

  /**
   * The partitions, as TABLE/day=DAY/service=SERVICE, to which a run that is written adds files.
   */
  List<String> partitions(String run) throws IOException {
    return partitions(home(run));
  }

  /** The partitions of a table. */
  List<String> partitions(FleetSchema table) throws IOException {
    return partitions(root, table);
  }

  private List<String> partitions(Path home) throws IOException {
    List<String> partitions = new ArrayList<>();
    for (FleetSchema table : FleetSchema.inOrderOfWriting()) {
      partitions.addAll(partitions(home, table));
    }
    return partitions;
  }

  private List<String> partitions(Path home, FleetSchema table) throws IOException {
    List<String> partitions = new ArrayList<>();
    for (FileStatus day : list(new Path(home, table.table()))) {
      if (day.isDirectory()) {
        for (FileStatus service : list(day.getPath())) {
          partitions.add(table.table() + "/" + relative(service));
        }
      }
    }
    return partitions;
  }

  /** The files of a partition, as paths below the folder of tables. */
  List<String> files(String partition) throws IOException {
    return List.copyOf(statuses(partition).keySet());
  }

  /** The same with what the file system knows of each. */
  Map<String, FileStatus> statuses(String partition) throws IOException {
    Map<String, FileStatus> files = new LinkedHashMap<>();
    for (FileStatus file : list(new Path(root, partition))) {
      if (file.getPath().getName().endsWith(".parquet")) {
        files.put(partition + "/" + file.getPath().getName(), file);
      }
    }
    return files;
  }

  /** Where something below the folder of tables is. */
  String path(String below) {
    return new Path(root, below).toString();
  }

  /** The same below that of a run. */
  String staged(String run, String partition) {
    return new Path(home(run), partition).toString();
  }

  /** All of a run is written that joins files: they go, and its own come in their place. */
  void replace(String run, List<String> files) throws IOException {
    try (OutputStream out = system.create(new Path(home(run), REPLACES), true)) {
      out.write(String.join("\n", files).getBytes(StandardCharsets.UTF_8));
    }
    complete(run);
  }

  private void removeReplaced(Path home) throws IOException {
    Path names = new Path(home, REPLACES);
    if (!system.exists(names)) {
      return;
    }
    try (InputStream in = system.open(names)) {
      for (String file : new String(in.readAllBytes(), StandardCharsets.UTF_8).split("\n")) {
        if (FleetSchema.isFile(file)) {
          system.delete(new Path(root, file), false);
        }
      }
    }
  }

  /** Runs that ended while files were being moved are finished; others that ended are removed. */
  void finishEarlierRuns() throws IOException {
    for (FileStatus folder : list(root)) {
      if (folder.getPath().getName().startsWith(PREFIX)) {
        if (system.exists(new Path(folder.getPath(), COMPLETE))) {
          move(folder.getPath());
        } else {
          system.delete(folder.getPath(), true);
        }
      }
    }
  }

  private void move(Path home) throws IOException {
    removeReplaced(home);
    String run = home.getName().substring(PREFIX.length());
    for (String partition : partitions(home)) {
      files(new Path(home, partition), new Path(root, partition), run);
    }
    system.delete(home, true);
  }

  private static Path relative(FileStatus service) {
    return new Path(service.getPath().getParent().getName(), service.getPath().getName());
  }

  private void files(Path from, Path to, String run) throws IOException {
    system.mkdirs(to);
    for (FileStatus file : list(from)) {
      String name = file.getPath().getName();
      if (name.endsWith(".parquet")) {
        // the engine's own name tells partition and attempt: it stays, for another try to find it
        Path target = new Path(to, run + "-" + name);
        if (!system.exists(target) && !system.rename(file.getPath(), target)) {
          throw new IOException("cannot move " + file.getPath() + " to " + target);
        }
      }
    }
  }

  private List<FileStatus> list(Path folder) throws IOException {
    try {
      return List.of(system.listStatus(folder));
    } catch (FileNotFoundException e) {
      return List.of();
    }
  }
}
