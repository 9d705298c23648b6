package lipsanon.cli.command.live;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermission;
import java.util.Set;
import lipsanon.capture.CaptureException;
import lipsanon.capture.HeapMeter;
import lipsanon.capture.LiveRuntime;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import lipsanon.capture.jvm.JmxLogin;
import lipsanon.capture.jvm.JmxRuntime;
import lipsanon.cli.UsageException;
import lipsanon.cli.watch.Connections;
import picocli.CommandLine.Option;

/** How a live runtime is found, besides by its name. */
final class TargetOptions {
  private static final String PASSWORD = "LIPSANON_JMX_PASSWORD";

  @Option(
      names = "--at",
      paramLabel = "HOST:PORT",
      description = "Look behind this debugging port: a browser's pages and workers, or Node.js.")
  private String at;

  @Option(
      names = "--open",
      description =
          "Make a Node.js process open its inspector (SIGUSR1): a debug port on the loopback,"
              + " which is closed again afterwards.")
  private boolean open;

  @Option(
      names = "--jmx",
      paramLabel = "HOST:PORT",
      description = "A JVM elsewhere, by its management port (JMX).")
  private String jmx;

  @Option(names = "--user", paramLabel = "NAME", description = "With --jmx: its user.")
  private String user = "";

  @Option(
      names = "--password-file",
      paramLabel = "FILE",
      description =
          "With --user: a file with the password, which only you may read (else the variable "
              + PASSWORD
              + ", else the prompt).")
  private Path passwordFile;

  @Option(
      names = "--tls",
      description = "With --jmx: the registry behind the port speaks TLS as well.")
  private boolean tls;

  private JmxLogin login;

  RuntimeInfo find(String target) throws IOException {
    if (jmx != null) {
      if (target != null || at != null) {
        throw new UsageException("--jmx names the target: leave out TARGET and --at");
      }
      try {
        login = JmxLogin.of(jmx, user, user.isEmpty() ? "" : password(), tls);
      } catch (IllegalArgumentException e) {
        throw new UsageException("--jmx: " + e.getMessage());
      }
      try (JmxRuntime runtime = JmxRuntime.connect(login)) {
        return runtime.info();
      }
    }
    if (target == null && at == null) {
      throw new UsageException("give a TARGET: a process id or a part of the command line");
    }
    return Runtimes.find(target, at, open);
  }

  private String password() throws IOException {
    if (passwordFile != null) {
      return fromFile();
    }
    String given = System.getenv(PASSWORD);
    if (given != null) {
      return given;
    }
    char[] typed =
        System.console() == null ? null : System.console().readPassword("Password of %s: ", user);
    if (typed == null) {
      throw new UsageException(
          "no password: set " + PASSWORD + ", give --password-file, or run it in a terminal");
    }
    return new String(typed);
  }

  private String fromFile() throws IOException {
    if (!Files.isRegularFile(passwordFile)) {
      throw new UsageException("--password-file: " + passwordFile + " is no file");
    }
    Set<PosixFilePermission> permissions = Files.getPosixFilePermissions(passwordFile);
    permissions.removeAll(Set.of(PosixFilePermission.OWNER_READ, PosixFilePermission.OWNER_WRITE));
    if (!permissions.isEmpty()) {
      throw new UsageException(
          passwordFile + " can be read by others; first: chmod 600 " + passwordFile);
    }
    return Files.readString(passwordFile).strip();
  }

  /** The debugging port, or null. */
  String at() {
    return at;
  }

  /** What has to be given again, with a space before it, to find the same target; or "". */
  String again() {
    return jmx != null
        ? " --jmx " + jmx + (user.isEmpty() ? "" : " --user " + user) + (tls ? " --tls" : "")
        : at == null ? "" : " --at " + at;
  }

  /** Whether the target is on another machine, with files of its own. */
  boolean remote() {
    return login != null;
  }

  /** Connects to what was found. */
  LiveRuntime connect(RuntimeInfo info) throws CaptureException {
    return remote() ? JmxRuntime.connect(login) : Connections.to(info);
  }

  /** Connects in order to look at the heap again and again. */
  HeapMeter meter(RuntimeInfo info) throws CaptureException {
    return remote() ? JmxRuntime.connect(login) : Connections.meter(info);
  }
}
