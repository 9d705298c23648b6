package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.URISyntaxException;
import java.nio.charset.StandardCharsets;
import java.nio.file.FileSystemNotFoundException;
import java.nio.file.Files;
import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Base64;

/**
 * Finds source maps on this machine: within a script, or beside it. A script that was written anew
 * since the snapshot was taken is not the one that ran, and tells nothing.
 */
final class MapsOnDisk {
  private static final String COMMENT = "sourceMappingURL=";
  private static final long LONGEST = 256L << 20;

  private final FileTime taken;

  private MapsOnDisk(FileTime taken) {
    this.taken = taken;
  }

  /** For a snapshot's scripts. */
  static MapsOnDisk olderThan(String snapshot) {
    try {
      return new MapsOnDisk(Files.getLastModifiedTime(Path.of(snapshot)));
    } catch (IOException | InvalidPathException e) {
      return new MapsOnDisk(null);
    }
  }

  /** The map of a script, by its path or {@code file:} address; null if there is none. */
  SourceMap of(String script) {
    Path file = path(script);
    if (file == null || !isReadable(file)) {
      return null;
    }
    try {
      String named = named(file);
      int comma = named.startsWith("data:") ? named.indexOf(',') : -1;
      if (comma > 0 && named.substring(0, comma).endsWith(";base64")) {
        byte[] bytes = Base64.getMimeDecoder().decode(named.substring(comma + 1));
        return read(new ByteArrayInputStream(bytes), script);
      }
      Path map = named.isEmpty() ? null : file.resolveSibling(named);
      map = map != null && isReadable(map) ? map : file.resolveSibling(file.getFileName() + ".map");
      return isReadable(map) ? read(Files.newInputStream(map), map.toString()) : null;
    } catch (IOException | IllegalArgumentException e) {
      // no map, then
      return null;
    }
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

  private boolean isReadable(Path file) {
    try {
      return taken != null
          && Files.isRegularFile(file)
          && Files.size(file) <= LONGEST
          && Files.getLastModifiedTime(file).compareTo(taken) <= 0;
    } catch (IOException e) {
      return false;
    }
  }

  /** What the last such comment of a script names, "" if there is none. */
  private static String named(Path file) throws IOException {
    String text = new String(Files.readAllBytes(file), StandardCharsets.UTF_8);
    int at = text.lastIndexOf(COMMENT);
    if (at < 0 || !text.startsWith("//", Math.max(0, at - 4))) {
      return "";
    }
    String rest = text.substring(at + COMMENT.length());
    return rest.lines().findFirst().orElse("").strip();
  }

  private static SourceMap read(InputStream in, String base) throws IOException {
    try (JsonParser json = V8Format.JSON.createParser(in)) {
      return json.nextToken() == JsonToken.START_OBJECT ? SourceMap.read(json, base) : null;
    }
  }
}
