package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lipsanon.io.ByteSource;
import lipsanon.io.SourceStream;

/**
 * The source maps of a snapshot's scripts: those that {@code lipsanon capture} put into it, else
 * those that lie beside the scripts on this machine. One thread.
 */
final class V8SourceMaps {
  private final ByteSource source;
  private final Long position;
  private final MapsOnDisk disk;
  private final Map<String, Optional<SourceMap>> beside = new HashMap<>();
  private Map<Integer, ScriptMap> within;

  /**
   * Of an open snapshot.
   *
   * @param members where the file's members begin
   */
  V8SourceMaps(ByteSource source, Map<String, Long> members) {
    this.source = source;
    this.position = members.get(ScriptMap.MEMBER);
    this.disk = MapsOnDisk.olderThan(source.name());
  }

  private Map<Integer, ScriptMap> within() throws IOException {
    if (within == null) {
      within = position == null ? Map.of() : read();
    }
    return within;
  }

  private Map<Integer, ScriptMap> read() throws IOException {
    try (JsonParser json =
        V8Format.JSON.createParser(new SourceStream(source, position, source.size()))) {
      json.nextToken();
      return ScriptMap.readAll(json);
    } catch (JacksonException e) {
      // the snapshot is whole, as its index proves: only these do not help
      return Map.of();
    }
  }

  /** The scripts whose maps are in the snapshot, by their numbers. */
  Set<Integer> scripts() throws IOException {
    return within().keySet();
  }

  /** The address of a script that V8 gives no name; "" if not known. */
  String name(int script) throws IOException {
    ScriptMap map = within().get(script);
    return map == null ? "" : map.url();
  }

  /** The map of a script, or null. */
  SourceMap of(int script, String name) throws IOException {
    ScriptMap map = within().get(script);
    if (map != null || position != null) {
      return map == null ? null : map.map();
    }
    Optional<SourceMap> found = beside.get(name);
    if (found == null) {
      found = Optional.ofNullable(disk.of(name));
      beside.put(name, found);
    }
    return found.orElse(null);
  }

  /** Where a variable of a script was written that stands in no function; null if not known. */
  SourceMap.Original declared(int script, String variable) throws IOException {
    ScriptMap map = within().get(script);
    return map == null ? null : map.written(variable);
  }
}
