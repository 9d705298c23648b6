package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.CaptureResult;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A real Node.js process that answers, is slow to answer, and does not answer any more. */
class V8CaptureTest {
  private static final String BERTHS =
      """
      class Berth { constructor(n) { this.name = 'berth ' + n; this.draught = n + 0.25; } }
      globalThis.quay = Array.from({ length: 40000 }, (_, n) => new Berth(n));
      setInterval(() => globalThis.quay?.length, 1000);
      console.log('ready');
      """;

  @TempDir Path folder;
  private NodeProgram running;
  private Process node;
  private String at;

  @BeforeEach
  void start() throws IOException {
    Path program = Files.writeString(folder.resolve("berths.js"), BERTHS);
    running = NodeProgram.start(program);
    node = running.process();
    at = running.at();
  }

  @AfterEach
  void stop() throws Exception {
    running.stop();
  }

  private void signal(String name) {
    try {
      Process kill = new ProcessBuilder("kill", "-" + name, Long.toString(node.pid())).start();
      assertThat(kill.waitFor()).isZero();
    } catch (IOException | InterruptedException e) {
      throw new IllegalStateException(e);
    }
  }

  private RuntimeInfo target() throws IOException {
    return Inspectors.list(at).get(0);
  }

  private CaptureOptions options(String name) {
    return new CaptureOptions(folder.resolve(name), false, false, false);
  }

