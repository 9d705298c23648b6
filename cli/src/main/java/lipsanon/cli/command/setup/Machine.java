package lipsanon.cli.command.setup;

import java.io.BufferedReader;
import java.io.File;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.StandardProtocolFamily;
import java.net.UnixDomainSocketAddress;
import java.nio.channels.ServerSocketChannel;
import java.nio.file.FileStore;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.cli.settings.Settings;
import lipsanon.cli.term.Format;

/** Tries what commands need of a machine. */
final class Machine {
  private static final long LITTLE_MEMORY = 512L << 20;
  private static final long LITTLE_DISK = 2L << 30;
  private static final List<String> BROWSERS =
      List.of("chromium", "chromium-browser", "google-chrome", "google-chrome-stable");

  private final Map<String, String> environment;
  private final Path cache;
  private final List<Check> checks = new ArrayList<>();

  /**
   * Something that was tried.
   *
   * @param what in a few words
   * @param state {@code works}, {@code missing} (needed for a part only) or {@code broken}
   * @param found what was found
   * @param mend how to mend it, or ""
   */
  record Check(String what, String state, String found, String mend) {}

  Machine(Map<String, String> environment, Path cache) {
    this.environment = environment;
    this.cache = cache;
  }

  List<Check> check() {
    java();
    memory();
    sockets();
    permissions();
    folder("index cache", cache, "set XDG_CACHE_HOME to a folder of yours, or give --index-dir");
    folder(
        "configuration",
        Settings.userFolder(environment),
        "set XDG_CONFIG_HOME to a folder of yours");
    program("Node.js", List.of("node"), "capture of Node.js needs none; it is for tests of yours");
    program(
        ".NET",
        List.of("dotnet"),
        "capture of .NET needs none; programs bring their runtime along or have it installed");
    program(
        "browser",
        BROWSERS,
        "pages are captured from a browser started with --remote-debugging-port=9222");
    runtimes();
    return checks;
  }

  private void add(String what, boolean works, String found, String mend) {
    checks.add(new Check(what, works ? "works" : "broken", found, works ? "" : mend));
  }

  private void java() {
    boolean attach = ModuleLayer.boot().findModule("jdk.attach").isPresent();
    add(
        "Java",
        true,
        System.getProperty("java.version")
            + " ("
            + System.getProperty("java.vendor")
            + "), "
            + System.getProperty("java.home"),
        "");
    add(
        "attach",
        attach,
        attach ? "this Java can look into other JVMs" : "this Java has no module jdk.attach",
        "use a JDK, or the archive that brings its own runtime");
  }

  private void memory() {
    long max = Runtime.getRuntime().maxMemory();
    add(
        "memory",
        max >= LITTLE_MEMORY,
        "commands may use " + new Format(false).size(max),
        "give --memory 2g; less works, in scratch files and slower");
  }

  /** JVMs and .NET runtimes are talked to over sockets in the temporary folder. */
  private void sockets() {
    Path folder = null;
    try {
      folder = Files.createTempDirectory("lipsanon-ready-");
      Path socket = folder.resolve("s");
      try (ServerSocketChannel server = ServerSocketChannel.open(StandardProtocolFamily.UNIX)) {
        server.bind(UnixDomainSocketAddress.of(socket));
      }
      Files.deleteIfExists(socket);
      add("sockets", true, "Unix sockets work in " + folder.getParent(), "");
    } catch (IOException | UnsupportedOperationException e) {
      add(
          "sockets",
          false,
          "no Unix socket can be made in " + System.getProperty("java.io.tmpdir"),
          "JVMs and .NET processes cannot be captured; make the temporary folder writable");
    } finally {
      if (folder != null) {
        folder.toFile().delete();
      }
    }
  }

  private void permissions() {
    String user = System.getProperty("user.name");
    boolean root = user.equals("root");
    String scope = read(Path.of("/proc/sys/kernel/yama/ptrace_scope"));
    add(
        "permissions",
        true,
        root
            ? "you are root: processes of all users can be captured"
            : "you are "
                + user
                + ": your own processes can be captured, others' only as root"
                + (scope.isEmpty() || scope.equals("0") ? "" : " (ptrace is restricted)"),
        "");
  }

  private void folder(String what, Path folder, String mend) {
    Path there = folder;
    while (there != null && !Files.exists(there)) {
      there = there.getParent();
    }
    boolean writable = there != null && Files.isDirectory(there) && Files.isWritable(there);
    long free = -1;
    try {
      FileStore store = there == null ? null : Files.getFileStore(there);
      free = store == null ? -1 : store.getUsableSpace();
    } catch (IOException e) {
      // not known; nothing depends on it
    }
    boolean room = free < 0 || free >= LITTLE_DISK;
    add(
        what,
        writable && room,
        folder
            + (writable ? "" : " cannot be written")
            + (free < 0 ? "" : ", " + new Format(false).size(free) + " free"),
        writable ? "make room: an index takes about a third of its snapshot" : mend);
  }

  private void program(String what, List<String> names, String mend) {
    for (String name : names) {
      String path = onPath(name);
      if (path != null) {
        String version = version(path);
        checks.add(new Check(what, "works", path + (version.isEmpty() ? "" : ", " + version), ""));
        return;
      }
    }
    checks.add(new Check(what, "missing", "no " + names.get(0) + " on the path", mend));
  }

  private String onPath(String name) {
    for (String folder : environment.getOrDefault("PATH", "").split(File.pathSeparator)) {
      if (!folder.isEmpty() && Files.isExecutable(Path.of(folder, name))) {
        return Path.of(folder, name).toString();
      }
    }
    return null;
  }

  private static String version(String path) {
    try {
      Process process = new ProcessBuilder(path, "--version").redirectErrorStream(true).start();
      process.getOutputStream().close();
      try (BufferedReader out =
          new BufferedReader(new InputStreamReader(process.getInputStream()))) {
        String line = out.readLine();
        if (!process.waitFor(5, TimeUnit.SECONDS)) {
          process.destroyForcibly();
        }
        return line == null ? "" : line.strip();
      }
    } catch (IOException e) {
      return "";
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      return "";
    }
  }

  private void runtimes() {
    try {
      List<RuntimeInfo> found = Runtimes.list(null);
      long open = found.stream().filter(RuntimeInfo::accessible).count();
      List<String> closed =
          found.stream()
              .filter(one -> !one.accessible())
              .map(one -> one.kind() + " " + one.id() + ": " + one.access())
              .limit(3)
              .toList();
      add(
          "runtimes",
          true,
          found.size()
              + " run here, "
              + open
              + " can be captured as they are"
              + (closed.isEmpty() ? "" : "; not: " + String.join("; ", closed)),
          "");
    } catch (IOException e) {
      add("runtimes", false, "processes cannot be listed: " + e.getMessage(), "see permissions");
    }
  }

  private static String read(Path file) {
    try {
      return Files.isReadable(file) ? Files.readString(file).strip() : "";
    } catch (IOException e) {
      return "";
    }
  }
}
