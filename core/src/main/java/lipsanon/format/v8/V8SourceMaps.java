package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import lipsanon.io.ByteSource;
import lipsanon.io.SourceStream;

/**
 * The source maps of a snapshot's scripts: those that {@code lipsanon capture} put into it, else
 * those that were found when it was indexed, which the index keeps. One thread.
 */
final class V8SourceMaps {
  private final ByteSource source;
  private final Long position;
  private final byte[] kept;
  private Map<Integer, ScriptMap> all;

  /**
   * Of an open snapshot.
   *
   * @param layout says where the maps are
   */
  V8SourceMaps(ByteSource source, V8Layout layout) {
    this.source = source;
    this.position = layout.members().get(ScriptMap.MEMBER);
    this.kept = layout.maps().kept();
  }

  private Map<Integer, ScriptMap> all() throws IOException {
    if (all == null) {
      all = new HashMap<>();
      if (position != null) {
        all.putAll(read(new SourceStream(source, position, source.size())));
      }
      if (kept.length > 0) {
        all.putAll(read(new ByteArrayInputStream(kept)));
      }
    }
    return all;
  }

  private static Map<Integer, ScriptMap> read(InputStream in) throws IOException {
    try (JsonParser json = V8Format.JSON.createParser(in)) {
      json.nextToken();
      return ScriptMap.readAll(json);
    } catch (JacksonException e) {
      // the snapshot is whole, as its index proves: only these do not help
      return Map.of();
    }
  }

  /** The scripts of which something is told, by their numbers. */
  Set<Integer> scripts() throws IOException {
    return all().keySet();
  }

  /** The address of a script that V8 gives no name; "" if not known. */
  String name(int script) throws IOException {
    ScriptMap map = all().get(script);
    return map == null ? "" : map.url();
  }

  /** The map of a script, or null. */
  SourceMap of(int script) throws IOException {
    ScriptMap map = all().get(script);
    return map == null ? null : map.map();
  }

  /** What is known of a script; null if nothing. */
  ScriptMap script(int script) throws IOException {
    return all().get(script);
  }

  /** Where a variable of a script was written that stands in no function; null if not known. */
  SourceMap.Original declared(int script, String variable) throws IOException {
    ScriptMap map = all().get(script);
    return map == null ? null : map.written(variable);
  }
}
