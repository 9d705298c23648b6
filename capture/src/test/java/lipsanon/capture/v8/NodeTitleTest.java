package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import lipsanon.capture.RuntimeInfo;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** A process that has given itself a title, in place of the arguments that told its inspector. */
class NodeTitleTest {
  @TempDir Path folder;

  @Test
  void itsInspectorIsFoundAmongWhatListensHereAlone() throws Exception {
    Path program =
        Files.writeString(
            folder.resolve("berths.js"),
            """
            process.title = 'port office';
            // somebody else's port, which is no inspector's
            require('net').createServer(s => s.on('error', () => {}).end('moored\\n'))
              .listen(0, '127.0.0.1', () => console.log('ready'));
            """);
    NodeProgram running = NodeProgram.start(program);
    try {
      RuntimeInfo found = NodeTargets.look(running.process().pid());
      assertThat(found.program()).isEqualTo("port office");
      assertThat(found.accessible()).as(found.toString()).isTrue();
      assertThat(found.address()).contains(running.at());
    } finally {
      running.stop();
    }
  }
}
