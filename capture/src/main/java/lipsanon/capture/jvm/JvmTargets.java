package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;
import lipsanon.capture.Processes;
import lipsanon.capture.RuntimeInfo;

/** Finds the JVMs of this machine, those of other users and in other mount namespaces included. */
public final class JvmTargets {
  private static final String OWN_MAIN = "lipsanon.cli.Main";

  private JvmTargets() {}

  /** All JVMs but this one, by process id. */
  public static List<RuntimeInfo> list() throws IOException {
    List<RuntimeInfo> found = new ArrayList<>();
    for (Path process : Processes.all()) {
      RuntimeInfo info = look(process, Processes.pid(process));
      if (info != null) {
        found.add(info);
      }
    }
    found.sort(java.util.Comparator.comparingLong(RuntimeInfo::pid));
    return found;
  }

  /** A process by its number if it is a JVM, else null. */
  public static RuntimeInfo look(long pid) {
    return look(Path.of("/proc/" + pid), pid);
  }

  /** A process if it is a JVM, else null. */
  private static RuntimeInfo look(Path process, long pid) {
    List<String> command = Processes.command(process);
    if (command.isEmpty()) {
      return null;
    }
    if (command.contains(OWN_MAIN)) {
      // another call of this program is never what somebody looks for
      return null;
    }
    boolean readable = canRead(process.resolve("maps"));
    boolean java = Path.of(command.get(0)).endsWith("java");
    if (readable ? !loadsJvm(process) : !java) {
      return null;
    }
    if (!readable) {
      return new RuntimeInfo(
          Long.toString(pid),
          pid,
          RuntimeInfo.JVM,
          "",
          program(command),
          -1,
          -1,
          -1,
          "not accessible (another user's)",
          "");
    }
    PerfData data = perfData(process, pid);
    long begun = data.number("sun.rt.createVmBeginTime");
    String version = data.text("java.property.java.vm.version");
    String name = data.text("sun.rt.javaCommand");
    return new RuntimeInfo(
        Long.toString(pid),
        pid,
        RuntimeInfo.JVM,
        version,
        name.isEmpty() ? program(command) : name.split(" ", 2)[0],
        begun < 0 ? -1 : System.currentTimeMillis() - begun,
        data.heapUsed(),
        data.heapMax(),
        "yes",
        "");
  }

  /** The mode of such a file says that all may read it; whether one may, only opening it tells. */
  private static boolean canRead(Path file) {
    try (var in = Files.newInputStream(file)) {
      return in.read() >= 0;
    } catch (IOException e) {
      return false;
    }
  }

  private static boolean loadsJvm(Path process) {
    try (Stream<String> lines = Files.lines(process.resolve("maps"), StandardCharsets.ISO_8859_1)) {
      return lines.anyMatch(line -> line.endsWith("/libjvm.so"));
    } catch (IOException | java.io.UncheckedIOException e) {
      return false;
    }
  }

  /** The main class or jar of a command line, as far as options can be told from it. */
  private static String program(List<String> command) {
    for (int i = 1; i < command.size(); i++) {
      String word = command.get(i);
      if (word.equals("-cp")
          || word.equals("-classpath")
          || word.equals("--class-path")
          || word.equals("-p")
          || word.equals("--module-path")) {
        i++;
      } else if (!word.startsWith("-")) {
        return word;
      }
    }
    return String.join(" ", command);
  }

  /** The performance data as the process itself sees its /tmp; empty if it keeps none. */
  private static PerfData perfData(Path process, long pid) {
    try {
      return PerfData.read(perfDataFile(process, pid));
    } catch (IOException e) {
      return PerfData.EMPTY;
    }
  }

  /** Where a JVM keeps its performance data; a file that is empty if it keeps none. */
  static Path perfDataFile(Path process, long pid) {
    Path temporary = process.resolve("root/tmp");
    String inner = Long.toString(Processes.innerPid(process, pid));
    try (Stream<Path> folders = Files.list(temporary)) {
      for (Path folder : (Iterable<Path>) folders::iterator) {
        Path file = folder.resolve(inner);
        boolean fits = folder.getFileName().toString().startsWith("hsperfdata_");
        if (fits && Files.isReadable(file)) {
          return file;
        }
      }
    } catch (IOException | java.io.UncheckedIOException e) {
      return Path.of("/dev/null");
    }
    return Path.of("/dev/null");
  }
}
