package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.OutputStream;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.Timeout;
import org.junit.jupiter.api.io.TempDir;

/** The prompt: with lines from a pipe, and in a real pseudo-terminal. */
class ExploreTest {
  @TempDir static Path folder;

  @BeforeAll
  static void dump() throws Exception {
    ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
        .dumpHeap(folder.resolve("office.hprof").toString(), true);
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void linesFromAPipe() throws Exception {
    Process process =
        Pty.builder(folder, Pty.command("explore", "office.hprof"))
            .redirectErrorStream(true)
            .start();
    String questions =
        """
        # a comment
        sift java.lang.Thread --limit 2
        show 1
        name threads
        sift $threads and root --limit 1
        nonsense
        sift own and (
        sift java.lang.String and text = 'main' or (java.lang.String and text = "no such text")
        sift 'java.lang.String and text = '\\''main'\\''' --limit 1
        back
        trail
        quit
        types
        """;
    try (OutputStream in = process.getOutputStream()) {
      in.write(questions.getBytes(StandardCharsets.UTF_8));
    }
    String out = new String(process.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertThat(process.waitFor(60, TimeUnit.SECONDS)).isTrue();
    assertThat(process.exitValue()).as(out).isZero();
    assertThat(out)
        .contains("objects: java.lang.Thread")
        .contains("$threads is now: java.lang.Thread")
        .contains("$threads and root")
        .contains("There is no command nonsense")
        .contains("objects: java.lang.String and text = 'main' or (java.lang.String")
        .contains("java.lang.String and text = 'main', ")
        .contains("selection: a selection is missing at the end")
        .contains("> quit")
        .doesNotContain("> types");
    String trail = Files.readString(folder.resolve("office.hprof.lipsanon/trail"));
    assertThat(trail.lines()).anyMatch(line -> line.matches("show 0x[0-9a-f]+"));
    // what is suggested needs no file name here
    assertThat(out).contains("  why 0x").doesNotContain("lipsanon why");
  }

  /**
   * Ctrl-C, once more where a busy machine lost the signal between two states of the terminal; an
   * answered question then shows that no signal is on its way any more.
   */
  private static void interrupt(Pty pty, String prompt) throws Exception {
    for (int tries = 0; tries < 5; tries++) {
      if (pty.interrupt(prompt, 8_000)) {
        pty.type("trail\r");
        if (pty.sees("sift java.lang.Thread --limit 3", 8_000)) {
          pty.await(prompt);
          return;
        }
      }
    }
    pty.await(prompt);
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void aRealTerminal() throws Exception {
    assumeTrue(Pty.available(), "no pseudo-terminals: the command `script` is missing");
    try (Pty pty = new Pty(folder, Pty.shell("explore", "office.hprof"))) {
      pty.await("office.hprof> ");
      pty.type("sift java.lang.Thread --limit 3\r");
      pty.await("how all of them are held");
      pty.await("office.hprof> ");
      pty.type("why 2\r");
      pty.await("this object's fields and references");
      pty.await("office.hprof> ");
      // completion of a command and of a type
      pty.type("keep\t");
      pty.await("keepers");
      // Ctrl-C throws the line away, and the prompt goes on
      interrupt(pty, "office.hprof> ");
      pty.type("name mine\r");
      pty.await("$mine is now");
      pty.await("office.hprof> ");
      // history: the line before comes back
      pty.type("\u001bOA");
      pty.await("name mine");
      interrupt(pty, "office.hprof> ");
      pty.type("\u0004");
      assertThat(pty.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
    }
    // its exit code is looked at where no signals were sent: below
    assertThat(Files.readString(folder.resolve("cache/lipsanon/history"))).contains("name mine");
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void aDumbTerminal() throws Exception {
    assumeTrue(Pty.available(), "no pseudo-terminals: the command `script` is missing");
    try (Pty pty = new Pty(folder, "export TERM=dumb; " + Pty.shell("explore", "office.hprof"))) {
      pty.await("> ");
      pty.type("types --limit 2\r");
      pty.await("only your own types");
      pty.type("quit\r");
      assertThat(pty.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
      assertThat(pty.process.exitValue()).isZero();
      assertThat(pty.seen.toString()).doesNotContain("\u001b[1m");
    }
  }
}
