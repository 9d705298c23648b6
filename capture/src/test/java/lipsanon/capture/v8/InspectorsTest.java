package lipsanon.capture.v8;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.net.Socket;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.RuntimeInfo;
import lipsanon.capture.Runtimes;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Lists of targets as browsers and Node.js give them, and what else may answer. */
class InspectorsTest {
  private static final String PAGES =
      """
      [{"id":"A1","type":"page","title":"Tide board","url":"http://127.0.0.1/board",
        "webSocketDebuggerUrl":"ws://127.0.0.1:PORT/devtools/page/A1"},
       {"id":"A2","type":"browser_ui","url":"chrome://tabs","webSocketDebuggerUrl":"ws://x"},
       {"id":"A3","type":"service_worker","url":"http://127.0.0.1/sw.js",
        "webSocketDebuggerUrl":"ws://127.0.0.1:PORT/devtools/page/A3"},
       {"id":"A4","type":"page","title":"being looked at","url":"http://127.0.0.1/taken"},
       {"id":"A5","type":"page","title":"Berths","url":"",
        "webSocketDebuggerUrl":"ws://127.0.0.1:PORT/devtools/page/A5"}]
      """;

  private HttpServer server;
  private String at;
  private volatile String list = PAGES;
  private volatile int status = 200;

  @BeforeEach
  void start() throws IOException {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/json/list",
        exchange -> answer(exchange, list.replace("PORT", "" + server.getAddress().getPort())));
    server.createContext(
        "/json/version", exchange -> answer(exchange, "{\"Browser\":\"Chrome/156.0\"}"));
    server.start();
    at = "127.0.0.1:" + server.getAddress().getPort();
  }

  private void answer(com.sun.net.httpserver.HttpExchange exchange, String text)
      throws IOException {
    // an inspector takes an offer of HTTP/2 for the beginning of a WebSocket
    boolean upgrade = exchange.getRequestHeaders().containsKey("Upgrade");
    byte[] body = text.getBytes(StandardCharsets.UTF_8);
    exchange.sendResponseHeaders(upgrade ? 400 : status, body.length);
    exchange.getResponseBody().write(body);
    exchange.close();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  @Test
  void pagesAndWorkersThatCanBeLookedInto() throws IOException {
    List<RuntimeInfo> found = Inspectors.list(at);
    assertThat(found).extracting(RuntimeInfo::id).containsExactly("A1", "A3", "A5");
    assertThat(found)
        .extracting(RuntimeInfo::kind)
        .containsExactly("page", "service worker", "page");
    assertThat(found.get(0).version()).isEqualTo("Chrome/156.0");
    assertThat(found.get(0).extension()).isEqualTo("heapsnapshot");
    assertThat(found.get(2).program()).isEqualTo("Berths");
    assertThat(Runtimes.find("board", at, false).id()).isEqualTo("A1");
    assertThat(Runtimes.find("A5", at, false).id()).isEqualTo("A5");
    assertThatThrownBy(() -> Runtimes.find(null, at, false))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("A1 (http://127.0.0.1/board), A3 (")
        .hasMessageContaining("A5 (Berths)");
    assertThatThrownBy(() -> Runtimes.find("nobody", at, false))
        .hasMessageContaining("no page or process called \"nobody\"");
  }

  @Test
  void whatIsNoDebuggingPort() {
    for (String text : List.of("{\"a\":1}", "<html>", "", "\"text\"")) {
      list = text;
      assertThatThrownBy(() -> Inspectors.list(at))
          .as(text)
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("no debugging port");
    }
    list = PAGES;
    status = 404;
    assertThatThrownBy(() -> Inspectors.list(at)).hasMessageContaining("no debugging port");
    for (String wrong : List.of("", "127.0.0.1", "a b:1", "host:port", "host:123456")) {
      assertThatThrownBy(() -> Inspectors.list(wrong)).hasMessageContaining("no HOST:PORT");
    }
  }

  @Test
  void aConnectionThatIsRefused() throws IOException {
    RuntimeInfo page = Inspectors.list(at).get(0);
    assertThatThrownBy(() -> V8Capture.connect(page))
        .isInstanceOf(CaptureException.class)
        .hasMessageContaining("cannot be connected to");
  }

  @Test
  void anAddressElsewhereIsNotFollowed() {
    for (String elsewhere :
        List.of("ws://127.0.0.1:1/x", "ws://198.51.100.7:PORT/x", "wss://127.0.0.1:PORT/x", "x")) {
      list = PAGES.replaceFirst("ws://127.0.0.1:PORT/devtools/page/A1", elsewhere);
      assertThatThrownBy(() -> Inspectors.list(at))
          .as(elsewhere)
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("names an address elsewhere");
    }
  }

  @Test
  void anAnswerWithoutEndIsGivenUp() throws Exception {
    try (ServerSocket dribbling = new ServerSocket(0, 5, InetAddress.getLoopbackAddress())) {
      Thread serving =
          new Thread(
              () -> {
                try (Socket socket = dribbling.accept()) {
                  socket
                      .getOutputStream()
                      .write("HTTP/1.1 200 OK\r\nContent-Length: 999999\r\n\r\n[".getBytes());
                  socket.getOutputStream().flush();
                  // the body never ends; the other side closes
                  socket.getInputStream().readAllBytes();
                } catch (IOException e) {
                  return;
                }
              });
      serving.setDaemon(true);
      serving.start();
      long begun = System.nanoTime();
      assertThatThrownBy(
              () -> Inspectors.addressAt(dribbling.getLocalPort(), Duration.ofSeconds(1)))
          .isInstanceOf(CaptureException.class)
          .hasMessageContaining("has not answered for 1 s");
      assertThat(Duration.ofNanos(System.nanoTime() - begun)).isLessThan(Duration.ofSeconds(8));
    }
    list = " ".repeat(9 << 20);
    assertThatThrownBy(() -> Inspectors.list(at)).hasMessageContaining("no debugging port");
  }
}
