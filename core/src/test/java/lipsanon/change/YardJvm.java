package lipsanon.change;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;

/** A JVM that runs one of the yard's programs. */
public final class YardJvm implements AutoCloseable {
  private final Process process;
  private final BufferedReader out;
  private final PrintWriter in;

  public YardJvm(String program, String... options) throws IOException {
    this(Path.of(System.getProperty("java.home")), program, options);
  }

  /** In a runtime other than the test's own. */
  public YardJvm(Path home, String program, String... options) throws IOException {
    java.util.List<String> command = new java.util.ArrayList<>();
    command.add(home.resolve("bin/java").toString());
    command.addAll(java.util.List.of("-Xmx128m", "-XX:+UseSerialGC", "-XX:TieredStopAtLevel=1"));
    command.addAll(java.util.List.of(options));
    command.addAll(java.util.List.of("-cp", System.getProperty("java.class.path")));
    command.addAll(java.util.List.of("leakyard.Yard", program));
    process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.INHERIT).start();
    out =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    in = new PrintWriter(process.outputWriter(StandardCharsets.UTF_8), true);
    answer("ready");
  }

  private void answer(String expected) throws IOException {
    String line = out.readLine();
    if (!expected.equals(line)) {
      throw new IOException("the program answered " + line + " in place of " + expected);
    }
  }

  public void act(int times) throws IOException {
    in.println("act " + times);
    answer("done");
  }

  void release() throws IOException {
    in.println("release");
    answer("done");
  }

  public void dump(Path file) throws IOException {
    in.println("dump " + file);
    answer("done");
  }

  @Override
  public void close() {
    process.destroyForcibly();
  }
}
