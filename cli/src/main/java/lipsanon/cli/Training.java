package lipsanon.cli;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Runs the common commands once on dumps of its own heap and on a tiny snapshot of the other kind,
 * while the JVM notes which classes they load. The build does this, so that commands start faster.
 *
 * <p>Only the quick compiler may be at work: where the optimising one gives up a method, that is
 * noted in the archive, and all later processes interpret it (measured: indexing took twice as
 * long).
 */
final class Training {
  /** A root that refers to an object, and that to a text. */
  private static final String SCRIPT_HEAP =
      """
      {"snapshot":{"meta":{
      "node_fields":["type","name","id","self_size","edge_count"],
      "node_types":[["hidden","array","string","object","code","closure","regexp","number",
      "native","synthetic"],"string","number","number","number"],
      "edge_fields":["type","name_or_index","to_node"],
      "edge_types":[["context","element","property","internal","hidden","shortcut","weak"],
      "string_or_number","node"]},"node_count":4,"edge_count":3},
      "nodes":[9,0,1,0,1,9,1,3,0,1,3,2,5,24,1,2,4,7,16,0],
      "edges":[1,1,5,2,3,10,2,5,15],
      "strings":["","(GC roots)","Berth","berth","quay","name"]}
      """;

  private static final HotSpotDiagnosticMXBean VM =
      ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class);

  private final Path folder;
  private final List<String> dumps = new ArrayList<>();

  private Training(Path folder) {
    this.folder = folder;
  }

  /** Runs and exits; what the commands say goes nowhere. */
  public static void main(String[] args) throws IOException {
    if (!"1".equals(VM.getVMOption("TieredStopAtLevel").getValue())) {
      System.err.println("training needs -XX:TieredStopAtLevel=1");
      System.exit(ExitCodes.USAGE);
    }
    Path folder = Files.createTempDirectory("lipsanon-training-");
    try {
      new Training(folder).run();
    } finally {
      try (Stream<Path> files = Files.walk(folder)) {
        for (Path path : files.sorted(Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }

  private void run() throws IOException {
    for (int i = 0; i < 3; i++) {
      dumps.add(folder.resolve(i + ".hprof").toString());
      VM.dumpHeap(dumps.get(i), true);
    }
    for (String[] command : questions(dumps.get(0))) {
      run(command);
    }
    for (String[] command : comparisons()) {
      run(command);
    }
    Path script = folder.resolve("page.heapsnapshot");
    Files.writeString(script, SCRIPT_HEAP);
    run("survey", script.toString());
    run("why", script.toString(), "Berth");
  }

  private static List<String[]> questions(String file) {
    run("index", file);
    Matcher id = Pattern.compile("0x[0-9a-f]+").matcher(run("keepers", file, "--json"));
    String first = id.find() ? id.group() : "0x0";
    return List.of(
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
        new String[] {"types", file, "--csv"},
        new String[] {"savings", file});
  }

  private List<String[]> comparisons() {
    String[] growth = {"growth", dumps.get(0), dumps.get(1), dumps.get(2), "--actions", "1"};
    String[] prove = {
      "prove",
      dumps.get(0),
      dumps.get(1),
      dumps.get(2),
      "--against",
      dumps.get(0),
      dumps.get(1),
      dumps.get(2),
      "--actions",
      "1"
    };
    return List.of(new String[] {"diff", dumps.get(0), dumps.get(2)}, growth, prove);
  }

  private static String run(String... command) {
    StringWriter out = new StringWriter();
    PrintWriter nowhere = new PrintWriter(new StringWriter());
    Main.run(new PrintWriter(out), nowhere, Map.of("LIPSANON_OUT_TERMINAL", "1"), command);
    return out.toString();
  }
}
