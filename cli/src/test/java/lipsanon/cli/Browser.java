package lipsanon.cli;

import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.ServerSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.TimeUnit;

/** A headless Chromium with one of the test pages, served on the loopback. */
final class Browser implements AutoCloseable {
  private static final Path PAGES = Path.of("src/test/resources/pages");

  private final HttpServer server;
  private final Process process;
  final String at;
  final String url;

  Browser(Path folder, String page) throws Exception {
    server = HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), 0), 0);
    server.createContext(
        "/",
        exchange -> {
          Path file = PAGES.resolve(exchange.getRequestURI().getPath().substring(1));
          boolean there = Files.isRegularFile(file);
          byte[] body = there ? Files.readAllBytes(file) : new byte[0];
          String type = file.toString().endsWith(".js") ? "text/javascript" : "text/html";
          exchange.getResponseHeaders().add("Content-Type", type + "; charset=utf-8");
          exchange.sendResponseHeaders(there ? 200 : 404, body.length == 0 ? -1 : body.length);
          exchange.getResponseBody().write(body);
          exchange.close();
        });
    server.start();
    url = "http://127.0.0.1:" + server.getAddress().getPort() + "/";
    int port = freePort();
    at = "127.0.0.1:" + port;
    process =
        new ProcessBuilder(command(port, folder.resolve("browser"), url + page))
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    long deadline = System.nanoTime() + TimeUnit.SECONDS.toNanos(60);
    while (true) {
      Tool.Result runtimes = Tool.run(folder, "runtimes", "--at", at, "--json");
      if (runtimes.code() == 0 && runtimes.out().contains(url + page)) {
        return;
      }
      if (System.nanoTime() > deadline) {
        close();
        throw new IOException("no page: " + runtimes.both());
      }
    }
  }

  /** A headless browser that shows a page and listens on the loopback; 0: on any port. */
  static List<String> command(int port, Path profile, String page) {
    return List.of(
        "chromium",
        "--headless",
        "--no-sandbox",
        "--disable-gpu",
        "--disable-quic",
        "--no-first-run",
        "--disable-background-networking",
        "--disable-component-update",
        "--disable-sync",
        "--window-size=1280,800",
        "--remote-debugging-port=" + port,
        "--user-data-dir=" + profile,
        page);
  }

  static int freePort() throws IOException {
    try (ServerSocket socket = new ServerSocket(0)) {
      return socket.getLocalPort();
    }
  }

  @Override
  public void close() {
    process.descendants().forEach(ProcessHandle::destroyForcibly);
    process.destroyForcibly().onExit().join();
    server.stop(0);
  }
}
