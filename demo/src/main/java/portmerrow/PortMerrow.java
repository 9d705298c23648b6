package portmerrow;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.BufferedReader;
import java.io.IOException;
import java.io.InputStreamReader;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.nio.charset.StandardCharsets;

/**
 * The harbour office as a service. A day passes for each line {@code day} (or {@code days N}) on
 * its input, and for each request to {@code /day} (or {@code /days/N}) on its loopback port.
 */
public final class PortMerrow {
  private static HarbourOffice office;

  private PortMerrow() {}

  /**
   * Runs until {@code quit}.
   *
   * @param args {@code --fixed} for the variant that does not grow; {@code --port N}
   */
  public static void main(String[] args) throws IOException {
    boolean fixed = false;
    int port = 0;
    for (int i = 0; i < args.length; i++) {
      fixed |= args[i].equals("--fixed");
      if (args[i].equals("--port") && i + 1 < args.length) {
        port = Integer.parseInt(args[i + 1]);
      }
    }
    office = new HarbourOffice(fixed);
    HttpServer server =
        HttpServer.create(new InetSocketAddress(InetAddress.getLoopbackAddress(), port), 0);
    server.createContext("/", PortMerrow::answer);
    server.start();
    System.out.println(
        "Port Merrow is open at http://127.0.0.1:" + server.getAddress().getPort() + "/");
    BufferedReader in =
        new BufferedReader(new InputStreamReader(System.in, StandardCharsets.UTF_8));
    for (String line = in.readLine(); line != null; line = in.readLine()) {
      if (line.equals("quit")) {
        server.stop(0);
        return;
      }
      System.out.println(obey(line));
    }
    // without an input it is the port that keeps the office open
  }

  private static String obey(String line) {
    if (line.equals("day")) {
      return office.runDay();
    }
    if (line.matches("days[ /]\\d{1,6}")) {
      String last = "";
      for (int left = Integer.parseInt(line.substring(5)); left > 0; left--) {
        last = office.runDay();
      }
      return last;
    }
    return line.isEmpty() || line.equals("status")
        ? office.status()
        : "say: day, days N, status, quit";
  }

  private static void answer(HttpExchange exchange) throws IOException {
    String reply = obey(exchange.getRequestURI().getPath().substring(1)) + "\n";
    byte[] bytes = reply.getBytes(StandardCharsets.UTF_8);
    exchange.sendResponseHeaders(200, bytes.length);
    try (var body = exchange.getResponseBody()) {
      body.write(bytes);
    }
  }
}
