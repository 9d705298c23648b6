package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What a recording alone says of small programs with a known culprit, and of healthy ones. */
class RecordVerdictTest {
  /** They wait for their programs most of the time. */
  private static final int AT_ONCE = 4;

  private static final String[][] LEAKY = {
    {"StaticList", "leakyard.StaticList$Lantern"},
    {"Listener", "leakyard.Listener$Watch"},
    {"PooledThreadLocal", "byte[]"},
    {"Reload", "leakyard.Reload$"},
    {"UnboundedCache", "java.lang.String"},
    {"KeyWithoutEquals", "leakyard.KeyWithoutEquals$Berth"},
    {"CancelledTimers", "leakyard.CancelledTimers$Reminder"},
    {"Capture", "leakyard.Capture$Voyage"},
    {"ValueHoldsKey", "leakyard.ValueHoldsKey$Papers"},
    {"SlowConsumer", "leakyard.SlowConsumer$Crate"},
    {"TailChain", "leakyard.TailChain$Entry"},
    {"TwoSides", "leakyard.TwoSides$Cargo"},
    {"Interned", "java.lang.String"},
    {"HugeArray", "byte[]"},
    {"ShrinkNever", "leakyard.ShrinkNever$Launch"}
  };

  private static final String[] HEALTHY = {
    "BoundedCache", "Churn", "WarmUp", "Sawtooth", "HitCache"
  };

  @TempDir Path folder;

  /** A program that does its action some twenty times a second. */
  private static final class Worker implements AutoCloseable {
    final Process process;
    private final Thread driver;
    private volatile boolean over;

    Worker(String program) throws IOException {
      Path classes =
          Path.of(System.getProperty("user.dir")).resolveSibling("core/target/test-classes");
      process =
          new ProcessBuilder(
                  Path.of(System.getProperty("java.home"), "bin/java").toString(),
                  "-Xmx160m",
                  "-XX:TieredStopAtLevel=1",
                  "-cp",
                  classes.toString(),
                  "leakyard.Yard",
                  program)
              .redirectError(ProcessBuilder.Redirect.INHERIT)
              .start();
      BufferedReader out = process.inputReader(StandardCharsets.UTF_8);
      PrintWriter in = new PrintWriter(process.outputWriter(StandardCharsets.UTF_8), true);
      assertThat(out.readLine()).isEqualTo("ready");
      // bounded caches are full, and classes loaded, before anybody looks
      in.println("act 150");
      assertThat(out.readLine()).isEqualTo("done");
      driver =
          new Thread(
              () -> {
                try {
                  while (!over) {
                    in.println("act 1");
                    out.readLine();
                    Thread.sleep(50);
                  }
                } catch (IOException | InterruptedException e) {
                  over = true;
                }
              });
      driver.setDaemon(true);
      driver.start();
    }

    @Override
    public void close() {
      over = true;
      process.destroyForcibly();
    }
  }

  private JsonNode record(String program) throws Exception {
    try (Worker worker = new Worker(program)) {
      Tool.Result result =
          Tool.run(
              folder,
              "record",
              Long.toString(worker.process.pid()),
              "--for",
              "17s",
              "-o",
              program + ".jfr",
              "--json");
      assertThat(result.code()).as(program + " " + result.both()).isZero();
      return new ObjectMapper().readTree(result.out()).get("verdict");
    }
  }

  @Test
  void namesTypeAndLineWithoutAnySnapshot() throws Exception {
    List<Future<JsonNode>> verdicts = new ArrayList<>();
    ExecutorService some = Executors.newFixedThreadPool(AT_ONCE);
    try {
      for (String[] leaky : LEAKY) {
        verdicts.add(some.submit(() -> record(leaky[0])));
      }
      for (String healthy : HEALTHY) {
        verdicts.add(some.submit(() -> record(healthy)));
      }
      int right = 0;
      List<String> accused = new ArrayList<>();
      for (int i = 0; i < verdicts.size(); i++) {
        JsonNode verdict = verdicts.get(i).get();
        boolean healthy = i >= LEAKY.length;
        String program = healthy ? HEALTHY[i - LEAKY.length] : LEAKY[i][0];
        JsonNode first = verdict.get("piles").path(0);
        boolean named =
            !healthy
                && first.path("type").asText().startsWith(LEAKY[i][1])
                && first.path("place").asText().startsWith("leakyard." + program);
        right += named ? 1 : 0;
        if (healthy && !verdict.get("verdict").asText().equals("none")) {
          accused.add(program);
        }
        System.out.println(
            "  "
                + (healthy ? "healthy " : named ? "right   " : "missed  ")
                + program
                + ": "
                + verdict.get("sentence").asText());
      }
      System.out.println("recordings: " + right + " of " + LEAKY.length + " named type and line");
      assertThat(accused).isEmpty();
      assertThat(right).isGreaterThanOrEqualTo(10);
    } finally {
      some.shutdownNow();
    }
  }
}
