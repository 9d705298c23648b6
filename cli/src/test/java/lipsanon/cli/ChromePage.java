package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.CopyOnWriteArrayList;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;

/** A page in a headless Chromium, driven by the browser's own debugging protocol. */
final class ChromePage implements AutoCloseable {
  private static final long PATIENCE_SECONDS = 60;

  private final ObjectMapper json = new ObjectMapper();
  private final Process process;
  private final WebSocket socket;
  private final AtomicInteger ids = new AtomicInteger();
  private final Map<Integer, CompletableFuture<JsonNode>> replies = new ConcurrentHashMap<>();

  /** Errors that the page has told its console, exceptions, and what its policy refused. */
  final List<String> errors = new CopyOnWriteArrayList<>();

  ChromePage(Path profile, String url) throws Exception {
    List<String> command = Browser.command(0, profile, "about:blank");
    process =
        new ProcessBuilder(command)
            .redirectErrorStream(true)
            .redirectOutput(ProcessBuilder.Redirect.DISCARD)
            .start();
    Path port = profile.resolve("DevToolsActivePort");
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    while (!Files.exists(port) || Files.readAllLines(port).size() < 2) {
      assertThat(System.nanoTime()).as("the browser started").isLessThan(end);
      process.waitFor(50, TimeUnit.MILLISECONDS);
    }
    HttpClient client = HttpClient.newHttpClient();
    String list = "http://127.0.0.1:" + Files.readAllLines(port).get(0) + "/json/list";
    String address = "";
    while (address.isEmpty()) {
      assertThat(System.nanoTime()).as("the browser has a page").isLessThan(end);
      String body =
          client
              .send(
                  java.net.http.HttpRequest.newBuilder(URI.create(list)).build(),
                  java.net.http.HttpResponse.BodyHandlers.ofString())
              .body();
      for (JsonNode one : json.readTree(body)) {
        if (one.get("type").asText().equals("page")) {
          address = one.get("webSocketDebuggerUrl").asText();
        }
      }
    }
    socket =
        client
            .newWebSocketBuilder()
            .buildAsync(URI.create(address), new Listener())
            .get(PATIENCE_SECONDS, TimeUnit.SECONDS);
    ask("Runtime.enable", Map.of());
    ask("Log.enable", Map.of());
    ask("Page.enable", Map.of());
    ask("Page.navigate", Map.of("url", url));
  }

  private final class Listener implements WebSocket.Listener {
    private final StringBuilder text = new StringBuilder();

    @Override
    public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
      text.append(data);
      if (last) {
        hear(text.toString());
        text.setLength(0);
      }
      from.request(1);
      return null;
    }
  }

  private void hear(String message) {
    try {
      JsonNode node = json.readTree(message);
      if (node.has("id")) {
        CompletableFuture<JsonNode> waiting = replies.remove(node.get("id").asInt());
        if (waiting != null) {
          waiting.complete(node);
        }
        return;
      }
      String method = node.get("method").asText();
      JsonNode params = node.get("params");
      if (method.equals("Runtime.exceptionThrown")) {
        errors.add(params.toString());
      } else if (method.equals("Log.entryAdded")
          && params.get("entry").get("level").asText().equals("error")) {
        errors.add(params.get("entry").get("text").asText());
      } else if (method.equals("Runtime.consoleAPICalled")
          && List.of("error", "assert").contains(params.get("type").asText())) {
        errors.add(params.toString());
      }
    } catch (IOException e) {
      errors.add(e.toString());
    }
  }

  JsonNode ask(String method, Map<String, ?> params) throws Exception {
    int id = ids.incrementAndGet();
    CompletableFuture<JsonNode> reply = new CompletableFuture<>();
    replies.put(id, reply);
    ObjectNode message = json.createObjectNode();
    message.put("id", id);
    message.put("method", method);
    message.set("params", json.valueToTree(params));
    socket.sendText(json.writeValueAsString(message), true).get();
    JsonNode answer = reply.get(PATIENCE_SECONDS, TimeUnit.SECONDS);
    assertThat(answer.has("error")).as(method + ": " + answer).isFalse();
    return answer.get("result");
  }

  /** The value of an expression in the page. */
  JsonNode eval(String expression) throws Exception {
    JsonNode result =
        ask("Runtime.evaluate", Map.of("expression", expression, "returnByValue", true));
    assertThat(result.has("exceptionDetails")).as(expression + ": " + result).isFalse();
    JsonNode value = result.get("result").get("value");
    return value == null ? json.nullNode() : value;
  }

  /** Waits until an expression in the page is true. */
  void until(String expression) throws Exception {
    long end = System.nanoTime() + TimeUnit.SECONDS.toNanos(PATIENCE_SECONDS);
    // while a page is being loaded there is nothing to look at
    String safe =
        "(() => { try { return Boolean(" + expression + "); } catch { return false; } })()";
    while (!eval(safe).asBoolean()) {
      assertThat(System.nanoTime()).as(expression + " " + errors).isLessThan(end);
      process.waitFor(30, TimeUnit.MILLISECONDS);
    }
  }

  /** Presses a key. */
  void key(String key, int code) throws Exception {
    List<String> types = new ArrayList<>(List.of("rawKeyDown", "keyUp"));
    if (key.equals("Enter")) {
      types.add(1, "char");
    }
    for (String type : types) {
      ask(
          "Input.dispatchKeyEvent",
          Map.of(
              "type", type,
              "key", key,
              "code", key,
              "text", key.equals("Enter") && type.equals("char") ? "\r" : "",
              "windowsVirtualKeyCode", code));
    }
  }

  /** Clicks at a place of the window. */
  void click(double x, double y) throws Exception {
    for (String type : List.of("mouseMoved", "mousePressed", "mouseReleased")) {
      ask(
          "Input.dispatchMouseEvent",
          Map.of("type", type, "x", x, "y", y, "button", "left", "clickCount", 1));
    }
  }

  byte[] picture() throws Exception {
    return Base64.getDecoder()
        .decode(ask("Page.captureScreenshot", Map.of("format", "png")).get("data").asText());
  }

  @Override
  public void close() {
    socket.abort();
    process.destroyForcibly();
    try {
      process.waitFor(10, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
