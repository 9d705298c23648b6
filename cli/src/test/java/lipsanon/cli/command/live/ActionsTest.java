package lipsanon.cli.command.live;

import static org.assertj.core.api.Assertions.assertThat;

import com.sun.net.httpserver.HttpServer;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Getting a URL as an action, from a server that looks at what it is asked. */
class ActionsTest {
  private final List<String> upgrades = Collections.synchronizedList(new ArrayList<>());
  private HttpServer server;

  @BeforeEach
  void start() throws Exception {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          upgrades.add(String.valueOf(exchange.getRequestHeaders().getFirst("Upgrade")));
          boolean known = exchange.getRequestURI().getPath().equals("/tides");
          exchange.sendResponseHeaders(known ? 200 : 404, -1);
          exchange.close();
        });
    server.start();
  }

  @AfterEach
  void stop() {
    server.stop(0);
  }

  private String get(String path) throws Exception {
    String at = "http://127.0.0.1:" + server.getAddress().getPort();
    return Actions.get(at + path).perform(null, null, 1);
  }

  /** A server with web sockets takes any other upgrade for one, and hangs up. */
  @Test
  void noServerIsAskedToGoOverToAnotherProtocol() throws Exception {
    assertThat(get("/tides")).isNull();
    assertThat(upgrades).containsExactly("null");
  }

  @Test
  void whatDoesNotAnswerWellIsAProblem() throws Exception {
    assertThat(get("/none")).endsWith("/none answered with status 404");
    server.stop(0);
    assertThat(get("/tides")).contains("/tides cannot be got");
  }
}