  private List<String> names() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      return files.map(file -> file.getFileName().toString()).sorted().toList();
    }
  }

  @Test
  void aSlowTargetIsWaitedForAndTheSnapshotIsWhole() throws Exception {
    AtomicBoolean stopped = new AtomicBoolean();
    AtomicBoolean waited = new AtomicBoolean();
    CaptureProgress progress =
        (what, done, total) -> {
          if (!stopped.getAndSet(true)) {
            signal("STOP");
          } else if (what.equals("no answer for 2 s")) {
            waited.set(true);
            signal("CONT");
          }
        };
    try (V8Capture capture = V8Capture.connect(target())) {
      CaptureResult result = capture.capture(options("a.heapsnapshot"), progress);
      assertThat(result.fileBytes()).isEqualTo(Files.size(folder.resolve("a.heapsnapshot")));
    }
    assertThat(waited).isTrue();
    JsonNode snapshot = new ObjectMapper().readTree(folder.resolve("a.heapsnapshot").toFile());
    int width = snapshot.at("/snapshot/meta/node_fields").size();
    assertThat(snapshot.get("nodes")).hasSize(width * snapshot.at("/snapshot/node_count").asInt());
    assertThat(snapshot.get("lipsanon_session").asText()).isNotEmpty();
    assertThat(Files.getPosixFilePermissions(folder.resolve("a.heapsnapshot")))
        .isEqualTo(PosixFilePermissions.fromString("rw-------"));
  }

  @Test
  void aTargetThatFallsSilentIsGivenUpAndNothingIsLeft() throws Exception {
    List<String> told = new ArrayList<>();
    CaptureProgress progress =
        (what, done, total) -> {
          if (told.isEmpty()) {
            signal("STOP");
          }
          told.add(what);
        };
    try (V8Capture capture = V8Capture.connect(target(), Duration.ofSeconds(3))) {
      assertThatThrownBy(() -> capture.capture(options("b.heapsnapshot"), progress))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("berths.js")
          .hasMessageContaining("has not answered for 3 s");
    }
    assertThat(told).contains("no answer for 2 s").doesNotContain("no answer for 1 s");
    assertThat(names()).containsExactly("berths.js");
    assertThatThrownBy(() -> Inspectors.addressAt(port(), Duration.ofSeconds(1)))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("has not answered for 1 s");
    // it can be asked again as soon as it goes on
    signal("CONT");
    try (V8Capture capture = V8Capture.connect(target())) {
      assertThat(capture.heapUsed()).isPositive();
    }
  }

  @Test
  void anExistingFileIsKeptUnlessForced() throws Exception {
    Path file = Files.writeString(folder.resolve("c.heapsnapshot"), "kept");
    try (V8Capture capture = V8Capture.connect(target())) {
      assertThatThrownBy(() -> capture.capture(options("c.heapsnapshot"), CaptureProgress.NONE))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("c.heapsnapshot");
      assertThat(file).hasContent("kept");
      capture.capture(new CaptureOptions(file, false, true, false), CaptureProgress.NONE);
    }
    assertThat(Files.size(file)).isGreaterThan(1_000_000);
    assertThat(names()).containsExactly("berths.js", "c.heapsnapshot");
  }

  @Test
  void garbageCannotBeKept() throws Exception {
    CaptureOptions all = new CaptureOptions(folder.resolve("d.heapsnapshot"), true, false, false);
    try (V8Capture capture = V8Capture.connect(target())) {
      assertThatThrownBy(() -> capture.capture(all, CaptureProgress.NONE))
          .hasMessageContaining("--all");
    }
    assertThat(names()).containsExactly("berths.js");
  }

  @Test
  void collectionsAreRealAndSamplesCarryTheFunction() throws Exception {
    try (V8Capture capture = V8Capture.connect(target())) {
      capture.collect();
      long before = capture.heapUsed();
      capture.inspector().evaluate("globalThis.quay = undefined");
      capture.collect();
      // 40,000 objects with a name and a number of their own
      assertThat(capture.heapUsed()).isLessThan(before - 40_000 * 24);
      String profile =
          capture.sample(
              1000,
              false,
              millis -> {
                capture
                    .inspector()
                    .evaluate(
                        "globalThis.kept = (function moor() { return Array(9000).fill({}) })()");
                return true;
              });
      assertThat(profile).contains("\"moor\"");
    }
  }

  @Test
  void aTargetIsFoundByPartOfItsCommandLine() throws Exception {
    RuntimeInfo found = Runtimes.find(Long.toString(node.pid()), null, false);
    assertThat(found.accessible()).isTrue();
    assertThat(found.kind()).isEqualTo(RuntimeInfo.NODE);
    assertThat(found.address()).startsWith("ws://" + at);
    assertThat(Runtimes.find("berths", at, false).program()).endsWith("berths.js");
  }

  private int port() {
    return Integer.parseInt(at.substring(at.lastIndexOf(':') + 1));
  }

  @Test
  void aRecordingThatAnotherClientEndsIsNotTakenForOne() throws Exception {
    for (String disturbance : List.of("snapshot", "stop")) {
      boolean[] done = {false};
      try (V8Capture capture = V8Capture.connect(target())) {
        assertThatThrownBy(
                () ->
                    capture.record(
                        options(disturbance + ".heapsnapshot"),
                        CaptureProgress.NONE,
                        millis -> {
                          if (!done[0]) {
                            done[0] = true;
                            try (V8Capture other = V8Capture.connect(target())) {
                              if (disturbance.equals("stop")) {
                                other.inspector().call("HeapProfiler.stopTrackingHeapObjects");
                              } else {
                                other.capture(options("other.heapsnapshot"), CaptureProgress.NONE);
                              }
                            }
                          }
                          // the other client's end reaches the target a moment later
                          return millis > 2000;
                        }))
            .isInstanceOf(CaptureException.class)
            .hasMessageContaining("the recording was lost");
      }
      assertThat(names()).doesNotContain(disturbance + ".heapsnapshot");
    }
  }

  @Test
  void aSamplingThatAnotherClientEndsIsNotTakenForOne() throws Exception {
    try (V8Capture capture = V8Capture.connect(target());
        V8Capture other = V8Capture.connect(target())) {
      assertThatThrownBy(
              () ->
                  capture.sample(
                      1000,
                      false,
                      millis -> {
                        other.inspector().call("HeapProfiler.stopSampling");
                        return true;
                      }))
          .hasMessageContaining("the recording was lost");
    }
  }
}
