package lipsanon.fleet;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;

/**
 * The classes of tasks as the JVM keeps them in memory (its class-data sharing): the first process
 * that ends well leaves them, and those after it start with a fifth less processor time. Processes
 * of several threads or executors may share the folder; nothing waits for anything.
 */
final class ClassArchive {
  /** No archive is made or used. */
  static final ClassArchive NONE = new ClassArchive(null);

  private final Path folder;

  private ClassArchive(Path folder) {
    this.folder = folder;
  }

  /**
   * An archive in a folder that nobody else may write to, since what lies there is run.
   *
   * @param classPath of the processes: the JVM archives nothing if folders are among it
   */
  static ClassArchive in(Path folder, List<Path> classPath) {
    return classPath.stream().allMatch(Files::isRegularFile) ? new ClassArchive(folder) : NONE;
  }

  /** What one process does with the archive. */
  Use begin() {
    if (folder == null) {
      return new Use(false, List.of());
    }
    if (Files.exists(archive())) {
      return new Use(false, List.of("-XX:SharedArchiveFile=" + archive()));
    }
    try {
      Files.createFile(mark());
    } catch (IOException e) {
      // another process is making it, or nothing can be written there
      return new Use(false, List.of());
    }
    return new Use(true, List.of("-XX:ArchiveClassesAtExit=" + left()));
  }

  private Path archive() {
    return folder.resolve("classes.jsa");
  }

  private Path left() {
    return folder.resolve("classes.left");
  }

  private Path mark() {
    return folder.resolve("classes.making");
  }

  /** One process's part. */
  final class Use {
    private final boolean makes;
    private final List<String> flags;

    private Use(boolean makes, List<String> flags) {
      this.makes = makes;
      this.flags = flags;
    }

    /** What the JVM is told. */
    List<String> flags() {
      return flags;
    }

    /** The process has ended; if it did not end well, the next one makes the archive. */
    void ended(boolean well) throws IOException {
      if (!makes) {
        return;
      }
      if (well && Files.exists(left())) {
        Files.move(left(), archive(), StandardCopyOption.ATOMIC_MOVE);
      } else {
        Files.deleteIfExists(left());
        Files.deleteIfExists(mark());
      }
    }
  }
}
