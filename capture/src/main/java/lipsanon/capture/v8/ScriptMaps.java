package lipsanon.capture.v8;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import com.fasterxml.jackson.databind.node.ObjectNode;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.time.Duration;
import java.util.Base64;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.Map;
import lipsanon.capture.CaptureException;
import lipsanon.scripts.Declarations;
import lipsanon.scripts.InnerScope;
import lipsanon.scripts.InnerScopes;

/**
 * The source maps of a target's scripts, without the sources' contents: by them a place in a script
 * that a bundler or compiler has made is told where it was written. A map in the script itself is
 * taken from there; the browser itself is asked for those of a page, and only if they lie where the
 * script came from; those of files are read if the target runs on this machine. A map that cannot
 * be had is left out.
 */
final class ScriptMaps {
  /** The member of a snapshot that they are put into. */
  static final String MEMBER = "lipsanon_source_maps";

  private static final ObjectMapper JSON = new ObjectMapper();
  private static final int LONGEST = 64 << 20;
  private static final long MOST = 256L << 20;
  private static final int PIECE = 1 << 20;

  /** All maps together; those that are not there by then come with the next snapshot. */
  private static final Duration PATIENCE = Duration.ofSeconds(10);

  /** One that a server does not send. */
  private static final Duration OF_SERVER = Duration.ofSeconds(5);

  private final Inspector inspector;
  private final boolean files;

  /** By the addresses of a script and its map; "" for none. */
  private final Map<String, String> known = new HashMap<>();

  private long fetchedBytes;

  /**
   * Of a target.
   *
   * @param files whether files that it names are files of this machine
   */
  ScriptMaps(Inspector inspector, boolean files) {
    this.inspector = inspector;
    this.files = files;
  }

  /** A script as the target tells of it. */
  private record Script(String url, String map) {
    String key() {
      return url + "\n" + map;
    }
  }

  /**
   * All maps as a member of a JSON object, with the comma before it; "" if there are none.
   *
   * @throws CaptureException only if the target is gone
   */
  String member() throws CaptureException {
    String all = all();
    return all.isEmpty() ? "" : ",\n\"" + MEMBER + "\":" + all;
  }

  /** All maps, by script, as a JSON object; "" if there are none. */
  String all() throws CaptureException {
    Map<String, Script> scripts;
    try {
      scripts = scripts();
    } catch (CaptureException e) {
      if (e.getMessage().contains(Inspector.REFUSED)) {
        // a target without a debugger has a heap all the same
        return "";
      }
      throw e;
    }
    try {
      return all(scripts);
    } finally {
      inspector.call("Debugger.disable");
    }
  }

  private String all(Map<String, Script> scripts) throws CaptureException {
    StringBuilder text = new StringBuilder();
    long start = System.nanoTime();
    for (Map.Entry<String, Script> entry : scripts.entrySet()) {
      Script script = entry.getValue();
      String map = known.getOrDefault(script.key(), "");
      boolean late = System.nanoTime() - start > PATIENCE.toNanos();
      if (!known.containsKey(script.key()) && !late && fetchedBytes < MOST) {
        map = fetched(entry.getKey(), script);
        known.put(script.key(), map);
        fetchedBytes += map.length();
      }
      if (!map.isEmpty() && text.length() + map.length() < MOST) {
        text.append(text.length() == 0 ? "{" : ",\n");
        text.append('"').append(entry.getKey()).append("\":").append(map);
      }
    }
    return text.length() == 0 ? "" : text.append('}').toString();
  }

  /** The scripts that have a map, or only a name of their own, by number. */
  private Map<String, Script> scripts() throws CaptureException {
    Map<String, Script> scripts = new LinkedHashMap<>();
    inspector.call(
        "Debugger.enable",
        Inspector.params(),
        (method, params) -> {
          String map = params.path("sourceMapURL").asText();
          String id = params.path("scriptId").asText();
          // code that was evaluated may bear a name: V8 does not put it into snapshots
          boolean named = params.path("hasSourceURL").asBoolean();
          if (method.equals("Debugger.scriptParsed")
              && (named || !map.isEmpty())
              && id.matches("[0-9]{1,9}")) {
            scripts.put(id, new Script(params.path("url").asText(), map));
          }
        });
    // nothing may stop while we look
    inspector.call("Debugger.setSkipAllPauses", Inspector.params().put("skip", true));
    return scripts;
  }

