package lipsanon.fleet;

import java.io.ByteArrayOutputStream;
import java.io.File;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;

/**
 * Looks at one snapshot in a process of its own, and takes its rows. Whatever happens to that
 * process, there are rows: at worst one that says that it failed.
 */
public final class ChildTask {
  /** What only the rows of a snapshot that failed have in them: quotes in texts are escaped. */
  public static final String FAILED_MARK = "\"status\":\"failed\"";

  /** An answer of a task is a few hundred rows: more than this is none. */
  private static final int MOST_BYTES = 64 << 20;

  private static final int KILLED = 128;

  /** Characters of what is said of a snapshot that failed. */
  private static final int LONGEST_PROBLEM = 400;

  /** For a short life: the quick compiler alone, called early (measured: a twelfth less). */
  public static final List<String> SHORT_LIFE =
      List.of(
          "-XX:+UseSerialGC",
          "-XX:TieredStopAtLevel=1",
          "-XX:Tier3BackEdgeThreshold=5000",
          "-XX:Tier3InvocationThreshold=200",
          "-XX:Tier3MinInvocationThreshold=100",
          "-XX:Tier3CompileThreshold=1000",
          "-XX:ValueMapMaxLoopSize=128",
          "-XX:C1MaxInlineSize=45");

  /** What every task is started with besides. */
  private static final List<String> ALWAYS =
      List.of(
          "-XX:+IgnoreUnrecognizedVMOptions",
          // an archive that does not fit is passed over without a word on standard output
          "-Xlog:disable",
          "-Xlog:all=error:stderr",
          "-Xshare:auto",
          "-Dfile.encoding=UTF-8");

  private final List<Path> classPath;
  private final long memoryBytes;
  private final byte[] hidingKey;
  private final List<String> mine;
  private final long timeoutMillis;
  private final ClassArchive classes;

  /**
   * How tasks are run.
   *
   * @param classPath the archives of the core, of this module and of the JSON library
   * @param memoryBytes that one task may use
   * @param hidingKey 16 bytes: what of contents would be told is a hash with this key
   * @param mine own packages, none: found by the runtime's own signs
   * @param timeoutMillis after which a task is ended
   */
  public ChildTask(
      List<Path> classPath,
      long memoryBytes,
      byte[] hidingKey,
      List<String> mine,
      long timeoutMillis) {
    this.classPath = List.copyOf(classPath);
    this.memoryBytes = memoryBytes;
    this.hidingKey = hidingKey.clone();
    this.mine = List.copyOf(mine);
    this.timeoutMillis = timeoutMillis;
    this.classes = ClassArchive.NONE;
  }

  private ChildTask(ChildTask like, ClassArchive classes) {
    this.classPath = like.classPath;
    this.memoryBytes = like.memoryBytes;
    this.hidingKey = like.hidingKey;
    this.mine = like.mine;
    this.timeoutMillis = like.timeoutMillis;
    this.classes = classes;
  }

  /**
   * The same, where the first process leaves its classes in a folder and later ones start sooner.
   *
   * @param folder nobody else may write to it; who made it removes what is left there
   */
  public ChildTask preparedIn(Path folder) {
    return new ChildTask(this, ClassArchive.in(folder, classPath));
  }

  /** The archives that this program runs from: what a task on this machine needs. */
  public static List<Path> ownClassPath() {
    return Stream.of(
            ChildTask.class,
            lipsanon.snapshot.Snapshots.class,
            com.fasterxml.jackson.core.JsonFactory.class)
        .map(ChildTask::archive)
        .toList();
  }

  private static Path archive(Class<?> of) {
    try {
      return Path.of(of.getProtectionDomain().getCodeSource().getLocation().toURI());
    } catch (java.net.URISyntaxException e) {
      throw new IllegalStateException(e);
    }
  }

  /**
   * Runs.
   *
   * @param item what is told of the snapshot
   * @param file where it lies on this machine
   * @param work a folder for what the task leaves meanwhile; it is empty again afterwards
   * @return rows as JSON Lines
   */
  public byte[] run(Item item, Path file, Path work) throws IOException, InterruptedException {
    Path scratch = Files.createTempDirectory(work, "task-");
    try {
      return run(item, file, scratch, memoryBytes);
    } finally {
      delete(scratch);
    }
  }

  private byte[] run(Item item, Path file, Path scratch, long memory)
      throws IOException, InterruptedException {
    Path said = scratch.resolve("said");
    Path rows = scratch.resolve("rows");
    ClassArchive.Use use = classes.begin();
    boolean well = false;
    Process process =
        new ProcessBuilder(command(memory, use.flags()))
            .redirectOutput(rows.toFile())
            .redirectError(said.toFile())
            .start();
    try {
      try (OutputStream to = process.getOutputStream()) {
        Path index = Files.createDirectory(scratch.resolve("index"));
        new Job(item, file.toString(), index.toString(), memory, hidingKey, mine).write(to);
      } catch (IOException e) {
        // it ended before it read: its code tells
        process.waitFor();
      }
      if (!process.waitFor(timeoutMillis, TimeUnit.MILLISECONDS)) {
        return failed(item, "took longer than " + timeoutMillis / 1000 + " s");
      }
      well = process.exitValue() == 0;
    } finally {
      process.destroyForcibly().waitFor();
      use.ended(well);
    }
    if (well && Files.size(rows) <= MOST_BYTES) {
      return Files.readAllBytes(rows);
    }
    return failed(item, problem(process.exitValue(), said));
  }

  private List<String> command(long memory, List<String> classes) {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.add("-Xmx" + (memory >> 20) + "m");
    command.addAll(ALWAYS);
    command.addAll(SHORT_LIFE);
    command.addAll(classes);
    command.add("-cp");
    command.add(String.join(File.pathSeparator, classPath.stream().map(Path::toString).toList()));
    command.add(TaskMain.class.getName());
    return command;
  }

  private static String problem(int code, Path said) throws IOException {
    List<String> lines;
    try (Stream<String> all = Files.lines(said, StandardCharsets.ISO_8859_1)) {
      lines = all.limit(50).filter(line -> !line.isBlank()).toList();
    }
    if (code == TaskMain.BAD_INPUT && !lines.isEmpty()) {
      return lines.get(lines.size() - 1);
    }
    if (lines.stream().anyMatch(line -> line.contains("OutOfMemoryError"))) {
      return "needs more memory than the task was given";
    }
    return code > KILLED
        ? "its process was killed (signal " + (code - KILLED) + ")"
        : "its process ended with code " + code + (lines.isEmpty() ? "" : ": " + lines.get(0));
  }

  /** The rows of a snapshot that failed. */
  public static byte[] failed(Item item, String problem) throws IOException {
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    try (Rows rows = new Rows(out, item)) {
      rows.failed(sentence(problem));
    }
    return out.toByteArray();
  }

  /** The first line of a message: some services send what they were doing along with it. */
  private static String sentence(String problem) {
    String first = problem.lines().filter(line -> !line.isBlank()).findFirst().orElse("").strip();
    return first.length() <= LONGEST_PROBLEM
        ? first
        : first.substring(0, LONGEST_PROBLEM - 1) + "\u2026";
  }

  /** Whether rows are those of a snapshot that failed. */
  static boolean isFailed(byte[] rows) {
    return new String(rows, StandardCharsets.UTF_8).contains(FAILED_MARK);
  }

  /** Removes a folder with all that is in it. */
  public static void delete(Path folder) throws IOException {
    try (Stream<Path> files = Files.walk(folder)) {
      for (Path file : files.sorted(Comparator.reverseOrder()).toList()) {
        Files.deleteIfExists(file);
      }
    }
  }
}
