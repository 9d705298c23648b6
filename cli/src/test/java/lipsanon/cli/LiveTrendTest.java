package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/**
 * The trend of what survives on live JVMs of each collector: a steady leak on a large heap is
 * called rising within two minutes, a bounded cache, churn and a swinging pool are not.
 */
class LiveTrendTest {
  private static final String QUAY =
      """
      import java.util.*;
      public class Quay {
        static final List<byte[]> BASE = new ArrayList<>();
        static final List<byte[]> LEAKED = new ArrayList<>();
        static final Deque<byte[]> BOUNDED = new ArrayDeque<>();
        static volatile Object sink;
        public static void main(String[] args) throws Exception {
          for (int i = 0; i < 20_000; i++) BASE.add(new byte[10_000 - 16]);
          for (int i = 0; i < 3_000; i++) BOUNDED.add(new byte[10_000 - 16]);
          System.out.println("ready");
          for (int tick = 0; true; tick++) {
            for (int i = 0; i < 20; i++) sink = new byte[10_000];
            switch (args[0]) {
              case "leak" -> LEAKED.add(new byte[10_000 - 16]);
              case "cache" -> { BOUNDED.add(new byte[10_000 - 16]); BOUNDED.removeFirst(); }
              case "pool" -> {
                if (tick % 300 < 150) BOUNDED.add(new byte[20_000]);
                else BOUNDED.removeLast();
              }
              default -> { }
            }
            Thread.sleep(100);
          }
        }
      }
      """;

  @TempDir Path folder;

  /** One program, and what was said of it. */
  private record Run(String jdk, String collector, String program, JsonNode last) {}

  private Run watch(Path jdk, String collector, String program) throws Exception {
    Process process =
        new ProcessBuilder(
                jdk.resolve("bin/java").toString(),
                "-Xmx700m",
                "-XX:+Use" + collector + "GC",
                "-XX:TieredStopAtLevel=1",
                folder.resolve("Quay.java").toString(),
                program)
            .redirectError(ProcessBuilder.Redirect.INHERIT)
            .start();
    try {
      assertThat(process.inputReader().readLine()).isEqualTo("ready");
      Tool.Result result =
          Tool.run(
              folder,
              "watch",
              Long.toString(process.pid()),
              "--for",
              "100s",
              "--every",
              "2s",
              "--json");
      assertThat(result.code()).as(result.both()).isZero();
      List<String> lines = result.out().lines().toList();
      JsonNode last = new ObjectMapper().readTree(lines.get(lines.size() - 1));
      return new Run(jdk.getFileName().toString(), collector, program, last);
    } finally {
      process.destroyForcibly();
    }
  }

  private static List<Path> jdks() throws IOException {
    List<Path> jdks = new ArrayList<>(List.of(Path.of(System.getProperty("java.home"))));
    Path all = Path.of("/usr/lib/jvm");
    if (Files.isDirectory(all)) {
      try (Stream<Path> found = Files.list(all)) {
        found
            .filter(jdk -> jdk.getFileName().toString().contains("25"))
            .filter(jdk -> Files.isExecutable(jdk.resolve("bin/java")))
            .forEach(jdks::add);
      }
    }
    return jdks;
  }

  @Test
  void aLeakRisesAndNothingElseDoes() throws Exception {
    Files.writeString(folder.resolve("Quay.java"), QUAY);
    // each waits for its program nearly all the time
    ExecutorService atOnce = Executors.newFixedThreadPool(9);
    List<Future<Run>> runs = new ArrayList<>();
    try {
      for (Path jdk : jdks()) {
        for (String collector : List.of("G1", "Parallel", "Z")) {
          runs.add(atOnce.submit(() -> watch(jdk, collector, "leak")));
        }
      }
      for (String program : List.of("cache", "churn", "pool")) {
        runs.add(atOnce.submit(() -> watch(jdks().get(0), "G1", program)));
      }
      for (Future<Run> future : runs) {
        Run run = future.get();
        String trend = run.last().get("trend").asText();
        double slope = run.last().get("bytesPerSecond").asDouble();
        System.out.printf(
            "  %s %s %s: %s, %.1f kB/s, cost %.2f %%%n",
            run.jdk(),
            run.collector(),
            run.program(),
            trend,
            slope / 1000,
            run.last().get("costShare").asDouble() * 100);
        if (run.program().equals("leak")) {
          assertThat(trend).as(run.toString()).isEqualTo("rising");
          assertThat(slope).as(run.toString()).isBetween(80_000.0, 120_000.0);
        } else {
          assertThat(trend).as(run.toString()).isIn("flat", "up and down");
        }
        assertThat(run.last().get("costShare").asDouble()).isLessThan(0.0201);
      }
    } finally {
      atOnce.shutdownNow();
    }
  }
}
