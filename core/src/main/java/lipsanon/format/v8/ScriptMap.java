package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.HashMap;
import java.util.Map;

/**
 * The address of a script, its source map, and what the script declares.
 *
 * <p>Captures put those of all scripts into a file, as a member of its JSON object: {@code
 * {"SCRIPT_ID": {"url": ADDRESS, "base": ADDRESS, "declared": {NAME: [LINE, COLUMN], ...},
 * "scopes": [...], "map": MAP}, ...}}, the maps without the sources' contents; lines and columns of
 * the script, from 0.
 *
 * @param url the address of the script
 * @param map the map, or null
 * @param declared by variable that stands in no function but what a bundler puts around all: line
 *     and column in the script
 * @param scopes what its functions declare
 */
record ScriptMap(String url, SourceMap map, Map<String, int[]> declared, ScriptScopes scopes) {
  /** The member. */
  static final String MEMBER = "lipsanon_source_maps";

  /** Where a variable was written that stands in no function; null if not known. */
  SourceMap.Original written(String variable) {
    int[] place = declared.get(variable);
    return place == null || map == null ? null : map.original(place[0], place[1]);
  }

  /** A variable of a function, as it was written: where, and where its function was. */
  record Inner(SourceMap.Original variable, SourceMap.Original function) {
    /** Whether the function is what a bundler puts around the module that has the variable. */
    boolean isModule() {
      return function == null
          || !function.source().equals(variable.source())
          || function.line() == 0 && function.column() == 0;
    }
  }

  /** Where a variable that {@link ScriptScopes} found was written; null if not known. */
  Inner written(ScriptScopes.Declared found) {
    SourceMap.Original at =
        found == null || map == null ? null : map.original(found.line(), found.column());
    return at == null ? null : new Inner(at, map.original(found.in().line(), found.in().column()));
  }

  /**
   * Reads the member; the parser stands on its value, and afterwards at its end.
   *
   * @return by the script's number
   */
  static Map<Integer, ScriptMap> readAll(JsonParser json) throws IOException {
    Map<Integer, ScriptMap> all = new HashMap<>();
    if (json.currentToken() != JsonToken.START_OBJECT) {
      json.skipChildren();
      return all;
    }
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String script = json.currentName();
      boolean known = script.matches("[0-9]{1,9}");
      if (json.nextToken() == JsonToken.START_OBJECT && known) {
        ScriptMap map = read(json);
        all.put(Integer.parseInt(script), map);
      } else {
        json.skipChildren();
      }
    }
    return all;
  }

  private static ScriptMap read(JsonParser json) throws IOException {
    String url = "";
    String base = "";
    SourceMap map = null;
    Map<String, int[]> declared = Map.of();
    ScriptScopes scopes = ScriptScopes.NONE;
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String member = json.currentName();
      JsonToken value = json.nextToken();
      if (member.equals("url") && value == JsonToken.VALUE_STRING) {
        url = json.getText();
      } else if (member.equals("base") && value == JsonToken.VALUE_STRING) {
        base = json.getText();
      } else if (member.equals("declared") && value == JsonToken.START_OBJECT) {
        declared = places(json);
      } else if (member.equals("scopes") && value == JsonToken.START_ARRAY) {
        scopes = ScriptScopes.read(json);
      } else if (member.equals("map") && value == JsonToken.START_OBJECT) {
        map = SourceMap.read(json, base);
      } else {
        json.skipChildren();
      }
    }
    return new ScriptMap(url, map, declared, scopes);
  }

  private static Map<String, int[]> places(JsonParser json) throws IOException {
    Map<String, int[]> places = new HashMap<>();
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String variable = json.currentName();
      if (json.nextToken() == JsonToken.START_ARRAY) {
        places.put(variable, pair(json));
      } else {
        json.skipChildren();
      }
    }
    return places;
  }

  private static int[] pair(JsonParser json) throws IOException {
    int[] pair = new int[2];
    int at = 0;
    for (JsonToken t = json.nextToken();
        t != null && t != JsonToken.END_ARRAY;
        t = json.nextToken()) {
      if (at < pair.length) {
        pair[at++] = json.getValueAsInt(0);
      }
      json.skipChildren();
    }
    return pair;
  }
}
