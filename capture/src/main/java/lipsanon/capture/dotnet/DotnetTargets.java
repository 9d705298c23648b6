package lipsanon.capture.dotnet;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.Processes;
import lipsanon.capture.RuntimeInfo;

/** Finds the .NET processes of this machine, those in other mount namespaces included. */
public final class DotnetTargets {
  private static final Duration PATIENCE = Duration.ofSeconds(3);
  private static final String LIBRARY = "/libcoreclr.so";

  private DotnetTargets() {}

  /** All of them, by process id. */
  public static List<RuntimeInfo> list() throws IOException {
    List<RuntimeInfo> found = new ArrayList<>();
    for (Path process : Processes.all()) {
      RuntimeInfo info = look(Processes.pid(process));
      if (info != null) {
        found.add(info);
      }
    }
    return found;
  }

  /** A process by its number if it is a .NET one, else null. */
  public static RuntimeInfo look(long pid) {
    Path process = Path.of("/proc/" + pid);
    Path socket = socket(pid);
    // a program of one file has the runtime within it, and no library to know it by
    if (socket == null && !loads(process)) {
      return null;
    }
    List<String> command = Processes.command(process);
    String program = command.isEmpty() ? "?" : command.get(0);
    if (socket == null) {
      return info(pid, "", program, "no diagnostics port (switched off, or just starting)");
    }
    if (Processes.stopped(pid)) {
      return info(pid, "", program, RuntimeInfo.SILENT);
    }
    try {
      return described(pid, program, new DiagnosticPort(pid, socket));
    } catch (CaptureException e) {
      return info(pid, "", program, RuntimeInfo.SILENT);
    }
  }

  private static RuntimeInfo described(long pid, String program, DiagnosticPort port)
      throws CaptureException {
    ByteBuffer in;
    try {
      in =
          port.ask(
              DiagnosticPort.SET_PROCESS, DiagnosticPort.PROCESS_INFO_3, new byte[0], PATIENCE);
      in.getInt();
    } catch (DiagnosticPort.UnknownCommandException e) {
      in =
          port.ask(
              DiagnosticPort.SET_PROCESS, DiagnosticPort.PROCESS_INFO_2, new byte[0], PATIENCE);
    }
    in.position(in.position() + 24);
    DiagnosticPort.text(in);
    DiagnosticPort.text(in);
    String arch = DiagnosticPort.text(in);
    String assembly = DiagnosticPort.text(in);
    String version = DiagnosticPort.text(in);
    return info(
        pid,
        arch.isEmpty() ? version : version + " " + arch,
        assembly.isEmpty() ? program : assembly,
        "yes");
  }

  private static RuntimeInfo info(long pid, String version, String program, String access) {
    return new RuntimeInfo(
        Long.toString(pid),
        pid,
        RuntimeInfo.DOTNET,
        version,
        program,
        Processes.uptimeMillis(pid),
        -1,
        -1,
        access,
        "");
  }

  private static boolean loads(Path process) {
    try (Stream<String> lines = Files.lines(process.resolve("maps"), StandardCharsets.ISO_8859_1)) {
      return lines.anyMatch(line -> line.endsWith(LIBRARY));
    } catch (IOException | java.io.UncheckedIOException e) {
      return false;
    }
  }

  /**
   * The socket of a process, or null. Its name holds when the process was started: that of an
   * earlier process with the same number is not taken for it.
   */
  static Path socket(long pid) {
    Path process = Path.of("/proc/" + pid);
    long inner = Processes.innerPid(process, pid);
    long started = Processes.startTicks(process);
    String name = "dotnet-diagnostic-" + inner + "-" + started + "-socket";
    for (String folder : List.of(temporary(process), "/tmp")) {
      Path socket = process.resolve("root" + folder).resolve(name);
      try {
        // somebody else's socket under that name would hear all that is asked
        if (Files.exists(socket, LinkOption.NOFOLLOW_LINKS)
            && Files.getAttribute(socket, "unix:uid", LinkOption.NOFOLLOW_LINKS)
                .equals(Files.getAttribute(process, "unix:uid"))) {
          return socket;
        }
      } catch (IOException e) {
        continue;
      }
    }
    return null;
  }

  private static String temporary(Path process) {
    try {
      String all = Files.readString(process.resolve("environ"), StandardCharsets.ISO_8859_1);
      for (String variable : all.split("\0")) {
        if (variable.startsWith("TMPDIR=/")) {
          return variable.substring(7);
        }
      }
    } catch (IOException e) {
      return "/tmp";
    }
    return "/tmp";
  }
}
