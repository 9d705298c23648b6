package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;

/**
 * Says scopes in words. V8 keeps the variables that functions share in contexts; a context names
 * the description of its scope, and the function of a scope is found from that description. One
 * thread.
 */
final class V8Scopes {
  static final String AT_TOP = "at the top level of ";

  /** Bundlers call the function that they put around a module as its source. */
  private static final Pattern MODULE = Pattern.compile(".*/[^/ ]+\\.([cm]?[jt]sx?|vue|svelte)");

  private static final int MOST_OUTER = 16;
  private static final int MOST_LOOKED_AT = 4096;
  private static final int MOST_INNER = 256;
  static final String SCOPE_INFO = "system / ScopeInfo";

  private final Snapshot snapshot;
  private final V8Rows rows;
  private final V8Scripts scripts;

  /** The context that was asked for last, and the description of its scope. */
  private int lastContext = -1;

  private int lastInfo = -1;
  private final Map<Integer, Scope> ofInfo = new HashMap<>();
  private final Map<Integer, Spots> spots = new HashMap<>();
  private final Map<Integer, Map<String, Variable>> written = new HashMap<>();
  private final Map<Integer, List<String>> variables = new HashMap<>();

  V8Scopes(Snapshot snapshot, V8Rows rows, V8Scripts scripts) {
    this.snapshot = snapshot;
    this.rows = rows;
    this.scripts = scripts;
  }

  /**
   * A scope.
   *
   * @param text in words, as it goes on from "a variable"
   * @param library whether it is one of the runtime's own, or not known
   * @param foreign whether it is one of a library that the program brings along
   * @param script the full name of its script, "" if not known
   */
  record Scope(String text, boolean library, boolean foreign, String script) {
    /** Whether it is a whole module's: it lasts as long as that. */
    boolean top() {
      return text.startsWith(AT_TOP);
    }

    static Scope in(String script, String text) {
      boolean foreign = V8Scripts.isForeign(script);
      // many packages have an index.js
      String of = foreign ? " of " + V8Scripts.packageOf(script) : "";
      return new Scope(text + of, V8Scripts.isLibrary(script), foreign, script);
    }
  }

  private static final Scope UNKNOWN = new Scope("in a scope of the runtime", true, false, "");

  /** Whether a type is that of what holds the variables of a scope. */
  static boolean isContext(String type) {
    return type.startsWith("system / Context");
  }

  /**
   * A variable.
   *
   * @param scope the one that it was written in
   * @param name as it was written
   */
  record Variable(Scope scope, String name) {}

  /** A variable as it was written: of many modules, a bundler makes one scope, with short names. */
  Variable variable(int context, String name) throws IOException {
    Scope scope = of(context);
    Map<String, Variable> known = written.computeIfAbsent(info(context), key -> new HashMap<>());
    Variable variable = known.get(name);
    if (variable == null) {
      variable = written(context, scope, name);
      known.put(name, variable);
    }
    return variable;
  }

  private Variable written(int context, Scope scope, String name) throws IOException {
    SourceMap.Original at = scope.top() ? scripts.declared(scope.script(), name) : null;
    if (at != null) {
      return atTop(at, name);
    }
    int info = info(context);
    ScriptMap.Inner inner = null;
    if (info >= 0 && scripts.anyMade()) {
      Spots from = spots.get(info);
      if (from == null) {
        from = spots(context, info);
        spots.put(info, from);
      }
      inner = scripts.written(from.function(), from.inner(), name);
    }
    if (inner == null) {
      return new Variable(scope, name);
    }
    String called = inner.variable().name().isEmpty() ? name : inner.variable().name();
    if (inner.isModule()) {
      return atTop(inner.variable(), name);
    }
    String source = inner.variable().source();
    boolean told = scope.script().equals(source);
    return new Variable(told ? scope : near(source, inner.function().line() + 1), called);
  }

  private static Variable atTop(SourceMap.Original at, String name) {
    String where = V8Scripts.shortName(at.source()) + ":" + (at.line() + 1);
    return new Variable(
        Scope.in(at.source(), AT_TOP + where), at.name().isEmpty() ? name : at.name());
  }

  /** Where a scope's function stands in the script, and one of those within; null: not known. */
  private record Spots(V8Scripts.Spot function, V8Scripts.Spot inner) {}

  private Spots spots(int context, int info) throws IOException {
    int within = closureIn(context);
    V8Scripts.Spot inner = within < 0 ? spot(innerFunction(info)) : scripts.spot(within);
    return new Spots(spot(function(info, "name_or_scope_info")), inner);
  }

  private V8Scripts.Spot spot(int shared) throws IOException {
    int closure = shared < 0 ? -1 : closure(shared);
    return closure < 0 ? null : scripts.spot(closure);
  }

