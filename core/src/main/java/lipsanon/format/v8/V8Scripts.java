package lipsanon.format.v8;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import java.util.regex.Pattern;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;

/** Places in scripts, in words. One thread. */
final class V8Scripts {
  private static final String PACKAGES = "/node_modules/";

  /** Where a package's source is put whose own name is not known. */
  static final String OUTSIDE = PACKAGES + "~/";

  private static final Pattern GLUE = Pattern.compile("^webpack://[^/]*/webpack/");

  private final V8Rows rows;
  private final V8SourceMaps maps;
  private final PackedColumn located;
  private final PackedColumn scripts;
  private final PackedColumn places;
  private final Map<Integer, String> names = new HashMap<>();
  private final Map<String, Boolean> made = new HashMap<>();

  V8Scripts(V8Rows rows, Snapshot snapshot) {
    this.rows = rows;
    this.maps = rows.sourceMaps();
    this.located = snapshot.extra(V8Format.LOCATED);
    this.scripts = snapshot.extra(V8Format.SCRIPT);
    this.places = snapshot.extra(V8Format.PLACE);
  }

  /** For scripts only: while there is no index yet. */
  V8Scripts(V8Rows rows) {
    this.rows = rows;
    this.maps = rows.sourceMaps();
    this.located = null;
    this.scripts = null;
    this.places = null;
  }

  /**
   * A place in a script, or in the source that the script was made from.
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
    long row = row(object);
    return row < 0 ? null : place(scripts.getInt(row), places.get(row));
  }

  /**
   * A place in a script, or where that was written if its source map says so.
   *
   * @param script its number
   * @param place as in the column of places
   */
  Location place(int script, long place) throws IOException {
    String name = script(script);
    SourceMap map = maps.of(script);
    SourceMap.Original written = map == null ? null : map.original(line(place), column(place));
    return written == null
        ? new Location(name, line(place) + 1, column(place) + 1)
        : new Location(written.source(), written.line() + 1, written.column() + 1);
  }

  /**
   * A place in a script itself.
   *
   * @param script its number
   * @param line from 0
   * @param column from 0
   */
  record Spot(int script, int line, int column) {}

  /** Of a function where its parameters begin in the script itself; null if not known. */
  Spot spot(int function) throws IOException {
    long row = row(function);
    long place = row < 0 ? 0 : places.get(row);
    return row < 0 ? null : new Spot(scripts.getInt(row), line(place), column(place));
  }

  /**
   * A variable of a function of a made script, as it was written; null if not known.
   *
   * @param function where the function is in the script; null if only one within is known
   * @param inner where one of the functions within is; null if none is known
   */
  ScriptMap.Inner written(Spot function, Spot inner, String variable) throws IOException {
    Spot any = function == null ? inner : function;
    ScriptMap script = any == null ? null : maps.script(any.script());
    if (script == null || script.map() == null) {
      return null;
    }
    ScriptScopes.Declared found =
        function == null ? null : script.scopes().of(function.line(), function.column(), variable);
    return script.written(
        found == null && inner != null
            ? script.scopes().seen(inner.line(), inner.column(), variable)
            : found);
  }

  /** A function as it was written. */
  record Function(String name, Location place) {}

  /**
   * The function of a made script that has a name there and lies around another; null if not known.
   *
   * @param inner where the other one is in the script
   * @param name in the script, which may have been made short
   */
  Function around(Spot inner, String name) throws IOException {
    ScriptMap script = inner == null || name.isEmpty() ? null : maps.script(inner.script());
    if (script == null || script.map() == null) {
      return null;
    }
    for (ScriptScopes.Bounds one : script.scopes().around(inner.line(), inner.column())) {
      String written = script.map().written(one.line(), one.column(), name);
      SourceMap.Original at = script.map().original(one.line(), one.column());
      if (at != null && !written.equals(name)) {
        Location place = new Location(at.source(), at.line() + 1, at.column() + 1);
        return new Function(written, place);
      }
    }
    return null;
  }

  private static int line(long place) {
    return (int) (place >>> V8Format.COLUMN_BITS);
  }

  private static int column(long place) {
    return (int) (place & (1 << V8Format.COLUMN_BITS) - 1);
  }

