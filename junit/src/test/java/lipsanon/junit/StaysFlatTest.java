package lipsanon.junit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.junit.platform.engine.discovery.DiscoverySelectors.selectClass;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.platform.engine.TestExecutionResult;
import org.junit.platform.testkit.engine.EngineTestKit;
import org.opentest4j.AssertionFailedError;

/** What users' tests do when something stays behind, and when nothing does. */
class StaysFlatTest {
  @TempDir Path folder;

  @AfterEach
  void forget() {
    HarbourCases.BOARD.subscribers.clear();
    HarbourCases.BOARD.charts.clear();
  }

  private static TestExecutionResult run(Class<?> test, String... parameters) {
    EngineTestKit.Builder kit = EngineTestKit.engine("junit-jupiter").selectors(selectClass(test));
    for (int i = 0; i < parameters.length; i += 2) {
      kit.configurationParameter(parameters[i], parameters[i + 1]);
    }
    return kit.execute().testEvents().finished().stream()
        .findFirst()
        .orElseThrow()
        .getRequiredPayload(TestExecutionResult.class);
  }

  private static List<Path> left() throws Exception {
    try (Stream<Path> all = Files.list(Path.of("target"))) {
      return all.filter(path -> path.getFileName().toString().startsWith("lipsanon-")).toList();
    }
  }

  @Test
  void whatStaysBehindFailsTheTestWithItsHolder() throws Exception {
    TestExecutionResult result = run(HarbourCases.Leaky.class);
    assertThat(result.getStatus()).isEqualTo(TestExecutionResult.Status.FAILED);
    Throwable failure = result.getThrowable().orElseThrow();
    assertThat(failure).isInstanceOf(AssertionFailedError.class);
    assertThat(failure.getMessage())
        .contains("Leaky.vesselsLeave: something stays behind.")
        .contains("exactly 1 with every action")
        .contains("held by lipsanon.junit.HarbourCases$TideBoard.subscribers")
        .contains("HarbourCases$VesselCall");
    Matcher kept =
        Pattern.compile("growth (\\S+)/\\*\\.hprof --actions 5,5,5,60")
            .matcher(failure.getMessage());
    assertThat(kept.find()).isTrue();
    Path snapshots = Path.of(kept.group(1));
    for (int i = 0; i < 5; i++) {
      assertThat(snapshots.resolve(i + ".hprof")).isNotEmptyFile();
    }
    assertThat(left()).as("below target, as builds have it").hasSize(1);
    new Cleaning(snapshots).run();
  }

  /** Removes a folder that a failed rehearsal left. */
  private record Cleaning(Path folder) {
    void run() throws Exception {
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path path : all.sorted(java.util.Comparator.reverseOrder()).toList()) {
          Files.delete(path);
        }
      }
    }
  }

  @Test
  void nothingIsLeftWhereNothingPilesUp() throws Exception {
    for (Class<?> test :
        List.of(HarbourCases.Clean.class, HarbourCases.Bounded.class, HarbourCases.Allowed.class)) {
      TestExecutionResult result = run(test);
      assertThat(result.getStatus())
          .as(result.getThrowable().map(Throwable::getMessage).orElse(""))
          .isEqualTo(TestExecutionResult.Status.SUCCESSFUL);
      assertThat(left()).isEmpty();
    }
  }

  @Test
  void whatTheActionThrowsIsTheFailure() throws Exception {
    TestExecutionResult result = run(HarbourCases.Broken.class);
    assertThat(result.getThrowable().orElseThrow())
        .isInstanceOf(UnsupportedOperationException.class)
        .hasMessage("no berth");
    assertThat(left()).isEmpty();
  }

  @Test
  void testsSideBySideAreRefused() throws Throwable {
    TestExecutionResult result =
        run(HarbourCases.Beside.class, "junit.jupiter.execution.parallel.enabled", "true");
    assertThat(result.getThrowable().orElseThrow().getMessage())
        .contains("side by side")
        .contains("@Isolated");
    assertThatThrownBy(HarbourCases::twoAtOnce)
        .isInstanceOf(IllegalStateException.class)
        .hasMessageContaining("second: another test rehearses");
    assertThat(left()).isEmpty();
  }

  @Test
  void aRehearsalIsAPartOfATest() throws Throwable {
    int[] calls = {0};
    HeapRehearsal.of(() -> calls[0]++).rounds(2).actions(4).in(folder).check();
    assertThat(calls[0]).as("warm-up, two rounds, a long one").isEqualTo(4 + 8 + 36);
    assertThat(folder).isEmptyDirectory();
    assertThatThrownBy(() -> HeapRehearsal.of(() -> {}).rounds(0))
        .isInstanceOf(IllegalArgumentException.class);
  }
}
