package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;

/**
 * A Node.js process with an open inspector, whose program has said that it is ready: the inspector
 * answers before the program has run, but not everything, and not for sure.
 *
 * @param process the process
 * @param at host and port of its inspector
 */
record NodeProgram(Process process, String at) {
  static NodeProgram start(Path program) throws IOException {
    Process node = new ProcessBuilder("node", "--inspect=127.0.0.1:0", program.toString()).start();
    BufferedReader err =
        new BufferedReader(new InputStreamReader(node.getErrorStream(), StandardCharsets.UTF_8));
    String line = err.readLine();
    while (!line.contains("ws://")) {
      line = err.readLine();
    }
    BufferedReader out =
        new BufferedReader(new InputStreamReader(node.getInputStream(), StandardCharsets.UTF_8));
    assertThat(out.readLine()).isEqualTo("ready");
    return new NodeProgram(node, line.replaceFirst(".*ws://", "").replaceFirst("/.*", ""));
  }

  /** Ends it. */
  void stop() throws InterruptedException {
    process.destroyForcibly().waitFor();
  }
}