  private int info(int context) throws IOException {
    // a bundle's scope has very many variables, which are asked for one after the other
    if (context != lastContext) {
      lastInfo = scripts.target(context, "scope_info");
      lastContext = context;
    }
    return lastInfo;
  }

  /** The scope of a context. */
  Scope of(int context) throws IOException {
    int info = info(context);
    if (info < 0) {
      return UNKNOWN;
    }
    Scope known = ofInfo.get(info);
    if (known == null) {
      known = find(context, info);
      ofInfo.put(info, known);
    }
    return known;
  }

  private Scope find(int context, int info) throws IOException {
    if (isModule(context)) {
      int within = function(info, "name_or_scope_info");
      String script = scripts.ofFunction(within < 0 ? innerFunction(info) : within);
      if (!script.isEmpty()) {
        return Scope.in(script, AT_TOP + V8Scripts.shortName(script));
      }
    }
    int inner = -1;
    int at = info;
    for (int i = 0; i < MOST_OUTER && at >= 0; i++) {
      int function = function(at, "name_or_scope_info");
      if (function >= 0 && i > 0 && inner >= 0 && isWhole(function)) {
        // a block of a function that needs no scope itself
        break;
      }
      if (function >= 0) {
        return ofFunction(function, at, i == 0 && isTop(context));
      }
      inner = inner >= 0 ? inner : innerFunction(at);
      at = outer(at);
    }
    if (inner < 0) {
      return UNKNOWN;
    }
    String script = scripts.ofFunction(inner);
    if (script.isEmpty()) {
      return UNKNOWN;
    }
    if (isTop(context)) {
      return Scope.in(script, AT_TOP + V8Scripts.shortName(script));
    }
    int within = closureIn(context);
    V8Scripts.Location near = within < 0 ? location(inner) : scripts.of(within);
    return near == null
        ? Scope.in(script, "in a scope of " + V8Scripts.shortName(script))
        : near(near);
  }

  /**
   * The scope of a function.
   *
   * @param info the description of the scope
   * @param top whether nothing but what is global lies around it: of a module, Node.js makes a
   *     function without a name, which is still there while the module's own lines run
   */
  private Scope ofFunction(int shared, int info, boolean top) throws IOException {
    String script = scripts.ofFunction(shared);
    if (script.isEmpty()) {
      return UNKNOWN;
    }
    int closure = closure(shared);
    String plain = V8Scripts.functionName(rows.text(rows.node(shared).name()));
    String name = closure < 0 ? plain : scripts.written(closure, plain);
    V8Scripts.Location place = closure < 0 ? null : scripts.of(closure);
    if (MODULE.matcher(name).matches()) {
      return Scope.in(name, AT_TOP + V8Scripts.shortName(name));
    }
    // whose the variables are is told by any function that sees them
    int inner = closure < 0 && scripts.isMade(script) ? innerFunction(info) : -1;
    V8Scripts.Function gone = scripts.around(spot(inner), plain);
    if (gone != null) {
      name = gone.name();
      place = gone.place();
    }
    boolean anonymous = name.isEmpty();
    if (top && anonymous && (place == null ? scripts.isMade(script) : begins(place, script))) {
      return Scope.in(script, AT_TOP + V8Scripts.shortName(script));
    }
    V8Scripts.Location near = place != null || inner < 0 ? null : location(inner);
    if (near != null && anonymous) {
      return near(near);
    }
    boolean glue = place != null && scripts.isMade(script) && place.script().equals(script);
    place = place == null ? near : place;
    String where =
        place == null || place == near
            ? V8Scripts.shortName(place == null ? script : place.script())
            : place.text();
    String text =
        anonymous
            ? "in the scope of a function (" + where + ")"
            : "in the scope of `" + name + "` (" + where + ")";
    // what was written nowhere is the bundler's
    return glue
        ? new Scope(text, true, false, script)
        : Scope.in(place == null ? script : place.script(), text);
  }

  /** A scope of which no more is known than a function within. */
  private static Scope near(V8Scripts.Location inner) {
    return near(inner.script(), inner.line());
  }

  private static Scope near(String script, int line) {
    String name = V8Scripts.shortName(script);
    return Scope.in(script, "in a scope of " + name + " near line " + line);
  }

  /** Whether a function without a name is all of a script. */
  private boolean isWhole(int shared) throws IOException {
    V8Scripts.Spot spot = spot(shared);
    return spot != null
        && spot.line() == 0
        && spot.column() == 0
        && V8Scripts.functionName(rows.text(rows.node(shared).name())).isEmpty();
  }

  /** Whether a function is what a module or a bundle is put into. */
  private boolean begins(V8Scripts.Location place, String script) throws IOException {
    return place.line() == 1 || scripts.isMade(script) && place.script().equals(script);
  }

