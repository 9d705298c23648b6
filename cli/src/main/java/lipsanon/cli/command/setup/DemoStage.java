package lipsanon.cli.command.setup;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.ServerSocket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.cli.command.live.Action;
import lipsanon.cli.command.live.Actions;

/** A Port Merrow program that runs for the demo, with what is done to it. */
final class DemoStage implements AutoCloseable {
  private static final long PATIENCE_SECONDS = 60;
  private static final List<String> BROWSERS =
      List.of("chromium", "chromium-browser", "google-chrome", "google-chrome-stable");

  private static final List<String> PROGRAM = List.of("office.js", "board.html", "board.js");

  private final List<Process> processes = new ArrayList<>();
  private final Thread hook = new Thread(this::stop);
  private RuntimeInfo target;
  private Action action;
  private String command;

  private DemoStage() {
    Runtime.getRuntime().addShutdownHook(hook);
  }

  /** The programs that the demo has. */
  enum Kind {
    /** A service in a JVM. */
    JVM,
    /** A service in Node.js. */
    NODE,
    /** A page of that service, in a headless browser. */
    PAGE,
    /** A .NET service. */
    DOTNET
  }

  /**
   * Starts a program.
   *
   * @param fixed the variant that does not grow
   * @param folder for its files
   */
  static DemoStage start(Kind kind, boolean fixed, Path folder)
      throws IOException, InterruptedException {
    DemoStage stage = new DemoStage();
    try {
      switch (kind) {
        case JVM -> stage.jvm(fixed);
        case NODE -> stage.node(fixed, folder);
        case PAGE -> stage.page(fixed, folder);
        case DOTNET -> stage.dotnet(fixed, folder);
      }
      return stage;
    } catch (IOException | InterruptedException | RuntimeException e) {
      stage.close();
      throw e;
    }
  }

  RuntimeInfo target() {
    return target;
  }

  Action action() {
    return action;
  }

  /** What a user would type to rehearse the same. */
  String command() {
    return command;
  }

  private void jvm(boolean fixed) throws IOException {
    List<String> words = new ArrayList<>();
    words.add(Path.of(System.getProperty("java.home"), "bin/java").toString());
    words.addAll(
        List.of("-Xmx256m", "-XX:+UseSerialGC", "-cp", System.getProperty("java.class.path")));
    words.add("portmerrow.PortMerrow");
    String url = service(words, fixed) + "day";
    target = Runtimes.find(Long.toString(processes.get(0).pid()), null, false);
    action = Actions.get(url);
    command = "lipsanon rehearse PortMerrow --get " + url;
  }

  private void node(boolean fixed, Path folder) throws IOException {
    int port = freePort();
    String main = unpack(folder).toString();
    String url =
        service(List.of(program(List.of("node")), "--inspect=127.0.0.1:" + port, main), fixed);
    target = Runtimes.find(null, "127.0.0.1:" + port, false);
    action = Actions.get(url + "day");
    command = "lipsanon rehearse office.js --get " + url + "day";
  }

  /** Compiled where the sources are; the runtime is prepared once, in the user's cache. */
  private void dotnet(boolean fixed, Path folder) throws IOException, InterruptedException {
    Path tools = tools();
    String runtime = output(List.of(tools.resolve("dotnet").toString()));
    Path source = tools.resolveSibling("demo/src/main/dotnet/PortMerrow.cs");
    String program =
        output(
            List.of(
                tools.resolve("dotnet-build").toString(),
                "PortMerrow",
                folder.resolve("dotnet").toString(),
                source.toString()));
    String url = service(List.of("env", "DOTNET_ROOT=" + runtime, program), fixed) + "day";
    target = Runtimes.find(Long.toString(processes.get(0).pid()), null, false);
    action = Actions.get(url);
    command = "lipsanon rehearse " + target.id() + " --get " + url;
  }

