package lipsanon.cli.command.share;

import com.sun.net.httpserver.HttpExchange;
import com.sun.net.httpserver.HttpServer;
import java.io.IOException;
import java.io.OutputStream;
import java.io.PrintWriter;
import java.io.StringWriter;
import java.net.InetAddress;
import java.net.InetSocketAddress;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.page.PageData;
import lipsanon.cli.page.PageFile;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.JsonAnswers;
import lipsanon.index.IdStyle;
import lipsanon.index.Snapshot;

/**
 * Serves a report page to this machine's own browser. It listens on the loopback only, and knows
 * only addresses that begin with a random word which is told once; what a page of somebody else
 * asks through the user's browser does not have it. One question at a time: a snapshot's reader of
 * single objects is of one thread.
 */
final class ReportServer {
  private static final int TOKEN_BYTES = 24;

  private final Context context;
  private final LiveAnswers answers;
  private final PageData data;
  private final int port;

  ReportServer(Context context, Format format, Snapshot snapshot, PageData data, int port) {
    this.context = context;
    this.answers = new LiveAnswers(snapshot, format);
    this.data = data;
    this.port = port;
  }

  int run() throws IOException, InterruptedException {
    byte[] random = new byte[TOKEN_BYTES];
    new SecureRandom().nextBytes(random);
    String base = "/" + HexFormat.of().formatHex(random) + "/";
    InetAddress loopback = InetAddress.getLoopbackAddress();
    HttpServer server = HttpServer.create(new InetSocketAddress(loopback, port), 0);
    ExecutorService one = Executors.newSingleThreadExecutor();
    CountDownLatch stopped = new CountDownLatch(1);
    Thread hook =
        new Thread(
            () -> {
              server.stop(0);
              stopped.countDown();
            });
    Runtime.getRuntime().addShutdownHook(hook);
    server.setExecutor(one);
    server.createContext("/", exchange -> reply(exchange, 404, "text/plain", "not here"));
    server.createContext(base, exchange -> answer(exchange, base));
    server.start();
    int at = server.getAddress().getPort();
    context.out().println("http://127.0.0.1:" + at + base);
    context
        .out()
        .println(
            "Open this address in a browser of this machine; whoever has it can read the snapshot."
                + " Ctrl-C ends it.");
    context.out().flush();
    try {
      stopped.await();
    } finally {
      server.stop(0);
      one.shutdownNow();
    }
    return ExitCodes.FINE;
  }

  private void answer(HttpExchange exchange, String base) throws IOException {
    try {
      String host = String.valueOf(exchange.getRequestHeaders().getFirst("Host"));
      // a name that somebody made to lead here is not ours
      boolean ours = host.matches("(127\\.0\\.0\\.1|localhost|\\[::1\\])(:\\d+)?");
      if (!ours || !exchange.getRequestMethod().equals("GET")) {
        reply(exchange, 403, "text/plain", "refused");
        return;
      }
      String what = exchange.getRequestURI().getPath().substring(base.length());
      if (what.isEmpty()) {
        StringWriter page = new StringWriter();
        PageFile.write(page, data);
        reply(exchange, 200, "text/html; charset=utf-8", page.toString());
        return;
      }
      if (what.equals("type")) {
        String name = parameter(exchange.getRequestURI().getRawQuery(), "name=");
        reply(exchange, 200, "application/json; charset=utf-8", json(answers.ofType(name)));
        return;
      }
      String id = parameter(exchange.getRequestURI().getRawQuery(), "id=");
      if (!LiveAnswers.QUESTIONS.contains(what) || !IdStyle.matches(id)) {
        reply(exchange, 404, "text/plain", "not here");
        return;
      }
      reply(exchange, 200, "application/json; charset=utf-8", json(answers.ask(what, id)));
    } catch (RuntimeException e) {
      reply(exchange, 500, "text/plain", "the question failed");
    }
  }

  private static String parameter(String query, String start) {
    return query == null || !query.startsWith(start)
        ? ""
        : URLDecoder.decode(query.substring(start.length()), StandardCharsets.UTF_8);
  }

  private static String json(LiveAnswers.Answer answer) throws IOException {
    StringWriter text = new StringWriter();
    PrintWriter out = new PrintWriter(text);
    JsonAnswers.line(out, answer);
    out.flush();
    return text.toString();
  }

  private static void reply(HttpExchange exchange, int code, String type, String text)
      throws IOException {
    byte[] body = text.getBytes(StandardCharsets.UTF_8);
    exchange.getResponseHeaders().set("Content-Type", type);
    exchange.getResponseHeaders().set("X-Content-Type-Options", "nosniff");
    exchange.getResponseHeaders().set("Referrer-Policy", "no-referrer");
    exchange.getResponseHeaders().set("Cache-Control", "no-store");
    exchange.sendResponseHeaders(code, body.length);
    try (OutputStream out = exchange.getResponseBody()) {
      out.write(body);
    }
  }
}
