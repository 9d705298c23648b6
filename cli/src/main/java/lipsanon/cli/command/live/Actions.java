package lipsanon.cli.command.live;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import lipsanon.capture.CaptureException;
import lipsanon.capture.v8.V8Capture;
import lipsanon.capture.v8.V8Page;

/** The actions that a rehearsal knows. */
public final class Actions {
  private static final Duration PATIENCE = Duration.ofSeconds(60);

  private Actions() {}

  /** Gets a URL. */
  public static Action get(String url) {
    // plainly: servers with web sockets hang up on whoever offers to go over to HTTP/2, and what
    // others keep for that would be found to pile up
    HttpClient client =
        HttpClient.newBuilder()
            .version(HttpClient.Version.HTTP_1_1)
            .connectTimeout(Duration.ofSeconds(10))
            .build();
    return (target, live, round) -> {
      try {
        HttpRequest request =
            HttpRequest.newBuilder(URI.create(url)).timeout(PATIENCE).GET().build();
        HttpResponse<byte[]> response =
            client.send(request, HttpResponse.BodyHandlers.ofByteArray());
        boolean fine = response.statusCode() < 400;
        return fine ? null : url + " answered with status " + response.statusCode();
      } catch (IOException | IllegalArgumentException e) {
        return url + " cannot be got (" + e + ")";
      }
    };
  }

  /** Runs a shell command, which finds the target and the round in its environment. */
  static Action shell(String command) {
    return (target, live, round) -> {
      ProcessBuilder builder = new ProcessBuilder("sh", "-c", command);
      builder.environment().put("LIPSANON_TARGET_PID", target.id());
      builder.environment().put("LIPSANON_ROUND", Integer.toString(round));
      Path output = Files.createTempFile("lipsanon-action-", ".log");
      try {
        Process process = builder.redirectErrorStream(true).redirectOutput(output.toFile()).start();
        process.getOutputStream().close();
        int code = process.waitFor();
        if (code == 0) {
          return null;
        }
        List<String> lines = Files.readString(output, StandardCharsets.ISO_8859_1).lines().toList();
        String last = lines.isEmpty() ? "" : ": " + lines.get(lines.size() - 1);
        return "`" + command + "` ended with code " + code + last;
      } finally {
        Files.deleteIfExists(output);
      }
    };
  }

  private interface InPage {
    void perform(V8Page page) throws CaptureException;
  }

  private static Action inPage(InPage work) {
    return (target, live, round) -> {
      if (!(live instanceof V8Capture capture)) {
        return "the target is no page: it takes --action or --get";
      }
      try {
        work.perform(V8Page.of(capture));
        return null;
      } catch (CaptureException e) {
        return e.getMessage();
      }
    };
  }

  /** Runs JavaScript in the page. */
  static Action script(String script) {
    return inPage(page -> page.run(script));
  }

  /** Clicks elements, one after the other. */
  public static Action click(List<String> selectors) {
    return inPage(
        page -> {
          for (String selector : selectors) {
            page.click(selector);
          }
        });
  }

  /** Goes to an address and back. */
  static Action visit(String url) {
    return inPage(page -> page.visit(url));
  }
}