  /** Where a function is written, from one of its closures. */
  private V8Scripts.Location location(int shared) throws IOException {
    int closure = closure(shared);
    return closure < 0 ? null : scripts.of(closure);
  }

  /** A function that was made in a scope and has a place, or -1. */
  private int closureIn(int context) throws IOException {
    IntList referring = snapshot.inbound(context);
    for (int i = 0; i < Math.min(referring.size(), MOST_LOOKED_AT); i++) {
      int from = referring.get(i);
      if (rows.node(from).type().equals(V8Format.CLOSURE) && scripts.of(from) != null) {
        return from;
      }
    }
    return -1;
  }

  /** A closure of a function that has a place, or -1. */
  private int closure(int shared) throws IOException {
    IntList referring = snapshot.inbound(shared);
    for (int i = 0; i < Math.min(referring.size(), MOST_LOOKED_AT); i++) {
      if (scripts.of(referring.get(i)) != null) {
        return referring.get(i);
      }
    }
    return -1;
  }

  /** The function that refers to a scope's description by an edge, or -1. */
  private int function(int info, String edge) throws IOException {
    IntList referring = snapshot.inbound(info);
    int looked = 0;
    for (int i = 0; i < referring.size() && looked < MOST_LOOKED_AT; i++) {
      int from = referring.get(i);
      if (snapshot.typeName(from).equals("v8:code")) {
        looked++;
        if (scripts.target(from, edge) == info) {
          return from;
        }
      }
    }
    return -1;
  }

  /** Any function inside a scope: while its own function may be gone, its script is the same. */
  private int innerFunction(int info) throws IOException {
    IntList pending = new IntList();
    Set<Integer> seen = new HashSet<>();
    pending.add(info);
    seen.add(info);
    for (int i = 0; i < Math.min(pending.size(), MOST_INNER); i++) {
      int at = pending.get(i);
      int function = function(at, "raw_outer_scope_info_or_feedback_metadata");
      function = function >= 0 || at == info ? function : function(at, "name_or_scope_info");
      if (function >= 0) {
        return function;
      }
      IntList referring = snapshot.inbound(at);
      for (int k = 0; k < Math.min(referring.size(), MOST_LOOKED_AT); k++) {
        int from = referring.get(k);
        if (isScopeInfo(from) && seen.add(from)) {
          pending.add(from);
        }
      }
    }
    return -1;
  }

  private boolean isScopeInfo(int node) throws IOException {
    return snapshot.typeName(node).equals("v8:code")
        && rows.text(rows.node(node).name()).equals(SCOPE_INFO);
  }

  private int outer(int info) throws IOException {
    int[] found = {-1};
    rows.edges(
        info,
        rows.node(info).edges(),
        (type, name, target) -> {
          if (target != info && isScopeInfo(target)) {
            found[0] = target;
          }
          return true;
        });
    return found[0];
  }

  /** Whether a scope is that of a module of the standard's. */
  private boolean isModule(int context) throws IOException {
    int extension = scripts.target(context, "extension");
    return extension >= 0 && rows.text(rows.node(extension).name()).contains("SourceTextModule");
  }

  private boolean isTop(int context) throws IOException {
    int previous = scripts.target(context, "previous");
    String type = previous < 0 ? "" : rows.text(rows.node(previous).name());
    return type.contains("NativeContext") || type.contains("ScriptContext");
  }

  /**
   * The name of a variable of a block, which V8 gives only a number: the n-th value that is no
   * small number.
   */
  String blockVariable(int context, long number) throws IOException {
    int info = info(context);
    if (info < 0) {
      return "?";
    }
    List<String> names = variables.get(info);
    if (names == null) {
      names = blockNames(info);
      variables.put(info, names);
    }
    long[] last = {-1};
    rows.edges(
        context,
        rows.node(context).edges(),
        (type, name, target) -> {
          last[0] = type.equals(V8Format.EDGE_HIDDEN) ? Math.max(last[0], name) : last[0];
          return true;
        });
    if (last[0] + 1 == names.size() && number < names.size()) {
      return names.get((int) number);
    }
    return names.isEmpty() ? "?" : "one of " + String.join(", ", names);
  }

  private List<String> blockNames(int info) throws IOException {
    List<String> names = new ArrayList<>();
    rows.edges(
        info,
        rows.node(info).edges(),
        (type, name, target) -> {
          if (!type.equals(V8Format.EDGE_HIDDEN)) {
            return true;
          }
          V8Rows.Node node = rows.node(target);
          if (!node.type().equals(V8Format.STRING)) {
            return false;
          }
          names.add(rows.text(node.name()));
          return true;
        });
    return names;
  }
}
