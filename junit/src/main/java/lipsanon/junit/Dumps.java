package lipsanon.junit;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;

/** Heap dumps of this VM, in a folder of their own. */
final class Dumps {
  private static final int LONGEST_NAME = 60;

  private final Path folder;
  private final List<Path> files = new ArrayList<>();

  private Dumps(Path folder) {
    this.folder = folder;
  }

  static Dumps create(Path parent, String name) throws IOException {
    String plain = name.replaceAll("[^A-Za-z0-9.-]+", "-");
    String start = plain.substring(0, Math.min(LONGEST_NAME, plain.length()));
    Path where = parent != null ? parent : usual();
    return new Dumps(Files.createTempDirectory(where, "lipsanon-" + start + "-").toAbsolutePath());
  }

  /** Where builds keep what they make. */
  private static Path usual() {
    for (String build : new String[] {"target", "build"}) {
      Path folder = Path.of(build);
      if (Files.isDirectory(folder) && Files.isWritable(folder)) {
        return folder;
      }
    }
    return Path.of(System.getProperty("java.io.tmpdir"));
  }

  /** Collects garbage and dumps what is left. */
  void take() throws IOException {
    HotSpotDiagnosticMXBean bean =
        ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class);
    if (bean == null) {
      throw new IOException("this VM has no bean that dumps its heap: run the test on HotSpot");
    }
    Path file = folder.resolve(files.size() + ".hprof");
    bean.dumpHeap(file.toString(), true);
    files.add(file);
  }

  Path folder() {
    return folder;
  }

  List<Path> files() {
    return List.copyOf(files);
  }

  /** Removes the folder, unless it is to be kept. */
  void close(boolean keep) throws IOException {
    if (keep) {
      return;
    }
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path path : all.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(path);
      }
    }
  }
}
