package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.OutputStream;
import java.net.InetAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.time.Duration;
import java.util.Base64;
import java.util.List;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureOptions;
import lipsanon.capture.CaptureProgress;
import lipsanon.capture.RuntimeInfo;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** A server that speaks the inspector's protocol and means no good. */
class HostileInspectorTest {
  private static final Pattern ID = Pattern.compile("\"id\":([0-9]+)");

  @TempDir Path folder;

  /** Answers every command; to that for a snapshot it sends pieces of one kind first. */
  private static final class Server implements AutoCloseable {
    private final ServerSocket listening = new ServerSocket(0, 5, InetAddress.getLoopbackAddress());
    private final String piece;
    private final int count;

    /** Events that tell of scripts; and a command that gets no reply, or is refused. */
    private final List<String> scripts;

    private final String silent;
    private final String refused;
    final List<String> asked = new CopyOnWriteArrayList<>();

    Server(String piece, int count) throws IOException {
      this(piece, count, List.of(), "none", "none");
    }

    Server(String piece, int count, List<String> scripts, String silent, String refused)
        throws IOException {
      this.piece = piece;
      this.count = count;
      this.scripts = scripts;
      this.silent = silent;
      this.refused = refused;
      Thread serving =
          new Thread(
              () -> {
                try (Socket socket = listening.accept()) {
                  serve(socket);
                } catch (IOException | java.security.GeneralSecurityException e) {
                  // the other side gave up, as it should
                  return;
                }
              });
      serving.setDaemon(true);
      serving.start();
    }

    private void serve(Socket socket) throws IOException, java.security.GeneralSecurityException {
      InputStream in = socket.getInputStream();
      OutputStream out = socket.getOutputStream();
      StringBuilder head = new StringBuilder();
      while (head.indexOf("\r\n\r\n") < 0) {
        head.append((char) in.read());
      }
      Matcher key = Pattern.compile("(?i)sec-websocket-key: (\\S+)").matcher(head);
      assertThat(key.find()).isTrue();
      byte[] accept =
          MessageDigest.getInstance("SHA-1")
              .digest((key.group(1) + "258EAFA5-E914-47DA-95CA-C5AB0DC85B11").getBytes());
      out.write(
          ("HTTP/1.1 101 Switching Protocols\r\nUpgrade: websocket\r\nConnection: Upgrade\r\n"
                  + "Sec-WebSocket-Accept: "
                  + Base64.getEncoder().encodeToString(accept)
                  + "\r\n\r\n")
              .getBytes());
      while (true) {
        String command = receive(in);
        Matcher id = ID.matcher(command);
        if (!id.find()) {
          return;
        }
        asked.add(command.replaceFirst(".*\"method\":\"([^\"]*)\".*", "$1"));
        if (command.contains(silent)) {
          continue;
        }
        if (command.contains(refused)) {
          send(out, "{\"id\":" + id.group(1) + ",\"error\":{\"message\":\"no such method\"}}");
          continue;
        }
        if (command.contains("Debugger.enable")) {
          for (String script : scripts) {
            send(out, "{\"method\":\"Debugger.scriptParsed\",\"params\":" + script + "}");
          }
        }
        if (command.contains("takeHeapSnapshot")) {
          for (int i = 0; i < count; i++) {
            send(
                out,
                "{\"method\":\"HeapProfiler.addHeapSnapshotChunk\",\"params\":{\"chunk\":\""
                    + piece
                    + "\"}}");
          }
        }
        send(out, "{\"id\":" + id.group(1) + ",\"result\":{\"usedSize\":1000000}}");
      }
    }

    private static String receive(InputStream in) throws IOException {
      int first = in.read();
      int length = in.read() & 0x7f;
      if (first < 0) {
        return "";
      }
      if (length == 126) {
        length = in.read() << 8 | in.read();
      }
      byte[] mask = in.readNBytes(4);
      byte[] text = in.readNBytes(length);
      for (int i = 0; i < text.length; i++) {
        text[i] ^= mask[i & 3];
      }
      return new String(text, StandardCharsets.UTF_8);
    }

    private static void send(OutputStream out, String text) throws IOException {
      byte[] bytes = text.getBytes(StandardCharsets.UTF_8);
      ByteArrayOutputStream frame = new ByteArrayOutputStream();
      DataOutputStream data = new DataOutputStream(frame);
      data.write(0x81);
      if (bytes.length < 126) {
        data.write(bytes.length);
      } else if (bytes.length < 1 << 16) {
        data.write(126);
        data.writeShort(bytes.length);
      } else {
        data.write(127);
        data.writeLong(bytes.length);
      }
      data.write(bytes);
      out.write(frame.toByteArray());
      out.flush();
    }

