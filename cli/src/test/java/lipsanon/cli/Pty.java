package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** The program in a pseudo-terminal, read until something is seen. */
final class Pty implements AutoCloseable {
  final Process process;
  private final InputStream out;
  private final OutputStream in;
  final StringBuilder seen = new StringBuilder();
  private int from;

  /** Runs a line of a shell. */
  Pty(Path folder, String shell) throws IOException {
    ProcessBuilder builder =
        builder(folder, List.of("script", "-qec", shell, "/dev/null")).redirectErrorStream(true);
    builder.environment().put("LIPSANON_IN_TERMINAL", "1");
    builder.environment().put("LIPSANON_OUT_TERMINAL", "1");
    builder.environment().put("TERM", "xterm");
    process = builder.start();
    out = process.getInputStream();
    in = process.getOutputStream();
  }

  static boolean available() {
    return Files.isExecutable(Path.of("/usr/bin/script"));
  }

  /** The command of the program with arguments. */
  static List<String> command(String... more) {
    List<String> command = Packed.command("-Xmx700m");
    command.addAll(List.of(more));
    return command;
  }

  static ProcessBuilder builder(Path folder, List<String> command) {
    ProcessBuilder builder = new ProcessBuilder(command).directory(folder.toFile());
    builder.environment().put("LC_ALL", "C.UTF-8");
    builder.environment().put("XDG_CACHE_HOME", folder + "/cache");
    return builder;
  }

  /** The same as a line of a shell. */
  static String shell(String... args) {
    // a build that runs in the background ignores Ctrl-C, and hands that on to what it starts
    StringBuilder shell = new StringBuilder("env --default-signal=INT ");
    for (String word : command(args)) {
      shell.append('\'').append(word.replace("'", "'\\''")).append("' ");
    }
    return shell.toString();
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
    long end = System.nanoTime() + millis * 1_000_000;
    while (plain().indexOf(text) < 0) {
      if (out.available() > 0) {
        read();
      } else if (System.nanoTime() > end) {
        return false;
      } else {
        process.waitFor(10, TimeUnit.MILLISECONDS);
      }
    }
    return true;
  }

  /** Presses keys, and has the whole screen drawn again until a text is on it. */
  void press(String keys, String text) throws Exception {
    type(keys);
    for (int tries = 0; tries < 30; tries++) {
      if (sees(text, 2_000)) {
        return;
      }
      // the screen is changed in pieces otherwise
      type("\f");
    }
    await(text);
  }

  private void read() throws IOException {
    byte[] some = new byte[4096];
    int got = out.read(some);
    seen.append(new String(some, 0, got, StandardCharsets.UTF_8));
  }

  /** What is left once the process has ended. */
  void drain() throws IOException {
    while (out.available() > 0) {
      read();
    }
  }

  /** Ctrl-C, until the text is there. */
  boolean interrupt(String text, long millis) throws Exception {
    type("\u0003");
    return sees(text, millis);
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
