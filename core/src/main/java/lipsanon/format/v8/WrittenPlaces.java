package lipsanon.format.v8;

import com.fasterxml.jackson.core.JacksonException;
import com.fasterxml.jackson.core.JsonParser;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** Where places in the scripts of a live target were written, by the source maps of a capture. */
public final class WrittenPlaces {
  /** A frame of a call stack as V8 writes it: a name before the place, if there is one. */
  private static final Pattern FRAME =
      Pattern.compile(
          "(?<name>.*?) ?(?<open>\\(?)(?<script>[^ ()]+):(?<line>\\d{1,9}):(?<column>\\d{1,9})\\)?");

  /** Without any map. */
  public static final WrittenPlaces NONE = new WrittenPlaces(Map.of());

  private final Map<String, ScriptMap> maps;

  private WrittenPlaces(Map<String, ScriptMap> maps) {
    this.maps = maps;
  }

  /**
   * Reads maps as captures give them: the value of a snapshot's member for them.
   *
   * @param json "" for none; of what does not fit nothing is known
   */
  public static WrittenPlaces of(String json) {
    if (json.isEmpty()) {
      return NONE;
    }
    Map<String, ScriptMap> maps = new HashMap<>();
    try (JsonParser parser = V8Format.JSON.createParser(json)) {
      parser.nextToken();
      for (ScriptMap script : ScriptMap.readAll(parser).values()) {
        if (script.map() != null) {
          maps.put(script.url(), script);
        }
      }
    } catch (JacksonException e) {
      return NONE;
    } catch (IOException e) {
      throw new java.io.UncheckedIOException(e);
    }
    return new WrittenPlaces(maps);
  }

  /**
   * A place in words: the last part of the source's address, and the line.
   *
   * @param script its address
   * @param line from 0
   * @param column from 0
   */
  public String text(String script, int line, int column) {
    ScriptMap map = maps.get(script);
    SourceMap.Original at = map == null ? null : map.map().original(line, column);
    return at == null
        ? V8Scripts.shortName(script) + ":" + (line + 1)
        : V8Scripts.shortName(at.source()) + ":" + (at.line() + 1);
  }

  /** A frame of a call stack, {@code name (script:line:column)}, with the place in the source. */
  public String frame(String frame) {
    Matcher parts = FRAME.matcher(frame);
    ScriptMap map = parts.matches() ? maps.get(parts.group("script")) : null;
    if (map == null) {
      return frame;
    }
    int line = Integer.parseInt(parts.group("line")) - 1;
    int column = Integer.parseInt(parts.group("column")) - 1;
    SourceMap.Original at = map.map().original(line, column);
    if (at == null) {
      return frame;
    }
    String place = at.source() + ":" + (at.line() + 1) + ":" + (at.column() + 1);
    String called = parts.group("name");
    SourceMap.Original function = map.written(called);
    boolean known = function != null && !function.name().isEmpty();
    String name = known && function.source().equals(at.source()) ? function.name() : called;
    return name.isEmpty() ? place : name + " (" + place + ")";
  }
}