  /** The name of a function as it was written: the one of the script may have been made short. */
  String written(int function, String name) throws IOException {
    long row = name.isEmpty() ? -1 : row(function);
    if (row < 0) {
      return name;
    }
    int script = scripts.getInt(row);
    SourceMap map = maps.of(script);
    long place = places.get(row);
    String text = map == null ? name : map.written(line(place), column(place), name);
    return map == null || !text.equals(name) ? text : ofClass(script, place, name);
  }

  /** The name of a class from its constructor, which may stand far behind it. */
  private String ofClass(int script, long place, String name) throws IOException {
    ScriptMap known = maps.script(script);
    ScriptScopes.Declared found = known.scopes().seen(line(place), column(place), name);
    ScriptMap.Inner written = found == null || !found.isClass() ? null : known.written(found);
    return written == null || written.variable().name().isEmpty()
        ? name
        : written.variable().name();
  }

  /**
   * The name that a class was written with, "" if that is not known.
   *
   * @param script its number
   * @param place where the class or its constructor is in the script, as in the column of places
   * @param name in the script
   */
  String writtenClass(int script, long place, String name) throws IOException {
    ScriptMap known = maps.script(script);
    if (known == null || known.map() == null) {
      return "";
    }
    ScriptMap.Inner seen = known.written(known.scopes().seen(line(place), column(place), name));
    SourceMap.Original at = seen == null ? known.written(name) : seen.variable();
    SourceMap.Original constructor = known.map().original(line(place), column(place));
    // what is found may be another of that name
    return at != null
            && constructor != null
            && at.source().equals(constructor.source())
            && at.line() <= constructor.line()
        ? at.name()
        : "";
  }

  /** Whether any script has been made from others. */
  boolean anyMade() throws IOException {
    for (int id : maps.scripts()) {
      if (maps.of(id) != null) {
        return true;
      }
    }
    return false;
  }

  /** Whether a script has been made from others, as its source map tells. */
  boolean isMade(String name) throws IOException {
    Boolean known = made.get(name);
    if (known == null) {
      known = false;
      for (int id : maps.scripts()) {
        known |= maps.of(id) != null && script(id).equals(name);
      }
      made.put(name, known);
    }
    return known;
  }

  /**
   * Where a variable of a made script was written that stands in none of its functions; null if not
   * known.
   */
  SourceMap.Original declared(String name, String variable) throws IOException {
    for (int id : maps.scripts()) {
      if (script(id).equals(name)) {
        return maps.declared(id, variable);
      }
    }
    return null;
  }

  /** The row of an object among those that have a place, or -1. */
  private long row(int object) {
    long low = 0;
    long high = located.count() - 1;
    while (low <= high) {
      long middle = low + high >>> 1;
      long found = located.get(middle);
      if (found == object) {
        return middle;
      }
      if (found < object) {
        low = middle + 1;
      } else {
        high = middle - 1;
      }
    }
    return -1;
  }

  /** The full name of a script; "" if no function of it is in the snapshot. */
  String script(int id) throws IOException {
    String known = names.get(id);
    if (known == null) {
      int closure = rows.layout().closureOfScript().getOrDefault(id, -1);
      known = closure < 0 ? "" : ofFunction(target(closure, "shared"));
      known = known.isEmpty() ? maps.name(id) : known;
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
    V8Rows.Node named = name < 0 ? null : rows.node(name);
    // a name that was put together from parts: the script itself is called by it (Node.js 18)
    boolean plain = named != null && named.type().equals(V8Format.STRING);
    String text = plain ? rows.text(named.name()) : "";
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
        || script.startsWith("native ")
        || isGlue(script);
  }

  /** Whether a source is what a bundler adds of its own. */
  private static boolean isGlue(String source) {
    return source.startsWith("webpack://") && GLUE.matcher(source).find()
        || source.indexOf('\0') >= 0;
  }

  /** Whether a script is of a package that the program brings along. */
  static boolean isForeign(String script) {
    return ("/" + script.replace('\\', '/')).contains(PACKAGES);
  }

  /** The package that a script is of, as it is required: {@code name} or {@code @scope/name}. */
  static String packageOf(String script) {
    String plain = "/" + script.replace('\\', '/');
    String inside = plain.substring(plain.lastIndexOf(PACKAGES) + PACKAGES.length());
    String[] parts = inside.split("/", 3);
    if (parts[0].equals("~")) {
      return "a library";
    }
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