    RuntimeInfo target() {
      String address = "ws://127.0.0.1:" + listening.getLocalPort() + "/x";
      return new RuntimeInfo("x", -1, "page", "", "a page", -1, -1, -1, "yes", address);
    }

    @Override
    public void close() throws IOException {
      listening.close();
    }
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "hello } | 1 | not whole",
        "hello hello hello hello } | 1 | is no heap snapshot",
        "{\\\"a\\\": [1, 2, 3, 4, 5, 6, 7]} | 1 | is no heap snapshot",
        "' ' | 100000 | with nothing in them",
        "'{}' | 1 | not whole"
      })
  void whatIsNoSnapshotIsNotSaved(String piece, int count, String told) throws Exception {
    try (Server server = new Server(piece, count);
        V8Capture capture = V8Capture.connect(server.target(), Duration.ofSeconds(10))) {
      CaptureOptions options =
          new CaptureOptions(folder.resolve("a.heapsnapshot"), false, false, false);
      assertThatThrownBy(() -> capture.capture(options, CaptureProgress.NONE))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining(told);
    }
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files).isEmpty();
    }
  }

  private static final String WHOLE = "{\\\"snapshot\\\":{\\\"meta\\\":{}}}";

  private static String script(String url, String map) {
    return "{\"scriptId\":\"7\",\"url\":\"" + url + "\",\"sourceMapURL\":\"" + map + "\"}";
  }

  /** A snapshot is taken all the same, without the maps. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "http://port-merrow/a.js | a.js.map | Network.loadNetworkResource | none",
        "http://port-merrow/a.js | a.js.map | none | Debugger.enable",
        "http://port-merrow/a.js | a.js.map | none | Page.getFrameTree",
        "http://port-merrow/a.js | a.js.map | none | setSkipAllPauses",
        "http://port-merrow/a.js | data:application/json;base64,!!! | none | none",
        "http://port-merrow/a.js | data:application/json,{ | none | none",
        "http://port-merrow/a.js | data:nothing | none | none"
      })
  void mapsThatCannotBeHad(String url, String map, String silent, String refused) throws Exception {
    try (Server server = new Server(WHOLE, 1, List.of(script(url, map)), silent, refused);
        V8Capture capture = V8Capture.connect(server.target(), Duration.ofSeconds(30))) {
      Path file = folder.resolve("c.heapsnapshot");
      capture.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
      assertThat(Files.readString(file)).contains("lipsanon_session").doesNotContain("source_maps");
    }
  }

  /**
   * Only what lies where the script came from is asked for, and no file of this machine is read.
   */
  @ParameterizedTest
  @CsvSource({
    "http://port-merrow/a.js, http://elsewhere/a.js.map",
    "http://port-merrow/a.js, https://port-merrow/a.js.map",
    "http://port-merrow/a.js, http://port-merrow:81/a.js.map",
    "http://port-merrow/a.js, file:///etc/hostname",
    "/etc/a.js, hostname",
    "a.js, b.map",
    "' ', ' '"
  })
  void mapsThatLieElsewhere(String url, String map) throws Exception {
    try (Server server = new Server(WHOLE, 1, List.of(script(url, map)), "none", "none");
        V8Capture capture = V8Capture.connect(server.target(), Duration.ofSeconds(30))) {
      Path file = folder.resolve("d.heapsnapshot");
      capture.capture(new CaptureOptions(file, false, false, false), CaptureProgress.NONE);
      assertThat(Files.readString(file)).doesNotContain("source_maps");
      assertThat(server.asked)
          .contains("Debugger.enable", "Debugger.disable")
          .doesNotContain("Network.loadNetworkResource");
    }
  }

  @org.junit.jupiter.api.Test
  void aSnapshotWithoutEndIsBounded() throws Exception {
    String beginning = "{\\\"snapshot\\\":{\\\"meta\\\":{}}}";
    try (Server server = new Server(beginning + "1,".repeat(1 << 19), 100_000);
        V8Capture capture = V8Capture.connect(server.target(), Duration.ofSeconds(10))) {
      CaptureOptions options =
          new CaptureOptions(folder.resolve("b.heapsnapshot"), false, false, false);
      assertThatThrownBy(() -> capture.capture(options, CaptureProgress.NONE))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("far more than its heap can make");
    }
    try (Stream<Path> files = Files.list(folder)) {
      assertThat(files).isEmpty();
    }
  }
}
