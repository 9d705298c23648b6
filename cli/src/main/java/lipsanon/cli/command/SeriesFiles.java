package lipsanon.cli.command;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.cli.UsageException;

/** The files of a series as users give them: a folder stands for the snapshots in it. */
public final class SeriesFiles {
  private static final String WHOLE = ".*\\.(hprof|hprof\\.gz|heapsnapshot|nettrace|core)";
  private static final String LIGHT = ".*\\.light\\.jsonl";
  private static final String INDEX = ".lipsanon";

  private SeriesFiles() {}

  /**
   * The files, those of a folder by their names. Indexes are left out: a pattern of the shell fits
   * those beside the snapshots too.
   *
   * @throws UsageException if a folder holds no snapshots, or only indexes were named
   */
  public static List<Path> of(List<Path> given) throws IOException {
    List<Path> files = new ArrayList<>();
    for (Path file : given) {
      if (file.toString().endsWith(INDEX)) {
        continue;
      }
      if (Files.isDirectory(file)) {
        List<Path> whole = inside(file, WHOLE);
        List<Path> found = whole.isEmpty() ? inside(file, LIGHT) : whole;
        if (found.isEmpty()) {
          throw new UsageException(file + " holds no snapshots");
        }
        files.addAll(found);
      } else {
        files.add(file);
      }
    }
    if (files.isEmpty()) {
      throw new UsageException(given.get(0) + " is an index; name the snapshots themselves");
    }
    return files;
  }

  private static List<Path> inside(Path folder, String names) throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files
          .filter(file -> file.toString().matches(names) && Files.isRegularFile(file))
          .sorted()
          .toList();
    }
  }
}