  /** The folder of the scripts that prepare a .NET runtime, above the program's own classes. */
  private static Path tools() throws CaptureException {
    for (String entry : System.getProperty("java.class.path").split(java.io.File.pathSeparator)) {
      Path at = Path.of(entry).toAbsolutePath();
      for (Path folder = at.getParent(); folder != null; folder = folder.getParent()) {
        if (Files.isExecutable(folder.resolve("tools/dotnet-build"))) {
          return folder.resolve("tools");
        }
      }
    }
    throw new CaptureException(
        "the demo of .NET compiles its service, and runs from a checkout of the sources only");
  }

  /** The one line that a script prints. */
  private static String output(List<String> command) throws IOException, InterruptedException {
    Process process =
        new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.INHERIT).start();
    String line;
    try (BufferedReader out = process.inputReader(StandardCharsets.UTF_8)) {
      line = out.readLine();
    }
    if (process.waitFor() != 0 || line == null) {
      throw new CaptureException("the demo of .NET cannot be prepared: see the line above");
    }
    return line;
  }

  private void page(boolean fixed, Path folder) throws IOException, InterruptedException {
    String browser = program(BROWSERS);
    String url = service(List.of(program(List.of("node")), unpack(folder).toString()), false);
    int port = freePort();
    Path profile = Files.createDirectories(folder.resolve("browser"));
    List<String> words =
        List.of(
            browser,
            "--headless",
            "--no-sandbox",
            "--disable-gpu",
            "--disable-quic",
            "--no-first-run",
            "--disable-background-networking",
            "--disable-component-update",
            "--disable-sync",
            "--remote-debugging-port=" + port,
            "--user-data-dir=" + profile.toAbsolutePath(),
            url + (fixed ? "?fixed" : ""));
    processes.add(
        new ProcessBuilder(words)
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start());
    String at = "127.0.0.1:" + port;
    target = awaitPage(at);
    action = Actions.click(List.of("#arrive", "#leave"));
    command = "lipsanon rehearse --at " + at + " --click '#arrive' --click '#leave'";
  }

  /** Writes the Node.js service and its page into a folder; returns the service's main file. */
  private static Path unpack(Path folder) throws IOException {
    for (String name : PROGRAM) {
      // the demo's programs are on the class path, but nothing here is built against them
      try (InputStream in =
          DemoStage.class.getClassLoader().getResourceAsStream("portmerrow/" + name)) {
        Files.write(folder.resolve(name), in.readAllBytes());
      }
    }
    return folder.resolve(PROGRAM.get(0));
  }

  private static RuntimeInfo awaitPage(String at) throws IOException, InterruptedException {
    long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    while (true) {
      try {
        return Runtimes.find("http://127.0.0.1", at, false);
      } catch (CaptureException e) {
        if (System.nanoTime() > deadline) {
          throw e;
        }
        TimeUnit.MILLISECONDS.sleep(100);
      }
    }
  }

  /** Starts a service and returns its address, with a slash at the end. */
  private String service(List<String> words, boolean fixed) throws IOException {
    List<String> all = new ArrayList<>(words);
    if (fixed) {
      all.add("--fixed");
    }
    Process process =
        new ProcessBuilder(all).redirectError(ProcessBuilder.Redirect.DISCARD).start();
    processes.add(process);
    BufferedReader out =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    String line = out.readLine();
    if (line == null || !line.contains("http://")) {
      throw new CaptureException("the Port Merrow service did not start: " + line);
    }
    return line.substring(line.indexOf("http://")).trim();
  }

  private static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  /** The first of some programs that is installed. */
  private static String program(List<String> names) throws CaptureException {
    String path = System.getenv().getOrDefault("PATH", "");
    for (String name : names) {
      for (String folder : path.split(":")) {
        Path file = Path.of(folder, name);
        if (!folder.isEmpty() && Files.isExecutable(file)) {
          return file.toString();
        }
      }
    }
    throw new CaptureException(
        "this demo needs " + String.join(" or ", names) + ", and none is installed");
  }

  private void stop() {
    for (Process process : processes) {
      process.descendants().forEach(ProcessHandle::destroy);
      process.destroy();
    }
  }

  @Override
  public void close() {
    stop();
    try {
      Runtime.getRuntime().removeShutdownHook(hook);
    } catch (IllegalStateException e) {
      // going down already; the hook does the same
    }
  }
}