  private String fetched(String id, Script script) {
    if (script.map().isEmpty()) {
      return JSON.createObjectNode().put("url", script.url()).toString();
    }
    try {
      URI at = address(script);
      byte[] bytes =
          script.map().startsWith("data:")
              ? within(script.map())
              : at == null ? null : "file".equals(at.getScheme()) ? file(at) : page(script, at);
      if (bytes == null || !(JSON.readTree(stripped(bytes)) instanceof ObjectNode map)) {
        return "";
      }
      withoutContents(map);
      String base = at == null || at.isOpaque() ? script.url() : at.toString();
      ObjectNode told = JSON.createObjectNode().put("url", script.url()).put("base", base);
      JsonNode source =
          inspector.call("Debugger.getScriptSource", Inspector.params().put("scriptId", id));
      declarations(source.path("scriptSource").asText(), told);
      return told.set("map", map).toString();
    } catch (IOException | IllegalArgumentException e) {
      // most often there is none at the address that the script names
      return "";
    }
  }

  /** Tells what the script declares, and what its functions do. */
  private static void declarations(String script, ObjectNode told) {
    ObjectNode declared = told.putObject("declared");
    Declarations.of(script)
        .forEach((name, place) -> declared.putArray(name).add(place[0]).add(place[1]));
    told.set(
        "scopes", JSON.valueToTree(InnerScopes.of(script).stream().map(InnerScope::told).toList()));
  }

  /** Where a map lies; null if that cannot be told. */
  private static URI address(Script script) {
    try {
      String base = script.url().startsWith("/") ? "file://" + script.url() : script.url();
      URI whole = script.map().startsWith("data:") ? null : new URI(script.map());
      return whole == null ? null : whole.isAbsolute() ? whole : new URI(base).resolve(whole);
    } catch (URISyntaxException e) {
      return null;
    }
  }

  private static byte[] within(String data) {
    int comma = data.indexOf(',');
    String head = comma < 0 ? "" : data.substring(0, comma);
    if (comma < 0 || data.length() > 2L * LONGEST) {
      return null;
    }
    String body = data.substring(comma + 1);
    return head.endsWith(";base64")
        ? Base64.getMimeDecoder().decode(URLDecoder.decode(plus(body), StandardCharsets.UTF_8))
        : URLDecoder.decode(plus(body), StandardCharsets.UTF_8).getBytes(StandardCharsets.UTF_8);
  }

  /** In the address of data a plus sign is one. */
  private static String plus(String body) {
    return body.replace("+", "%2B");
  }

  private byte[] file(URI at) throws IOException {
    try {
      // an address with a host names a file elsewhere
      Path path = files && at.getAuthority() == null ? Path.of(at) : null;
      boolean readable = path != null && Files.isRegularFile(path) && Files.size(path) <= LONGEST;
      return readable ? Files.readAllBytes(path) : null;
    } catch (InvalidPathException e) {
      return null;
    }
  }

  /** Has the browser load a map, as it would for its own tools: the page hears nothing of it. */
  private byte[] page(Script script, URI at) throws CaptureException {
    if (files || !sameOrigin(script.url(), at)) {
      return null;
    }
    ObjectNode params = Inspector.params().put("url", at.toString());
    params.put("frameId", inspector.call("Page.getFrameTree").at("/frameTree/frame/id").asText());
    params.putObject("options").put("disableCache", false).put("includeCredentials", true);
    JsonNode answer =
        inspector.callWithin(OF_SERVER, "Network.loadNetworkResource", params).path("resource");
    String stream = answer.path("stream").asText();
    return answer.path("success").asBoolean() && !stream.isEmpty() ? stream(stream) : null;
  }

  private byte[] stream(String handle) throws CaptureException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    boolean more = true;
    while (more && bytes.size() <= LONGEST) {
      JsonNode piece =
          inspector.callWithin(
              OF_SERVER, "IO.read", Inspector.params().put("handle", handle).put("size", PIECE));
      String data = piece.path("data").asText();
      bytes.writeBytes(
          piece.path("base64Encoded").asBoolean()
              ? Base64.getDecoder().decode(data)
              : data.getBytes(StandardCharsets.UTF_8));
      more = !piece.path("eof").asBoolean() && !data.isEmpty();
    }
    inspector.call("IO.close", Inspector.params().put("handle", handle));
    return more ? null : bytes.toByteArray();
  }

  private static boolean sameOrigin(String script, URI map) {
    try {
      URI from = new URI(script);
      return from.getScheme() != null
          && from.getScheme().startsWith("http")
          && from.getScheme().equals(map.getScheme())
          && from.getAuthority() != null
          && from.getAuthority().equals(map.getAuthority());
    } catch (URISyntaxException e) {
      return false;
    }
  }

  /** Servers may put {@code )]}'} before a map, in a line of its own. */
  private static String stripped(byte[] bytes) {
    String text = new String(bytes, StandardCharsets.UTF_8);
    int line = text.startsWith(")]}") ? text.indexOf('\n') : -1;
    return line < 0 ? text : text.substring(line);
  }

  private static void withoutContents(ObjectNode map) {
    map.retain("version", "sourceRoot", "sources", "names", "mappings", "sections");
    for (JsonNode section : map.path("sections")) {
      if (section.path("map") instanceof ObjectNode inner) {
        withoutContents(inner);
      }
    }
  }
}
