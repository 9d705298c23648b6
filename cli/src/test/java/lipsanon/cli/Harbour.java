package lipsanon.cli;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.io.PrintWriter;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;

/** The Port Merrow service in a JVM of its own. */
final class Harbour implements AutoCloseable {
  private final Process process;
  private final BufferedReader out;
  private final PrintWriter in;
  final String url;

  Harbour(String... args) throws IOException {
    this(Path.of(System.getProperty("java.home")), args);
  }

  Harbour(Path jdk, String... args) throws IOException {
    List<String> command = new ArrayList<>();
    command.add(jdk.resolve("bin/java").toString());
    command.addAll(List.of("-Xmx200m", "-XX:+UseSerialGC"));
    command.addAll(List.of("-cp", System.getProperty("java.class.path"), "portmerrow.PortMerrow"));
    command.addAll(List.of(args));
    process = new ProcessBuilder(command).redirectError(ProcessBuilder.Redirect.INHERIT).start();
    out =
        new BufferedReader(new InputStreamReader(process.getInputStream(), StandardCharsets.UTF_8));
    in = new PrintWriter(process.outputWriter(StandardCharsets.UTF_8), true);
    String line = out.readLine();
    url = line.substring(line.indexOf("http://"));
  }

  String pid() {
    return Long.toString(process.pid());
  }

  void days(int count) throws IOException {
    in.println("days " + count);
    if (!out.readLine().startsWith("day ")) {
      throw new IOException("the harbour did not obey");
    }
  }

  void kill() throws InterruptedException {
    process.destroyForcibly().waitFor();
  }

  @Override
  public void close() {
    process.destroyForcibly();
  }
}
