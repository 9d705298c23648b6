package lipsanon.format.v8;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** Places in scripts, in words. One thread. */
final class V8Scripts {
  private static final String PACKAGES = "/node_modules/";

  private final V8Rows rows;
  private final PackedColumn located;
  private final PackedColumn scripts;
  private final PackedColumn places;
  private final Map<Integer, String> names = new HashMap<>();

  V8Scripts(V8Rows rows, Snapshot snapshot) {
    this.rows = rows;
    this.located = snapshot.extra(V8Format.LOCATED);
    this.scripts = snapshot.extra(V8Format.SCRIPT);
    this.places = snapshot.extra(V8Format.PLACE);
  }

  /** For names of scripts only: while there is no index yet. */
  V8Scripts(V8Rows rows) {
    this.rows = rows;
    this.located = null;
    this.scripts = null;
    this.places = null;
  }

  /**
   * A place in a script.
   *
   * @param script its full name, "" if not known
   * @param line from 1
   * @param column from 1
   */
  record Location(String script, int line, int column) {
    /** The script's short name with the line. */
    String text() {
      return V8Scripts.shortName(script) + ":" + line;
    }

    /** Whether the script is a part of the runtime. */
    boolean library() {
      return isLibrary(script);
    }

    /** Whether the script is the user's own. */
    boolean own() {
      return !script.isEmpty() && !library() && !isForeign(script);
    }
  }

  /** Of a function where it is written, of an object where its constructor is; null if unknown. */
  Location of(int object) throws IOException {
    long low = 0;
    long high = located.count() - 1;
    while (low <= high) {
      long middle = low + high >>> 1;
      long found = located.get(middle);
      if (found == object) {
        long place = places.get(middle);
        return new Location(
            script(scripts.getInt(middle)),
            (int) (place >>> V8Format.COLUMN_BITS) + 1,
            (int) (place & (1 << V8Format.COLUMN_BITS) - 1) + 1);
      }
      if (found < object) {
        low = middle + 1;
      } else {
        high = middle - 1;
      }
    }
    return null;
  }

  /** The full name of a script; "" if no function of it is in the snapshot. */
  String script(int id) throws IOException {
    String known = names.get(id);
    if (known == null) {
      int closure = rows.layout().closureOfScript().getOrDefault(id, -1);
      known = closure < 0 ? "" : ofFunction(target(closure, "shared"));
      names.put(id, known);
    }
    return known;
  }

  /** The script of a function's shared part; "" if not known. */
  String ofFunction(int shared) throws IOException {
    int script = shared < 0 ? -1 : target(shared, "script_or_debug_info", "script");
    return script < 0 ? "" : scriptName(script);
  }

  private String scriptName(int script) throws IOException {
    int name = target(script, "name");
    String text = name < 0 ? "" : rows.text(rows.node(name).name());
    String own = rows.text(rows.node(script).name());
    String full = text.isEmpty() ? own : text;
    return full.startsWith("(") ? "" : full.replaceFirst("^system / [A-Za-z]+( / )?", "");
  }

  /** The target of the first edge of one of some names, or -1. */
  int target(int object, String... wanted) throws IOException {
    return follow(object, V8Format.EDGE_INTERNAL, wanted);
  }

  /** The target of the first property that has one of these names, or -1. */
  int property(int object, String... wanted) throws IOException {
    return follow(object, V8Format.EDGE_PROPERTY, wanted);
  }

  private int follow(int object, String edge, String... wanted) throws IOException {
    int[] found = {-1};
    rows.edges(
        object,
        rows.node(object).edges(),
        (type, name, target) -> {
          if (type.equals(edge)) {
            String text = rows.text(name);
            for (String w : wanted) {
              if (w.equals(text)) {
                found[0] = target;
                return false;
              }
            }
          }
          return true;
        });
    return found[0];
  }

  /** The name of a function from that of its shared part; "" if it has none. */
  static String functionName(String shared) {
    return shared.equals("(shared function info)")
        ? ""
        : shared.replaceFirst("^system / SharedFunctionInfo( / )?", "");
  }

  static boolean isLibrary(String script) {
    return script.startsWith("node:")
        || script.startsWith("internal/")
        || script.startsWith("extensions::")
        || script.startsWith("chrome:")
        || script.startsWith("native ");
  }

  /** Whether a script is of a package that the program brings along. */
  static boolean isForeign(String script) {
    return script.replace('\\', '/').contains(PACKAGES);
  }

  /** The package that a script is of, as it is required: {@code name} or {@code @scope/name}. */
  static String packageOf(String script) {
    String plain = script.replace('\\', '/');
    String inside = plain.substring(plain.lastIndexOf(PACKAGES) + PACKAGES.length());
    String[] parts = inside.split("/", 3);
    return parts[0].startsWith("@") && parts.length > 1 ? parts[0] + "/" + parts[1] : parts[0];
  }

  /** The last part of a path or address. */
  static String shortName(String script) {
    String plain = script;
    int query = plain.indexOf('?');
    plain = query > 0 ? plain.substring(0, query) : plain;
    plain = plain.endsWith("/") ? plain.substring(0, plain.length() - 1) : plain;
    int slash = Math.max(plain.lastIndexOf('/'), plain.lastIndexOf('\\'));
    return script.startsWith("node:") ? plain : plain.substring(slash + 1);
  }
}
