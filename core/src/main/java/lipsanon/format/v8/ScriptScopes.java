package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.scripts.InnerScope;

/**
 * What a script and its functions and blocks declare. In the JSON of captures each is an array:
 * line and column of its begin and of its end, then name, line and column of each variable, all
 * from 0; before the name of a class stands {@link #CLASS}.
 */
final class ScriptScopes {
  static final ScriptScopes NONE = new ScriptScopes();

  private static final int COLUMN_BITS = 32;
  private static final int BOUNDS = 4;

  /** A variable: what declares it, and where it does. */
  record Declared(Bounds in, int line, int column, boolean isClass) {}

  /** Where a function's parameters begin, or a block, and where it ends. */
  record Bounds(long begin, long end) {
    int line() {
      return (int) (begin >>> COLUMN_BITS);
    }

    int column() {
      return (int) begin;
    }

    boolean contains(long place) {
      return begin < place && place < end;
    }
  }

  private final List<Bounds> all = new ArrayList<>();
  private final Map<String, List<Declared>> byName = new HashMap<>();

  private ScriptScopes() {}

  private static long place(int line, int column) {
    return (long) line << COLUMN_BITS | column;
  }

  /** Reads the array of all; the parser stands on its begin, and afterwards at its end. */
  static ScriptScopes read(JsonParser json) throws IOException {
    ScriptScopes scopes = new ScriptScopes();
    while (json.nextToken() == JsonToken.START_ARRAY) {
      scopes.scope(json);
    }
    return scopes;
  }

  private void scope(JsonParser json) throws IOException {
    int[] numbers = new int[BOUNDS];
    String name = "";
    Bounds bounds = null;
    int at = 0;
    for (JsonToken t = json.nextToken();
        t != null && t != JsonToken.END_ARRAY;
        t = json.nextToken()) {
      if (t == JsonToken.VALUE_STRING) {
        name = json.getText();
        at = BOUNDS;
      } else if (at < BOUNDS) {
        numbers[at++] = Math.max(0, json.getValueAsInt(0));
      } else if (at == BOUNDS) {
        at = BOUNDS + 1 + Math.max(0, json.getValueAsInt(0));
      } else {
        boolean isClass = name.startsWith(InnerScope.CLASS);
        int column = Math.max(0, json.getValueAsInt(0));
        if (bounds == null) {
          bounds = new Bounds(place(numbers[0], numbers[1]), place(numbers[2], numbers[3]));
          all.add(bounds);
        }
        byName
            .computeIfAbsent(
                isClass ? name.substring(InnerScope.CLASS.length()) : name, k -> new ArrayList<>())
            .add(new Declared(bounds, at - BOUNDS - 1, column, isClass));
        at = BOUNDS;
      }
      json.skipChildren();
    }
  }

  /**
   * Where a function declares a variable.
   *
   * @param line where its parameters begin
   * @return null if not known
   */
  Declared of(int line, int column, String name) {
    for (Declared one : byName.getOrDefault(name, List.of())) {
      if (one.in().begin() == place(line, column)) {
        return one;
      }
    }
    return null;
  }

  /**
   * Where a variable is declared that what stands at a place sees: of several of that name the
   * innermost.
   *
   * @return null if not known
   */
  Declared seen(int line, int column, String name) {
    Declared best = null;
    for (Declared one : byName.getOrDefault(name, List.of())) {
      if (one.in().contains(place(line, column))
          && (best == null || one.in().begin() > best.in().begin())) {
        best = one;
      }
    }
    return best;
  }

  /** What a place lies in, the innermost first. */
  List<Bounds> around(int line, int column) {
    List<Bounds> around = new ArrayList<>();
    for (Bounds one : all) {
      if (one.contains(place(line, column))) {
        around.add(one);
      }
    }
    around.sort((a, b) -> Long.compare(b.begin(), a.begin()));
    return around;
  }
}
