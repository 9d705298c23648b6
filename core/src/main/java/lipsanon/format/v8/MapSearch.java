package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Base64;
import java.util.Map;
import java.util.Set;
import lipsanon.scripts.Declarations;
import lipsanon.scripts.InnerScope;
import lipsanon.scripts.InnerScopes;

/**
 * Finds the source maps of scripts on this machine: in a folder that the user names; else within a
 * script, or beside it. A script that was written anew since the snapshot was taken is not the one
 * that ran, and tells nothing, unless the user says so by naming its folder.
 */
final class MapSearch {
  private static final String COMMENT = "sourceMappingURL=";
  private static final long LONGEST = 128L << 20;

  /** What is kept of a map: not the sources' contents. */
  private static final Set<String> KEPT =
      Set.of(
          "version",
          "sourceRoot",
          "sources",
          "names",
          "mappings",
          "sections",
          "offset",
          "line",
          "column",
          "map");

  private final FileTime taken;
  private final BuiltScripts built;

  private MapSearch(FileTime taken, BuiltScripts built) {
    this.taken = taken;
    this.built = built;
  }

  /**
   * For the scripts of a snapshot.
   *
   * @param folder of built scripts and their maps, or null
   */
  static MapSearch of(String snapshot, Path folder) throws IOException {
    BuiltScripts built = folder == null ? null : BuiltScripts.in(folder);
    try {
      return new MapSearch(Files.getLastModifiedTime(Path.of(snapshot)), built);
    } catch (IOException | InvalidPathException e) {
      return new MapSearch(null, built);
    }
  }

  /** A map, its address, and the text of the script where that is known. */
  private record Found(byte[] map, String base, String script) {}

  /**
   * The maps of scripts, as captures put them into a snapshot: see {@link ScriptMap}.
   *
   * @param scripts their names, by number
   * @return JSON; empty if there are none
   */
  byte[] all(Map<Integer, String> scripts) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    boolean any = false;
    try (JsonGenerator json = V8Format.JSON.createGenerator(bytes)) {
      json.writeStartObject();
      for (Map.Entry<Integer, String> script : scripts.entrySet()) {
        Found found = find(script.getValue());
        if (found != null && isMap(found)) {
          any = true;
          json.writeObjectFieldStart(Integer.toString(script.getKey()));
          json.writeStringField("url", script.getValue());
          json.writeStringField("base", found.base());
          json.writeObjectFieldStart("declared");
          for (Map.Entry<String, int[]> one : Declarations.of(found.script()).entrySet()) {
            json.writeFieldName(one.getKey());
            json.writeArray(one.getValue(), 0, 2);
          }
          json.writeEndObject();
          json.writeArrayFieldStart("scopes");
          for (InnerScope scope : InnerScopes.of(found.script())) {
            json.writeStartArray();
            for (Object one : scope.told()) {
              json.writeObject(one);
            }
            json.writeEndArray();
          }
          json.writeEndArray();
          json.writeFieldName("map");
          try (JsonParser map = V8Format.JSON.createParser(found.map())) {
            map.nextToken();
            copy(map, json);
          }
          json.writeEndObject();
        }
      }
      json.writeEndObject();
    }
    return any ? bytes.toByteArray() : new byte[0];
  }

  private static boolean isMap(Found found) throws IOException {
    try (JsonParser json = V8Format.JSON.createParser(found.map())) {
      return json.nextToken() == JsonToken.START_OBJECT
          && SourceMap.read(json, found.base()).size() > 0
          && json.nextToken() == null;
    } catch (JacksonException e) {
      return false;
    }
  }

  /** Copies an object without what is not kept; the parser stands on its beginning. */
  private static void copy(JsonParser from, JsonGenerator to) throws IOException {
    int depth = 0;
    do {
      JsonToken token = from.currentToken();
      if (token == JsonToken.FIELD_NAME && !KEPT.contains(from.currentName())) {
        from.nextToken();
        from.skipChildren();
      } else {
        to.copyCurrentEvent(from);
        depth += token.isStructStart() ? 1 : token.isStructEnd() ? -1 : 0;
      }
    } while (depth > 0 && from.nextToken() != null);
  }

  private Found find(String script) {
    try {
      Found found = built == null ? null : inFolder(script);
      return found == null ? beside(script) : found;
    } catch (IOException | IllegalArgumentException e) {
      // no map, then
      return null;
    }
  }

  private Found inFolder(String script) throws IOException {
    Path map = built.map(script);
    if (map == null) {
      // of several maps that may be meant none is
      Path file = built.hasMap(script) ? null : built.script(script);
      return file == null ? null : of(file, "");
    }
    String name = map.getFileName().toString();
    Path file = map.resolveSibling(name.substring(0, name.length() - BuiltScripts.MAP.length()));
    return isReadable(map) ? new Found(Files.readAllBytes(map), map.toString(), text(file)) : null;
  }

  private Found beside(String script) throws IOException {
    Path file = path(script);
    return file != null && isReadable(file) && !isNew(file) ? of(file, script) : null;
  }

  /** What a script names, or what lies beside it. */
  private Found of(Path file, String address) throws IOException {
    String text = text(file);
    String named = named(text);
    int comma = named.startsWith("data:") ? named.indexOf(',') : -1;
    if (comma > 0 && named.substring(0, comma).endsWith(";base64")) {
      byte[] bytes = Base64.getMimeDecoder().decode(named.substring(comma + 1));
      return new Found(bytes, address.isEmpty() ? file.toString() : address, text);
    }
    Path map = named.isEmpty() || comma > 0 ? null : file.resolveSibling(named);
    map =
        map != null && isReadable(map)
            ? map
            : file.resolveSibling(file.getFileName() + BuiltScripts.MAP);
    boolean old = !address.isEmpty() && isNew(map);
    return isReadable(map) && !old
        ? new Found(Files.readAllBytes(map), map.toString(), text)
        : null;
  }

  private static String text(Path file) throws IOException {
    return isReadable(file) ? new String(Files.readAllBytes(file), StandardCharsets.UTF_8) : "";
  }

  /** A path of this machine only: never one that names another host. */
  private static Path path(String script) {
    try {
      String name = script.startsWith("file:///") ? Path.of(new URI(script)).toString() : script;
      boolean elsewhere = name.startsWith("//") || name.startsWith("\\\\");
      Path file = elsewhere || name.isEmpty() ? null : Path.of(name);
      return file != null && file.isAbsolute() ? file : null;
    } catch (URISyntaxException | IllegalArgumentException | FileSystemNotFoundException e) {
      return null;
    }
  }

  private static boolean isReadable(Path file) {
    try {
      return Files.isRegularFile(file) && Files.size(file) <= LONGEST;
    } catch (IOException e) {
      return false;
    }
  }

  /** Whether a file was written after the snapshot was taken. */
  private boolean isNew(Path file) {
    try {
      return taken == null || Files.getLastModifiedTime(file).compareTo(taken) > 0;
    } catch (IOException e) {
      return true;
    }
  }

  /** What the last such comment of a script names, "" if there is none. */
  private static String named(String text) {
    int at = text.lastIndexOf(COMMENT);
    if (at < 0 || !text.startsWith("//", Math.max(0, at - 4))) {
      return "";
    }
    String rest = text.substring(at + COMMENT.length());
    return rest.lines().findFirst().orElse("").strip();
  }
}
