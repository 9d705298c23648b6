package lipsanon.cli;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Runs the common commands once on a dump of its own heap, while the JVM notes which classes they
 * load. The build does this, so that commands start faster.
 */
final class Training {
  private Training() {}

  /** Runs and exits; what the commands say goes nowhere. */
  public static void main(String[] args) throws IOException {
    Path folder = Files.createTempDirectory("lipsanon-training-");
    try {
      String file = folder.resolve("own.hprof").toString();
      ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class).dumpHeap(file, true);
      String keepers = run("keepers", file, "--json");
      Matcher id = Pattern.compile("0x[0-9a-f]+").matcher(keepers);
      String first = id.find() ? id.group() : "0x0";
      List<String[]> commands =
          List.of(
              new String[] {"survey", file},
              new String[] {"types", file},
              new String[] {"keepers", file, "--under", first},
              new String[] {"show", file, first},
              new String[] {"why", file, first},
              new String[] {"why", file, "java.lang.String"},
              new String[] {"sift", file, "java.lang.String and retained > 1kB"},
              new String[] {"refs", file, "java.util.HashMap"},
              new String[] {"keepers", file, "java.util.HashMap"},
              new String[] {"types", file, "--by", "kind"},
              new String[] {"types", file, "--csv"});
      for (String[] command : commands) {
        run(command);
      }
    } finally {
      try (Stream<Path> files = Files.walk(folder)) {
        for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }

  private static String run(String... command) {
    StringWriter out = new StringWriter();
    PrintWriter nowhere = new PrintWriter(new StringWriter());
    Main.run(new PrintWriter(out), nowhere, Map.of("LIPSANON_OUT_TERMINAL", "1"), command);
    return out.toString();
  }
}
