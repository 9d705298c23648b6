package lipsanon.fleet;

import java.io.BufferedReader;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Hands a fleet's tasks to a Spark cluster. The engine is the user's own: its programs are taken
 * from its home, only the job's archive and those that tasks need are handed over.
 *
 * @param home where the engine is unpacked: it has {@code bin} or at least {@code jars}
 * @param address of the cluster, for example {@code spark://host:7077}
 * @param job the job's archive
 * @param settings of the engine, {@code key=value}
 */
public record Cluster(Path home, String address, Path job, List<String> settings) {
  private static final String JOB = "lipsanon.fleet.spark.FleetJob";
  private static final Pattern TOLD =
      Pattern.compile("lipsanon-fleet: done (\\d+) failed (\\d+) before (\\d+)");
  private static final Pattern FAILED = Pattern.compile("lipsanon-fleet: failed (\\S.*)");
  private static final String COPY_JOB = "lipsanon.fleet.spark.CopyJob";
  private static final Pattern COPIED =
      Pattern.compile("lipsanon-fleet: copied (\\d+) of (\\d+) files");
  private static final Pattern LOOPBACK = Pattern.compile(".*://(127\\.[0-9.]+|localhost)[:/].*");

  /**
   * Runs, and waits for the end.
   *
   * @param plan what is to be done
   * @param work a folder for the plan
   * @param hears each line that the engine says
   * @throws IOException if the cluster refuses, or the job ends with an error
   */
  public LocalFleet.Result run(Plan plan, Path work, Consumer<String> hears)
      throws IOException, InterruptedException {
    Path file = work.resolve("plan.jsonl");
    plan.write(file);
    List<Path> archives = archives(work);
    List<String> submit = options(address, JOB, archives);
    submit.addAll(List.of("--files", joined(archives), job.toString(), file.toString()));
    archives.forEach(archive -> submit.add(archive.getFileName().toString()));
    Matcher told = submit(submit, hears, TOLD, "the job on " + address);
    return new LocalFleet.Result(number(told, 1), number(told, 2), number(told, 3));
  }

  /**
   * What a line that the engine says tells of a snapshot that failed: its file and why. A run tells
   * some of them.
   */
  public static Optional<String> failure(String line) {
    Matcher failed = FAILED.matcher(line);
    return failed.matches() ? Optional.of(failed.group(1)) : Optional.empty();
  }

  /**
   * Copies tables from an address that the engine's file systems open; only what is new. No cluster
   * is needed for that.
   *
   * @param tables their address
   * @param folder where they go, on this machine
   * @param work a folder for what is handed over
   * @param hears each line that the engine says
   * @return how many files were copied
   * @throws IOException if there are no tables, or the job ends with another error
   */
  public int copy(String tables, Path folder, Path work, Consumer<String> hears)
      throws IOException, InterruptedException {
    List<String> submit = options("local[1]", COPY_JOB, archives(work));
    submit.addAll(List.of("--conf", "spark.driver.host=127.0.0.1", job.toString(), tables));
    submit.add(folder.toAbsolutePath().normalize().toString());
    return number(submit(submit, hears, COPIED, "copying the tables"), 1);
  }

  private List<String> options(String master, String mainClass, List<Path> archives) {
    List<String> options = new ArrayList<>();
    options.addAll(List.of("--master", master, "--class", mainClass, "--jars", joined(archives)));
    for (String setting : settings) {
      options.addAll(List.of("--conf", setting));
    }
    if (LOOPBACK.matcher(master).matches()) {
      options.addAll(List.of("--conf", "spark.driver.host=127.0.0.1"));
    }
    return options;
  }

  private static String joined(List<Path> archives) {
    return String.join(",", archives.stream().map(Path::toString).toList());
  }

  /** Submits, waits, and finds what the job tells last. */
  private Matcher submit(List<String> submit, Consumer<String> hears, Pattern wanted, String what)
      throws IOException, InterruptedException {
    List<String> lines = new ArrayList<>();
    int code =
        run(
            submitter(submit),
            line -> {
              hears.accept(line);
              lines.add(line);
              if (lines.size() > 400) {
                lines.remove(0);
              }
            });
    for (int i = lines.size() - 1; i >= 0 && code == 0; i--) {
      Matcher told = wanted.matcher(lines.get(i));
      if (told.find()) {
        return told;
      }
    }
    throw new IOException(what + " ended with code " + code + problem(lines) + settingsHint());
  }

  private static int number(Matcher told, int group) {
    return Integer.parseInt(told.group(group));
  }

  private String settingsHint() {
    return settings.isEmpty() ? " (settings of the engine: --spark-conf KEY=VALUE)" : "";
  }

  private static String problem(List<String> lines) {
    if (lines.stream().anyMatch(line -> line.contains("All masters are unresponsive"))) {
      return ": no master answers there";
    }
    String last = "";
    for (String line : lines) {
      if (line.contains("Exception") && !line.startsWith("\tat")) {
        // the sentence, without whence it came
        last = line.strip().replaceFirst("^Exception in thread \"[^\"]*\" ", "");
        last = last.replaceFirst("^Caused by: ", "");
        // a service's own exception stands in brackets
        last = last.replaceFirst("^([a-z0-9]+\\.)+[A-Za-z0-9]+Exception(\\([^)]*\\))?: ", "");
      }
    }
    return last.isEmpty() ? "" : ": " + last;
  }

  /** Archives to hand over; classes that lie in folders, as while testing, are packed first. */
  private static List<Path> archives(Path work) throws IOException {
    List<Path> archives = new ArrayList<>();
    for (Path path : ChildTask.ownClassPath()) {
      archives.add(Files.isDirectory(path) ? packed(path, work) : path);
    }
    return archives;
  }

  static Path packed(Path folder, Path work) throws IOException {
    String name = folder.getParent().getParent().getFileName().toString();
    Path archive = work.resolve("lipsanon-" + name + ".jar");
    try (java.util.zip.ZipOutputStream zip =
            new java.util.zip.ZipOutputStream(Files.newOutputStream(archive));
        Stream<Path> files = Files.walk(folder)) {
      for (Path file : files.filter(Files::isRegularFile).sorted().toList()) {
        String entry = folder.relativize(file).toString().replace('\\', '/');
        zip.putNextEntry(new java.util.zip.ZipEntry(entry));
        Files.copy(file, zip);
        zip.closeEntry();
      }
    }
    return archive;
  }

  /**
   * The command that submits: the engine's script, or what its launcher says where there is none.
   */
  private List<String> submitter(List<String> arguments) throws IOException, InterruptedException {
    Path script = home.resolve("bin").resolve("spark-submit");
    List<String> command = new ArrayList<>();
    if (Files.isExecutable(script)) {
      command.add(script.toString());
      command.addAll(arguments);
      return command;
    }
    if (!Files.isDirectory(home.resolve("jars"))) {
      throw new IOException(
          home + ": is no home of Spark, it has neither bin/spark-submit nor jars");
    }
    command.addAll(
        List.of(
            java(),
            "-cp",
            home.resolve("jars") + "/*",
            "org.apache.spark.launcher.Main",
            "org.apache.spark.deploy.SparkSubmit"));
    command.addAll(arguments);
    Process process = process(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    String said = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    // a zero byte and a line end, then each word with a zero byte behind it
    int from = said.indexOf("\0\n");
    if (process.waitFor() != 0 || from < 0) {
      throw new IOException(home + ": its launcher did not say how to submit a job");
    }
    return List.of(said.substring(from + 2).split("\0"));
  }

  private static String java() {
    return Path.of(System.getProperty("java.home"), "bin", "java").toString();
  }

  private ProcessBuilder process(List<String> command) {
    ProcessBuilder builder = new ProcessBuilder(command);
    Map<String, String> environment = builder.environment();
    environment.put("SPARK_HOME", home.toString());
    environment.putIfAbsent("SPARK_SCALA_VERSION", "2.13");
    environment.putIfAbsent("JAVA_HOME", System.getProperty("java.home"));
    return builder;
  }

  private int run(List<String> command, Consumer<String> hears)
      throws IOException, InterruptedException {
    Process process = process(command).redirectErrorStream(true).start();
    process.getOutputStream().close();
    try (BufferedReader reader = process.inputReader(StandardCharsets.UTF_8)) {
      String line;
      while ((line = reader.readLine()) != null) {
        hears.accept(line);
      }
      return process.waitFor();
    } finally {
      process.destroy();
    }
  }
}
