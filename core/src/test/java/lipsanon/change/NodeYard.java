package lipsanon.change;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;

/** A Node.js process that does what it is told. */
public final class NodeYard implements AutoCloseable {
  private static final Path PROGRAMS = Path.of("src/test/resources/jsyard").toAbsolutePath();

  private final Process process;
  private final BufferedReader out;
  private final PrintWriter in;

  /** A program of the yard. */
  public NodeYard(String program) throws IOException {
    this("node", PROGRAMS, program);
  }

  /** The same, run by another Node.js than the machine's. */
  NodeYard(Path node, String program) throws IOException {
    this(node.toString(), PROGRAMS, program);
  }

  private NodeYard(String node, Path folder, String program) throws IOException {
    process =
        // a function that is being compiled on another thread is a root as long as that lasts, and
        // so is what it has looked at: on a busy machine in any snapshot
        new ProcessBuilder(
                node,
                "--expose-gc",
                "--no-concurrent-recompilation",
                folder.resolve("yard.js").toString(),
                program)
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    out =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    in = new PrintWriter(process.outputWriter(StandardCharsets.UTF_8), true);
    expect("ready");
  }

  /** A program that misuses real packages, which are installed beside a copy of it once. */
  static NodeYard withPackages(String program) throws IOException, InterruptedException {
    Path folder = Path.of("target/jsyard").toAbsolutePath();
    Path library = Files.createDirectories(folder.resolve("library"));
    copy(PROGRAMS, folder);
    copy(PROGRAMS.resolve("library"), library);
    if (!Files.exists(library.resolve("node_modules/.package-lock.json"))) {
      Process npm =
          new ProcessBuilder("npm", "ci", "--no-audit", "--no-fund", "--ignore-scripts")
              .directory(library.toFile())
              .redirectErrorStream(true)
              .redirectOutput(folder.resolve("npm.log").toFile())
              .start();
      if (npm.waitFor() != 0) {
        throw new IOException("npm ci failed: " + Files.readString(folder.resolve("npm.log")));
      }
    }
    return new NodeYard("node", folder, "library/" + program);
  }

  private static void copy(Path from, Path to) throws IOException {
    try (Stream<Path> files = Files.list(from)) {
      for (Path file : (Iterable<Path>) files::iterator) {
        if (Files.isRegularFile(file)) {
          Files.copy(file, to.resolve(file.getFileName()), StandardCopyOption.REPLACE_EXISTING);
        }
      }
    }
  }

  public void say(String line) throws IOException {
    in.println(line);
    expect("done");
  }

  /** What growth says of snapshots between rounds of actions, after a first such round. */
  GrowthAnswer grow(Path folder, int times, int rounds) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try {
      say("act " + times);
      for (int round = 0; round <= rounds; round++) {
        if (round > 0) {
          say("act " + times);
        }
        Path file = folder.resolve(round + ".heapsnapshot");
        say("dump " + file);
        series.add(
            Snapshots.open(
                file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
      }
      return GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, times));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }

  private void expect(String word) throws IOException {
    String line = out.readLine();
    if (!word.equals(line)) {
      throw new IOException("the program answered " + line + " in place of " + word);
    }
  }

  @Override
  public void close() {
    process.destroyForcibly();
  }
}
