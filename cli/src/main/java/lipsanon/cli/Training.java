package lipsanon.cli;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Comparator;
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
    String before = dump("before.hprof");
    String between = dump("between.hprof");
    String after = dump("after.hprof");
    questions(before);
    run("diff", before, after);
    run("growth", before, between, after, "--actions", "1");
    run("prove", before, between, after, "--against", before, between, after, "--actions", "1");
    Path script = folder.resolve("page.heapsnapshot");
    Files.writeString(script, SCRIPT_HEAP);
    run("survey", script.toString());
    run("why", script.toString(), "Berth");
  }

  private String dump(String name) throws IOException {
    String file = folder.resolve(name).toString();
    VM.dumpHeap(file, true);
    return file;
  }

  private static void questions(String file) {
    run("index", file);
    Matcher id = Pattern.compile("0x[0-9a-f]+").matcher(run("keepers", file, "--json"));
    String first = id.find() ? id.group() : "0x0";
    run("survey", file);
    run("types", file);
    run("keepers", file, "--under", first);
    run("show", file, first);
    run("why", file, first);
    run("why", file, "java.lang.String");
    run("sift", file, "java.lang.String and retained > 1kB");
    run("refs", file, "java.util.HashMap");
    run("keepers", file, "java.util.HashMap");
    run("types", file, "--by", "kind");
    run("types", file, "--csv");
    run("savings", file);
  }

  private static String run(String... command) {
    StringWriter out = new StringWriter();
    PrintWriter nowhere = new PrintWriter(new StringWriter());
    Main.run(new PrintWriter(out), nowhere, Map.of("LIPSANON_OUT_TERMINAL", "1"), command);
    return out.toString();
  }
}
