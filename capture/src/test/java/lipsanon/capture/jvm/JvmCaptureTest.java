package lipsanon.capture.jvm;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.TreeMap;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real JVM over its attach channel: captured, left as it was, stopped, closed to tools. */
class JvmCaptureTest {
  private static final String TIDE =
      """
      public class Tide {
        static byte[][] levels = new byte[50][100_000];
        public static void main(String[] args) throws Exception {
          System.out.println("ready");
          System.in.read();
        }
      }
      """;

  @TempDir Path folder;

  private Process tide(String... options) throws IOException {
    Path source = Files.writeString(folder.resolve("Tide.java"), TIDE);
    List<String> command = new ArrayList<>();
    command.add(Path.of(System.getProperty("java.home"), "bin/java").toString());
    command.addAll(List.of(options));
    command.addAll(List.of("-Xmx64m", source.toString()));
    Process process = new ProcessBuilder(command).redirectErrorStream(true).start();
    assertThat(process.inputReader().readLine()).isEqualTo("ready");
    return process;
  }

  private CaptureOptions options(String name) {
    return new CaptureOptions(folder.resolve(name), false, false, false);
  }

  /** The names of a process's threads with how many have each. */
  private static TreeMap<String, Integer> threads(long pid) throws IOException {
    TreeMap<String, Integer> names = new TreeMap<>();
    try (Stream<Path> tasks = Files.list(Path.of("/proc/" + pid + "/task"))) {
      for (Path task : (Iterable<Path>) tasks::iterator) {
        names.merge(Files.readString(task.resolve("comm")).trim(), 1, Integer::sum);
      }
    }
    return names;
  }

  private static long listening(long pid) throws IOException {
    List<String> inodes = new ArrayList<>();
    try (Stream<Path> files = Files.list(Path.of("/proc/" + pid + "/fd"))) {
      for (Path file : (Iterable<Path>) files::iterator) {
        inodes.add(Files.readSymbolicLink(file).toString().replaceAll("\\D", ""));
      }
    }
    long count = 0;
    for (String table : List.of("tcp", "tcp6")) {
      for (String line : Files.readAllLines(Path.of("/proc/" + pid + "/net/" + table))) {
        String[] words = line.trim().split("\\s+");
        count += words.length > 9 && words[3].equals("0A") && inodes.contains(words[9]) ? 1 : 0;
      }
    }
    return count;
  }

  @Test
  void theTargetIsLeftAsItWas() throws Exception {
    Process tide = tide("-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1");
    try {
      TreeMap<String, Integer> before = threads(tide.pid());
      CaptureResult result = null;
      for (String name : List.of("a.hprof", "b.hprof", "c.hprof")) {
        try (JvmCapture capture = JvmCapture.connect(tide.pid())) {
          result = capture.capture(options(name), CaptureProgress.NONE);
        }
      }
      TreeMap<String, Integer> after = threads(tide.pid());
      before.forEach((name, count) -> after.merge(name, -count, Integer::sum));
      after.values().removeIf(count -> count <= 0);
      assertThat(after.keySet()).isSubsetOf("Attach Listener");
      assertThat(listening(tide.pid())).isZero();
      assertThat(result.heapAfterBytes()).isBetween(5_000_000L, 20_000_000L);
      assertThat(Files.size(folder.resolve("c.hprof"))).isEqualTo(result.fileBytes());
      try (Stream<Path> files = Files.list(folder)) {
        assertThat(files.map(file -> file.getFileName().toString()))
            .noneMatch(name -> name.startsWith("."));
      }
    } finally {
      tide.destroyForcibly().waitFor();
    }
  }

  @Test
  void collectionsWorkWhereTheProgramMayNotForceThem() throws Exception {
    Process tide = tide("-XX:+UseSerialGC", "-XX:+DisableExplicitGC");
    try (JvmCapture capture = JvmCapture.connect(tide.pid())) {
      long before = capture.heapUsed();
      capture.collect();
      assertThat(capture.heapUsed()).isPositive().isLessThan(before);
    } finally {
      tide.destroyForcibly().waitFor();
    }
  }

  @Test
  void aStoppedTargetIsToldOfAndGivenUp() throws Exception {
    Process tide = tide("-XX:+UseSerialGC");
    try {
      new ProcessBuilder("kill", "-STOP", Long.toString(tide.pid())).start().waitFor();
      assertThatThrownBy(() -> JvmCapture.connect(tide.pid()))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("is stopped")
          .hasMessageContaining("kill -CONT " + tide.pid());
      new ProcessBuilder("kill", "-CONT", Long.toString(tide.pid())).start().waitFor();
      JvmCapture.connect(tide.pid()).close();
      new ProcessBuilder("kill", "-STOP", Long.toString(tide.pid())).start().waitFor();
      List<String> told = new ArrayList<>();
      try (JvmCapture capture = JvmCapture.connect(tide.pid(), Duration.ofSeconds(3))) {
        assertThatThrownBy(
                () -> capture.capture(options("d.hprof"), (what, done, total) -> told.add(what)))
            .hasMessageContaining("has not answered for 3 s");
      }
      assertThat(told).contains("no answer for 2 s");
      assertThat(folder.resolve("d.hprof")).doesNotExist();
    } finally {
      tide.destroyForcibly().waitFor();
    }
  }

  @Test
  void aTargetThatIsClosedToToolsIsLeftAlone() throws Exception {
    Process closed = tide("-XX:+DisableAttachMechanism");
    // this one listens from its start, since it does not hear signals
    Process deaf = tide("-Xrs");
    try {
      assertThatThrownBy(() -> JvmCapture.connect(closed.pid()))
          .hasMessageContaining("-XX:+DisableAttachMechanism");
      try (JvmCapture capture = JvmCapture.connect(deaf.pid())) {
        assertThat(capture.heapUsed()).isPositive();
      }
      assertThat(closed.isAlive()).isTrue();
      assertThat(deaf.isAlive()).isTrue();
    } finally {
      closed.destroyForcibly().waitFor();
      deaf.destroyForcibly().waitFor();
    }
  }
}
