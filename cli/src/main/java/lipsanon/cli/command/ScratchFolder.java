package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.stream.Stream;

/** A folder that goes with all that is in it. */
public final class ScratchFolder implements AutoCloseable {
  private final Path path;

  private ScratchFolder(Path path) {
    this.path = path;
  }

  /** In the temporary folder. */
  public static ScratchFolder of(String name) throws IOException {
    return new ScratchFolder(Files.createTempDirectory("lipsanon-" + name + "-"));
  }

  /** Below a folder, so that what is made in it can be renamed to a place there. */
  public static ScratchFolder in(Path folder, String name) throws IOException {
    return new ScratchFolder(Files.createTempDirectory(folder, ".lipsanon-" + name + "-"));
  }

  /** Where it is. */
  public Path path() {
    return path;
  }

  @Override
  public void close() throws IOException {
    try (Stream<Path> all = Files.walk(path)) {
      for (Path one : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(one);
      }
    }
  }
}
