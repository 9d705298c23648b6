package lipsanon.capture.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.StreamReadConstraints;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.WebSocket;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CompletionException;
import java.util.concurrent.CompletionStage;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import lipsanon.capture.CaptureException;
import lipsanon.capture.CaptureProgress;

/**
 * A connection to an inspector: commands and their replies as JSON over a WebSocket. Messages that
 * are no replies are events; the caller of the command that is under way hears them. One thread.
 */
final class Inspector implements AutoCloseable {
  /** In the message of a command that the target does not do. */
  static final String REFUSED = " refused ";

  /** Without a sign of life for so long, the target is given up. */
  static final Duration PATIENCE = Duration.ofSeconds(600);

  /** A target that collects garbage is silent for a moment: from so many seconds on it is told. */
  private static final int WORTH_TELLING = 2;

  private static final int MOST_WAITING = 16;

  /** Browsers send pieces of about a megabyte. */
  private static final int LONGEST_MESSAGE = 256 << 20;

  private static final ObjectMapper JSON = new ObjectMapper();

  static {
    JSON.getFactory()
        .setStreamReadConstraints(
            StreamReadConstraints.builder()
                .maxStringLength(Integer.MAX_VALUE)
                .maxNestingDepth(100_000)
                .build());
  }

  private final String name;
  private final long pid;
  private final WebSocket socket;
  private final Incoming incoming;
  private final Duration patience;
  private CaptureProgress progress = CaptureProgress.NONE;
  private int lastId;

  /** Hears events. */
  interface Events {
    /** Nobody listens. */
    Events NONE = (method, params) -> {};

    /** Something happened. */
    void event(String method, JsonNode params) throws IOException;
  }

  private Inspector(String name, long pid, WebSocket socket, Incoming incoming, Duration patience) {
    this.name = name;
    this.pid = pid;
    this.socket = socket;
    this.incoming = incoming;
    this.patience = patience;
  }

  /**
   * Connects.
   *
   * @param name what messages call the target
   * @param pid of the target, if it is a process of this machine; else -1
   * @param address its WebSocket address
   * @param patience how long it may be silent, in whole seconds
   */
  static Inspector connect(String name, long pid, String address, Duration patience)
      throws CaptureException {
    Incoming incoming = new Incoming();
    try {
      // no Origin header: browsers refuse those that they do not know
      WebSocket socket =
          HttpClient.newHttpClient()
              .newWebSocketBuilder()
              .connectTimeout(Duration.ofSeconds(20))
              .buildAsync(URI.create(address), incoming)
              .orTimeout(20, TimeUnit.SECONDS)
              .join();
      return new Inspector(name, pid, socket, incoming, patience);
    } catch (CompletionException | IllegalArgumentException e) {
      throw new CaptureException(
          name + " cannot be connected to at " + address + " (has it ended?)", e);
    }
  }

  /** What came in; the socket's own thread fills it. */
  private static final class Incoming implements WebSocket.Listener {
    private static final String CLOSED = "";

    // no more messages are asked for than are taken out: a snapshot must not pile up here
    private final BlockingQueue<String> messages = new LinkedBlockingQueue<>();
    private final StringBuilder parts = new StringBuilder();
    private WebSocket socket;

    @Override
    public synchronized void onOpen(WebSocket opened) {
      socket = opened;
      opened.request(MOST_WAITING);
    }

    @Override
    public CompletionStage<?> onText(WebSocket from, CharSequence data, boolean last) {
      if (parts.length() + data.length() > LONGEST_MESSAGE) {
        messages.add(CLOSED);
        from.abort();
        return null;
      }
      parts.append(data);
      if (last) {
        messages.add(parts.toString());
        parts.setLength(0);
      } else {
        from.request(1);
      }
      return null;
    }

    @Override
    public CompletionStage<?> onClose(WebSocket from, int status, String reason) {
      messages.add(CLOSED);
      return null;
    }

    @Override
    public void onError(WebSocket from, Throwable error) {
      messages.add(CLOSED);
    }

    /** The next message; null if none comes in time, empty once the connection has ended. */
    String poll(long millis) throws InterruptedException {
      String message = messages.poll(millis, TimeUnit.MILLISECONDS);
      if (CLOSED.equals(message)) {
        messages.add(CLOSED);
      } else if (message != null) {
        synchronized (this) {
          socket.request(1);
        }
      }
      return message;
    }
  }

  /** Tells whether it is time to stop. */
  interface Until {
    /** Asked about ten times a second. */
    boolean done() throws IOException;
  }

