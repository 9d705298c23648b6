package lipsanon.format.hprof;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;

/** A JVM that runs a test program until it is closed. */
public final class LiveJvm implements AutoCloseable {
  private final Path home;
  private final Process process;

  private LiveJvm(Path home, Process process) {
    this.home = home;
    this.process = process;
  }

  /** The JDK of this test run. */
  static Path current() {
    return Path.of(System.getProperty("java.home"));
  }

  /** A JDK of a version beside the current one, or null. */
  public static Path installed(int version) throws IOException {
    String named = System.getenv("LIPSANON_JDK_" + version);
    if (named != null) {
      return Path.of(named);
    }
    Path all = Path.of("/usr/lib/jvm");
    if (!Files.isDirectory(all)) {
      return null;
    }
    try (Stream<Path> homes = Files.list(all)) {
      return homes
          .filter(home -> home.getFileName().toString().matches(".*\\b" + version + "\\b.*"))
          .filter(home -> Files.isExecutable(home.resolve("bin/jcmd")))
          .findFirst()
          .orElse(null);
    }
  }

  static LiveJvm start(Path home, Class<?> main, String... options) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(home.resolve("bin/java").toString());
    command.addAll(List.of(options));
    command.addAll(List.of("-cp", System.getProperty("java.class.path"), main.getName()));
    Process process =
        new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    BufferedReader out =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    for (String line = out.readLine(); !"ready".equals(line); line = out.readLine()) {
      if (line == null) {
        process.destroyForcibly();
        throw new IOException("the JVM ended before it was ready: " + command);
      }
    }
    return new LiveJvm(home, process);
  }

  private List<String> command(String... words) throws IOException, InterruptedException {
    List<String> command = new ArrayList<>();
    command.add(home.resolve("bin/jcmd").toString());
    command.add(Long.toString(process.pid()));
    command.addAll(List.of(words));
    Process tool = new ProcessBuilder(command).redirectErrorStream(true).start();
    String output = new String(tool.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    if (tool.waitFor() != 0) {
      throw new IOException(command + ": " + output);
    }
    return output.lines().toList();
  }

  void collect() throws IOException, InterruptedException {
    command("GC.run");
    command("GC.run");
  }

  void dump(Path file, String... options) throws IOException, InterruptedException {
    List<String> words = new ArrayList<>(List.of("GC.heap_dump"));
    words.addAll(List.of(options));
    words.add(file.toString());
    command(words.toArray(String[]::new));
  }

  /** Instances and bytes by class, as the VM itself counts them. */
  Map<String, long[]> histogram() throws IOException, InterruptedException {
    Map<String, long[]> classes = new TreeMap<>();
    for (String line : command("GC.class_histogram")) {
      String[] words = line.trim().split("\\s+");
      if (words.length >= 4 && words[0].endsWith(":") && !words[0].equals("num")) {
        String name = JavaNames.of(words[3]).replaceAll("\\.(0x[0-9a-f]+)$", "+$1");
        long[] sums = classes.computeIfAbsent(name, key -> new long[2]);
        sums[0] += Long.parseLong(words[1]);
        sums[1] += Long.parseLong(words[2]);
      }
    }
    return classes;
  }

  @Override
  public void close() {
    process.destroyForcibly();
  }
}
