package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.lang.management.ManagementFactory;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
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

  private static List<String> command(String... more) {
    List<String> command =
        new java.util.ArrayList<>(
            List.of(
                Path.of(System.getProperty("java.home"), "bin/java").toString(),
                "-XX:TieredStopAtLevel=1",
                "-Xmx700m",
                "-cp",
                System.getProperty("java.class.path"),
                "lipsanon.cli.Main"));
    command.addAll(List.of(more));
    return command;
  }

  private static ProcessBuilder builder(List<String> command) {
    ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
    builder.environment().put("LC_ALL", "C.UTF-8");
    builder.environment().put("XDG_CACHE_HOME", folder + "/cache");
    return builder;
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void linesFromAPipe() throws Exception {
    Process process = builder(command("explore", "office.hprof")).redirectErrorStream(true).start();
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

  /** A process in a pseudo-terminal, read until something is seen. */
  private static final class Pty implements AutoCloseable {
    final Process process;
    final InputStream out;
    final OutputStream in;
    final StringBuilder seen = new StringBuilder();
    int from;

    Pty(String shell) throws IOException {
      ProcessBuilder builder =
          builder(List.of("script", "-qec", shell, "/dev/null")).redirectErrorStream(true);
      builder.environment().put("LIPSANON_IN_TERMINAL", "1");
      builder.environment().put("LIPSANON_OUT_TERMINAL", "1");
      builder.environment().put("TERM", "xterm");
      process = builder.start();
      out = process.getInputStream();
      in = process.getOutputStream();
    }

    void type(String text) throws IOException {
      from = seen.length();
      in.write(text.getBytes(StandardCharsets.UTF_8));
      in.flush();
    }

    void await(String text) throws Exception {
      assertThat(sees(text, 60_000)).as("waiting for " + text + " after " + seen).isTrue();
    }

    /** Reads until a text is there, or so long. */
    boolean sees(String text, long millis) throws Exception {
      byte[] some = new byte[4096];
      long end = System.nanoTime() + millis * 1_000_000;
      while (plain().indexOf(text) < 0) {
        if (out.available() > 0) {
          int got = out.read(some);
          seen.append(new String(some, 0, got, StandardCharsets.UTF_8));
        } else if (System.nanoTime() > end) {
          return false;
        } else {
          process.waitFor(10, TimeUnit.MILLISECONDS);
        }
      }
      return true;
    }

    /**
     * Ctrl-C, once more where a busy machine lost the signal between two states of the terminal; an
     * answered question then shows that no signal is on its way any more.
     */
    void interrupt(String prompt) throws Exception {
      for (int tries = 0; tries < 5; tries++) {
        type("\u0003");
        if (sees(prompt, 8_000)) {
          type("trail\r");
          if (sees("sift java.lang.Thread --limit 3", 8_000)) {
            await(prompt);
            return;
          }
        }
      }
      await(prompt);
    }

    /** What came since the last typing, without the terminal's own signs. */
    String plain() {
      return seen.substring(from).replaceAll("\u001b\\[[0-9;?]*[a-zA-Z]", "");
    }

    @Override
    public void close() {
      process.destroyForcibly();
    }
  }

  private static boolean hasScript() {
    return Files.isExecutable(Path.of("/usr/bin/script"));
  }

  private static String shell(String... args) {
    // a build that runs in the background ignores Ctrl-C, and hands that on to what it starts
    StringBuilder shell = new StringBuilder("env --default-signal=INT ");
    for (String word : command(args)) {
      shell.append('\'').append(word.replace("'", "'\\''")).append("' ");
    }
    return shell.toString();
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void aRealTerminal() throws Exception {
    assumeTrue(hasScript(), "no pseudo-terminals: the command `script` is missing");
    try (Pty pty = new Pty(shell("explore", "office.hprof"))) {
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
      pty.interrupt("office.hprof> ");
      pty.type("name mine\r");
      pty.await("$mine is now");
      pty.await("office.hprof> ");
      // history: the line before comes back
      pty.type("\u001bOA");
      pty.await("name mine");
      pty.interrupt("office.hprof> ");
      pty.type("\u0004");
      assertThat(pty.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
      assertThat(pty.process.exitValue()).isZero();
    }
    assertThat(Files.readString(folder.resolve("cache/lipsanon/history"))).contains("name mine");
  }

  @Test
  @Timeout(value = 240, threadMode = Timeout.ThreadMode.SEPARATE_THREAD)
  void aDumbTerminal() throws Exception {
    assumeTrue(hasScript(), "no pseudo-terminals: the command `script` is missing");
    try (Pty pty = new Pty("export TERM=dumb; " + shell("explore", "office.hprof"))) {
      pty.await("> ");
      pty.type("types --limit 2\r");
      pty.await("only your own types");
      pty.type("quit\r");
      assertThat(pty.process.waitFor(60, TimeUnit.SECONDS)).isTrue();
      assertThat(pty.seen.toString()).doesNotContain("\u001b[1m");
    }
  }
}
