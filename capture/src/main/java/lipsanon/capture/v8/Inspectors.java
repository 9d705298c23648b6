package lipsanon.capture.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpConnectTimeoutException;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpTimeoutException;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import lipsanon.capture.CaptureException;
import lipsanon.capture.RuntimeInfo;

/** What answers at a debugging port: its list of targets, got over HTTP. */
public final class Inspectors {
  private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "localhost", "[::1]");
  private static final Set<String> KINDS =
      Set.of("page", "node", "worker", "service_worker", "shared_worker", "iframe");
  private static final ObjectMapper JSON = new ObjectMapper();

  /** More than any list of targets has. */
  private static final int LONGEST_LIST = 8 << 20;

  private Inspectors() {}

  /**
   * The pages, workers and processes behind a port.
   *
   * @param at HOST:PORT
   * @throws CaptureException if nothing answers there, or something else
   */
  public static List<RuntimeInfo> list(String at) throws CaptureException {
    if (!at.matches("(\\[[0-9a-fA-F:]+\\]|[^:/\\s]+):[0-9]{1,5}")) {
      throw new CaptureException("\"" + at + "\" is no HOST:PORT, such as 127.0.0.1:9222");
    }
    JsonNode list = get(at, "/json/list", Duration.ofSeconds(10));
    if (!list.isArray()) {
      throw other(at);
    }
    String version = get(at, "/json/version", Duration.ofSeconds(10)).path("Browser").asText("");
    List<RuntimeInfo> found = new ArrayList<>();
    for (JsonNode target : list) {
      String address = target.path("webSocketDebuggerUrl").asText("");
      String type = target.path("type").asText("");
      if (KINDS.contains(type) && !address.isEmpty()) {
        checkAddress(at, address);
        String program = target.path("url").asText("");
        found.add(
            new RuntimeInfo(
                target.path("id").asText(""),
                -1,
                type.equals("node") ? RuntimeInfo.NODE : type.replace('_', ' '),
                version.replaceFirst("^node\\.js/", ""),
                program.isEmpty() ? target.path("title").asText("") : program,
                -1,
                -1,
                -1,
                "yes",
                address));
      }
    }
    return found;
  }

  /**
   * The address of a process's inspector, or "" if it gives none.
   *
   * @throws CaptureException if something else or nothing answers there
   */
  static String addressAt(int port, Duration patience) throws CaptureException {
    String at = "127.0.0.1:" + port;
    JsonNode list = get(at, "/json/list", patience);
    String address = list.path(0).path("webSocketDebuggerUrl").asText("");
    if (!address.isEmpty()) {
      checkAddress(at, address);
    }
    return address;
  }

  /** What a server says of itself must not lead elsewhere. */
  private static void checkAddress(String at, String address) throws CaptureException {
    boolean same;
    try {
      URI asked = URI.create("ws://" + at);
      URI given = URI.create(address);
      same =
          "ws".equals(given.getScheme())
              && asked.getPort() == given.getPort()
              && (asked.getHost().equalsIgnoreCase(given.getHost())
                  || LOOPBACK.contains(asked.getHost()) && LOOPBACK.contains(given.getHost()));
    } catch (IllegalArgumentException e) {
      same = false;
    }
    if (!same) {
      throw new CaptureException(
          "what answers at "
              + at
              + " names an address elsewhere ("
              + (address.length() > 100 ? address.substring(0, 100) + "..." : address)
              + "), which is not followed");
    }
  }

  private static JsonNode get(String at, String path, Duration patience) throws CaptureException {
    try {
      // an offer of HTTP/2 would look like the beginning of a WebSocket
      HttpClient client =
          HttpClient.newBuilder()
              .version(HttpClient.Version.HTTP_1_1)
              .connectTimeout(patience)
              .build();
      HttpRequest request =
          HttpRequest.newBuilder(URI.create("http://" + at + path)).timeout(patience).build();
      HttpResponse<InputStream> response =
          client.send(request, HttpResponse.BodyHandlers.ofInputStream());
      try (InputStream body = response.body()) {
        if (response.statusCode() != 200) {
          throw other(at);
        }
        return JSON.readTree(whole(at, body, patience));
      }
    } catch (JacksonException e) {
      throw other(at);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
      throw new CaptureException("interrupted", e);
    } catch (CaptureException e) {
      throw e;
    } catch (HttpConnectTimeoutException e) {
      throw nobody(at, e);
    } catch (HttpTimeoutException e) {
      throw new CaptureException(silence(at, patience), e);
    } catch (IOException | IllegalArgumentException e) {
      throw nobody(at, e);
    }
  }

  /** A body that neither dribbles for ever nor is without end. */
  private static byte[] whole(String at, InputStream body, Duration patience) throws IOException {
    // closing the stream from another thread is what ends a read that waits
    Thread reader = Thread.currentThread();
    AtomicBoolean late = new AtomicBoolean();
    Thread clock =
        new Thread(
            () -> {
              try {
                reader.join(patience.toMillis());
                late.set(true);
                body.close();
              } catch (InterruptedException | IOException e) {
                // the answer came in time
                return;
              }
            },
            "lipsanon-deadline");
    clock.setDaemon(true);
    clock.start();
    try {
      byte[] bytes = body.readNBytes(LONGEST_LIST + 1);
      if (bytes.length > LONGEST_LIST) {
        throw other(at);
      }
      return bytes;
    } catch (IOException e) {
      throw late.get() ? new CaptureException(silence(at, patience), e) : e;
    } finally {
      clock.interrupt();
    }
  }

  private static String silence(String at, Duration patience) {
    return "what listens at "
        + at
        + " has not answered for "
        + patience.toSeconds()
        + " s (is the program stopped, or is it no debugging port?)";
  }

  private static CaptureException nobody(String at, Exception e) {
    return new CaptureException(
        "no debugging port answers at "
            + at
            + " (start the browser with --remote-debugging-port=PORT, or Node.js with"
            + " --inspect=HOST:PORT)",
        e);
  }

  private static CaptureException other(String at) {
    return new CaptureException(
        "what answers at " + at + " is no debugging port of a browser or of Node.js");
  }
}
