package lipsanon.capture;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.stream.Stream;

/** Processes of this machine, as /proc shows them. */
public final class Processes {
  private static final Path PROC = Path.of("/proc");

  private Processes() {}

  /** The folders of all processes but this one. */
  public static List<Path> all() throws IOException {
    List<Path> found = new ArrayList<>();
    String self = Long.toString(ProcessHandle.current().pid());
    try (Stream<Path> processes = Files.list(PROC)) {
      for (Path process : (Iterable<Path>) processes::iterator) {
        String name = process.getFileName().toString();
        if (name.chars().allMatch(Character::isDigit) && !name.equals(self)) {
          found.add(process);
        }
      }
    }
    return found;
  }

  /** The process id of a folder. */
  public static long pid(Path process) {
    return Long.parseLong(process.getFileName().toString());
  }

  /** The words of a command line; empty for what has none. */
  public static List<String> command(Path process) {
    return words(process.resolve("cmdline"));
  }

  /** The variables of a process as NAME=VALUE; empty if they may not be read. */
  public static List<String> environment(Path process) {
    return words(process.resolve("environ"));
  }

  /**
   * Sends a signal.
   *
   * @param name without SIG
   * @return 0 if it was sent
   */
  public static int signal(long pid, String name) throws IOException, InterruptedException {
    return new ProcessBuilder("kill", "-" + name, Long.toString(pid))
        .redirectErrorStream(true)
        .redirectOutput(ProcessBuilder.Redirect.DISCARD)
        .start()
        .waitFor();
  }

  /** Whether a process is stopped by a signal or a debugger. */
  public static boolean stopped(long pid) {
    try {
      String stat = Files.readString(PROC.resolve(pid + "/stat"), StandardCharsets.ISO_8859_1);
      // the program's name stands in brackets and may hold anything
      String state = stat.substring(stat.lastIndexOf(')') + 1).trim();
      return state.startsWith("T") || state.startsWith("t");
    } catch (IOException e) {
      return false;
    }
  }

  /** The process id that a process has in its own namespace. */
  public static long innerPid(Path process, long pid) {
    try {
      for (String line : Files.readAllLines(process.resolve("status"))) {
        if (line.startsWith("NSpid:")) {
          String[] pids = line.substring(6).trim().split("\\s+");
          return Long.parseLong(pids[pids.length - 1]);
        }
      }
    } catch (IOException | NumberFormatException e) {
      return pid;
    }
    return pid;
  }

  /** When a process was started, in clock ticks since the machine was; -1 if it is gone. */
  public static long startTicks(Path process) {
    try {
      String stat = Files.readString(process.resolve("stat"), StandardCharsets.ISO_8859_1);
      // the program's name stands in brackets and may hold anything
      String[] rest = stat.substring(stat.lastIndexOf(')') + 2).split(" ");
      return Long.parseLong(rest[19]);
    } catch (IOException | RuntimeException e) {
      return -1;
    }
  }

  /** How long a process has run, in milliseconds, or -1. */
  public static long uptimeMillis(long pid) {
    return ProcessHandle.of(pid)
        .flatMap(handle -> handle.info().startInstant())
        .map(begun -> System.currentTimeMillis() - begun.toEpochMilli())
        .orElse(-1L);
  }

  private static List<String> words(Path file) {
    try {
      String all = Files.readString(file, StandardCharsets.ISO_8859_1);
      return all.isEmpty() ? List.of() : List.of(all.split("\0"));
    } catch (IOException e) {
      return List.of();
    }
  }
}
