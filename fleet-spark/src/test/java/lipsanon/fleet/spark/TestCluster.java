package lipsanon.fleet.spark;

import java.io.Closeable;
import java.io.File;
import java.io.IOException;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import org.apache.spark.launcher.JavaModuleOptions;

/** A real cluster on the loopback: a master and workers of two cores, each a process. */
final class TestCluster implements Closeable {
  /** For a process of a short life on a machine that others share. */
  static final String QUICK = "-XX:TieredStopAtLevel=1 -XX:+UseSerialGC";

  private static final Duration START = Duration.ofMinutes(2);

  private final Path folder;
  private final Path home = Path.of("target", "engine").toAbsolutePath();
  private final int port;
  private final List<Process> processes = new ArrayList<>();
  private final List<Process> workers = new ArrayList<>();

  TestCluster(Path folder, int workers) throws IOException, InterruptedException {
    this.folder = Files.createDirectories(folder);
    this.port = freePort();
    start(
        "master",
        "org.apache.spark.deploy.master.Master",
        "--host",
        "127.0.0.1",
        "--port",
        Integer.toString(port),
        "--webui-port",
        "0");
    await("master", "I have been elected leader", 1);
    for (int i = 0; i < workers; i++) {
      this.workers.add(
          start(
              "worker-" + i,
              "org.apache.spark.deploy.worker.Worker",
              "--host",
              "127.0.0.1",
              "--cores",
              "2",
              "--memory",
              "1500m",
              "--webui-port",
              "0",
              "--work-dir",
              folder.resolve("work-" + i).toString(),
              address()));
    }
    for (int i = 0; i < workers; i++) {
      await("worker-" + i, "Successfully registered with master", 1);
    }
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  private Process start(String name, String main, String... arguments) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin", "java").toString());
    command.addAll(List.of(JavaModuleOptions.defaultModuleOptions().split(" ")));
    command.addAll(List.of(QUICK.split(" ")));
    command.addAll(List.of("-Xmx256m", "-cp", home.resolve("jars") + File.separator + "*", main));
    command.addAll(List.of(arguments));
    ProcessBuilder builder = new ProcessBuilder(command);
    builder.environment().put("SPARK_HOME", home.toString());
    builder.environment().put("SPARK_SCALA_VERSION", "2.13");
    builder.environment().put("SPARK_LOCAL_IP", "127.0.0.1");
    Process process = builder.redirectErrorStream(true).redirectOutput(log(name).toFile()).start();
    processes.add(process);
    return process;
  }

  private Path log(String name) {
    return folder.resolve(name + ".log");
  }

  /** Waits until a process has said something so many times. */
  private void await(String name, String text, int times) throws IOException, InterruptedException {
    Instant end = Instant.now().plus(START);
    while (said(name, text) < times) {
      if (Instant.now().isAfter(end)) {
        throw new IOException(name + " did not come up: " + Files.readString(log(name)));
      }
      Thread.sleep(50);
    }
  }

  long said(String name, String text) throws IOException {
    try (Stream<String> lines =
        Files.lines(log(name), java.nio.charset.StandardCharsets.ISO_8859_1)) {
      return lines.filter(line -> line.contains(text)).count();
    }
  }

  Path home() {
    return home;
  }

  String address() {
    return "spark://127.0.0.1:" + port;
  }

  /** Ends a worker and what it runs, at once and without a word. */
  void kill(int worker) {
    workers.get(worker).descendants().forEach(ProcessHandle::destroyForcibly);
    workers.get(worker).destroyForcibly();
  }

  @Override
  public void close() {
    for (Process process : processes) {
      process.descendants().forEach(ProcessHandle::destroyForcibly);
      process.destroyForcibly();
    }
  }
}