  /** Hears events until it is time to stop. */
  void listen(Until until, Events events) throws IOException {
    while (!until.done()) {
      try {
        String text = incoming.poll(100);
        if (text != null && text.isEmpty()) {
          throw vanished(null);
        }
        JsonNode message = text == null ? params() : JSON.readTree(text);
        if (message.has("method")) {
          events.event(message.path("method").asText(), message.path("params"));
        }
      } catch (InterruptedException e) {
        Thread.currentThread().interrupt();
        throw new CaptureException("interrupted", e);
      }
    }
  }

  /** Has silences told, once a second. */
  void report(CaptureProgress hears) {
    progress = hears;
  }

  /** An empty object, for parameters. */
  static ObjectNode params() {
    return JSON.createObjectNode();
  }

  /**
   * Gives a command and waits for its reply.
   *
   * @return its result
   * @throws CaptureException if the target refuses, vanishes or falls silent
   */
  JsonNode call(String method, ObjectNode params, Events events) throws CaptureException {
    return call(method, params, events, patience);
  }

  /** The same of a command that may well have no reply: one that comes too late is passed over. */
  JsonNode callWithin(Duration most, String method, ObjectNode params) throws CaptureException {
    return call(method, params, Events.NONE, most);
  }

  private JsonNode call(String method, ObjectNode params, Events events, Duration most)
      throws CaptureException {
    int id = ++lastId;
    ObjectNode message = params();
    message.put("id", id).put("method", method).set("params", params);
    try {
      socket.sendText(message.toString(), true).join();
      while (true) {
        JsonNode reply = receive(most);
        if (reply.path("id").asInt(-1) == id) {
          if (reply.has("error")) {
            throw new CaptureException(
                name + REFUSED + method + ": " + reply.path("error").path("message").asText());
          }
          return reply.path("result");
        }
        if (reply.has("method")) {
          events.event(reply.path("method").asText(), reply.path("params"));
        }
      }
    } catch (CompletionException e) {
      throw vanished(e);
    } catch (CaptureException e) {
      throw e;
    } catch (IOException e) {
      throw new CaptureException(e.getMessage(), e);
    }
  }

  JsonNode call(String method, ObjectNode params) throws CaptureException {
    return call(method, params, Events.NONE);
  }

  JsonNode call(String method) throws CaptureException {
    return call(method, params(), Events.NONE);
  }

  private JsonNode receive(Duration most) throws CaptureException {
    try {
      String text = incoming.poll(1000);
      for (int seconds = 1; text == null; seconds++) {
        if (seconds >= most.toSeconds()) {
          throw new CaptureException(
              name + " has not answered for " + seconds + " s (is it stopped, or that busy?)");
        }
        if (seconds >= WORTH_TELLING) {
          progress.at("no answer for " + seconds + " s", 0, 0);
        }
        text = incoming.poll(1000);
        // that a connection broke is not always told when its other end is killed
        if (text == null && pid >= 0 && !Files.isDirectory(Path.of("/proc/" + pid))) {
          throw vanished(null);
        }
      }
      if (text.isEmpty()) {
        throw vanished(null);
      }
      return JSON.readTree(text);
    } catch (JacksonException e) {
      throw new CaptureException(name + " sent what is no JSON", e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    }
  }

  private CaptureException vanished(Throwable cause) {
    return new CaptureException(name + " vanished or closed the connection", cause);
  }

  /**
   * Evaluates an expression in the target and waits for its value, a promise's included.
   *
   * @return the value as JSON
   * @throws CaptureException with what the expression threw
   */
  JsonNode evaluate(String expression) throws CaptureException {
    ObjectNode params =
        params()
            .put("expression", expression)
            .put("returnByValue", true)
            .put("awaitPromise", true)
            .put("includeCommandLineAPI", true)
            .put("userGesture", true);
    JsonNode result = call("Runtime.evaluate", params);
    JsonNode thrown = result.path("exceptionDetails");
    if (!thrown.isMissingNode()) {
      JsonNode what = thrown.path("exception").path("description");
      String text = what.isMissingNode() ? thrown.path("text").asText() : what.asText();
      throw new CaptureException(name + " threw " + text.lines().findFirst().orElse("something"));
    }
    return result.path("result").path("value");
  }

  @Override
  public void close() {
    try {
      socket.sendClose(WebSocket.NORMAL_CLOSURE, "").get(2, TimeUnit.SECONDS);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    } catch (java.util.concurrent.ExecutionException | java.util.concurrent.TimeoutException e) {
      // it is gone already
    }
    socket.abort();
  }
}
