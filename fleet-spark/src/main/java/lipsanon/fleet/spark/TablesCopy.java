package lipsanon.fleet.spark;

import java.io.FileNotFoundException;
import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.FileTime;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Stream;
import lipsanon.fleet.FleetSchema;
import org.apache.hadoop.fs.FileStatus;
import org.apache.hadoop.fs.FileSystem;

/**
 * Makes a folder the same as tables somewhere else. Only files that are new or other are copied; a
 * file appears under its name when it is whole. What says that a task is done is listed first and
 * copied last, so that all else of it is there whenever a run adds to the tables meanwhile.
 */
final class TablesCopy {
  private final FileSystem system;
  private final org.apache.hadoop.fs.Path root;
  private final Path folder;
  private final ClusterTables there;

  /** By path below the folder of tables. */
  private final Map<String, FileStatus> files = new LinkedHashMap<>();

  TablesCopy(FileSystem system, org.apache.hadoop.fs.Path root, Path folder) {
    this.system = system;
    this.root = root;
    this.folder = folder;
    this.there = new ClusterTables(system, root);
  }

  /** How many files the tables have. */
  int all() {
    return files.size();
  }

  /**
   * Copies.
   *
   * @return how many files were copied
   * @throws FileNotFoundException if there are no tables, or a file went meanwhile
   */
  int run() throws IOException {
    files.clear();
    List<FleetSchema> tables = new ArrayList<>(FleetSchema.inOrderOfWriting());
    java.util.Collections.reverse(tables);
    for (FleetSchema table : tables) {
      for (String partition : there.partitions(table)) {
        files.putAll(there.statuses(partition));
      }
    }
    files
        .entrySet()
        .removeIf(file -> !file.getValue().isFile() || !FleetSchema.isFile(file.getKey()));
    if (files.isEmpty()) {
      throw new FileNotFoundException("there are no tables at " + root);
    }
    // before new ones come: rows that were joined must not be there twice
    removeOthers();
    int copied = 0;
    List<String> paths = new ArrayList<>(files.keySet());
    java.util.Collections.reverse(paths);
    for (String path : paths) {
      copied += copy(path, files.get(path)) ? 1 : 0;
    }
    return copied;
  }

  private void removeOthers() throws IOException {
    for (FleetSchema table : FleetSchema.values()) {
      Path here = folder.resolve(table.table());
      if (!Files.isDirectory(here)) {
        continue;
      }
      try (Stream<Path> all = Files.walk(here)) {
        for (Path file : all.filter(Files::isRegularFile).toList()) {
          String path = folder.relativize(file).toString().replace('\\', '/');
          if (FleetSchema.isFile(path) && !files.containsKey(path)) {
            Files.delete(file);
          }
        }
      }
    }
  }

  private boolean copy(String path, FileStatus from) throws IOException {
    Path to = folder.resolve(path);
    FileTime time = FileTime.fromMillis(from.getModificationTime());
    if (Files.isRegularFile(to)
        && Files.size(to) == from.getLen()
        && Files.getLastModifiedTime(to).toMillis() == time.toMillis()) {
      return false;
    }
    Files.createDirectories(to.getParent());
    Path part = to.resolveSibling(to.getFileName() + ".part");
    try (InputStream in = system.open(from.getPath())) {
      Files.copy(in, part, StandardCopyOption.REPLACE_EXISTING);
    }
    Files.setLastModifiedTime(part, time);
    Files.move(part, to, StandardCopyOption.REPLACE_EXISTING);
    return true;
  }
}
