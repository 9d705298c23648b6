package lipsanon.format.v8;

import java.io.IOException;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;

/** Says edges in words. One thread. */
final class V8Vias {
  /** A plain object with so many references is used as a table: its names are keys. */
  static final int TABLE = 32;

  /** Edges to what describes an object rather than to what the object holds. */
  private static final Set<String> DESCRIBING =
      Set.of(
          "map",
          "prototype",
          "constructor",
          "code",
          "shared",
          "feedback_cell",
          "scope_info",
          "native_context",
          "initial_map",
          "global_proxy",
          "javascript_to_native",
          "name");

  /** Objects in the global scope that are not the program's own; functions are none either. */
  private static final Set<String> OF_RUNTIME =
      Set.of(
          ("Atomics JSON Math Reflect WebAssembly Intl console process global globalThis window self"
                  + " document location navigator history screen performance crypto localStorage"
                  + " sessionStorage caches indexedDB visualViewport frames parent top customElements"
                  + " external chrome speechSynthesis trustedTypes scheduler clientInformation")
              .split(" "));

  /** What a browser keeps event listeners in. */
  private static final String LISTENERS = "blink::EventTargetData";

  /** The list of what a browser keeps while it may still call back. */
  private static final String ACTIVE =
      "blink::HeapVectorBacking<pair<const ActiveScriptWrappableBase";

  /** What an element has that few elements have. */
  private static final String RARE = "blink::NodeRareData::DataFieldWrapper";

  private static final int MOST_REFERRING = 20;

  /** The variable of Node.js that holds all lists of timers, by their delay. */
  private static final String TIMERS = "timerListMap";

  /** What loads modules by {@code import}, and keeps each for ever under its address. */
  private static final Set<String> IMPORTS = Set.of("cascadedLoader", "esmLoader");

  private static final String EXPORTS = "exports";
  private static final String CHILDREN = "children";

  private final Snapshot snapshot;
  private final V8Rows rows;
  private final V8Scripts scripts;
  private final V8Scopes scopes;
  private final V8Exports exports;

  V8Vias(Snapshot snapshot, V8Rows rows, V8Scripts scripts, V8Scopes scopes) {
    this.snapshot = snapshot;
    this.rows = rows;
    this.scripts = scripts;
    this.scopes = scopes;
    this.exports = new V8Exports(snapshot, rows, scopes);
  }

  Via via(int from, V8Rows.Node node, String edge, long name, int target) throws IOException {
    String service = service(from, snapshot.typeName(target));
    if (service != null) {
      return new Via(Via.Kind.SERVICE, "", service, -1);
    }
    return switch (edge) {
      case V8Format.EDGE_ELEMENT -> new Via(Via.Kind.ELEMENT, "", "", name);
      case V8Format.EDGE_CONTEXT -> variable(from, rows.text(name), target);
      case V8Format.EDGE_PROPERTY -> property(from, node, rows.text(name), target);
      case V8Format.EDGE_HIDDEN -> hidden(from, node, name, target);
      default -> internal(from, node, rows.text(name));
    };
  }

  private Via internal(int from, V8Rows.Node node, String name) throws IOException {
    V8Exports.Export export = exports.of(from, node, name);
    return export == null ? internal(node, name) : variable(export.scope(), export.name());
  }

  /** What a browser does for a page, in words; null of what is nothing of that kind. */
  private String service(int from, String target) {
    return switch (target) {
      case LISTENERS -> "event listeners of " + snapshot.typeName(from).replaceFirst(" / .*", "");
      case "blink::NodeMutationObserverData" -> "mutation observers of " + element(from);
      case "blink::(anonymous namespace)::DOMTimerCoordinator", "blink::DOMTimerCoordinator" ->
          "the timers of the page";
      case "ScriptedIdleTaskController" -> "the idle callbacks that the page waits for";
      case "blink::HeapVectorBacking<PerformanceObserver>",
              "blink::HeapHashTableBacking<PerformanceObserver, unsigned int>" ->
          "the performance observers of the page";
      case "V8ObservableArrayCSSStyleSheet" ->
          snapshot.typeName(from).endsWith("Document")
              ? "the adopted style sheets of the page"
              : "adopted style sheets of " + element(from);
      case "ScriptedAnimationController" -> "the animation frames that the page waits for";
      case "IntersectionObserverController" -> "the intersection observers of the page";
      case "blink::FetchManager" -> "the requests that the page waits for (fetch)";
      case "blink::UserTiming" -> "the performance marks of the page";
      default ->
          target.startsWith(ACTIVE)
              ? "the pending activities of the page"
              : target.startsWith(RARE) && target.contains("ResizeObserver")
                  ? "resize observers of " + element(from)
                  : null;
    };
  }

  /** The element that has something, which may be in a part of it. */
  private String element(int from) {
    IntList referring = snapshot.inbound(from);
    for (int i = 0; i < Math.min(referring.size(), MOST_REFERRING); i++) {
      if (isElement(referring.get(i)) && !isElement(from)) {
        return snapshot.typeName(referring.get(i));
      }
    }
    return snapshot.typeName(from);
  }

  private boolean isElement(int node) {
    return snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.ELEMENT);
  }

  private Via variable(int context, String name, int target) throws IOException {
    V8Scopes.Variable written = scopes.variable(context, name);
    V8Scopes.Scope scope = written.scope();
    if (scope.library() && name.equals(TIMERS)) {
      return new Via(Via.Kind.SERVICE, "", "the timers of Node.js", -1);
    }
    if (scope.library() && IMPORTS.contains(name)) {
      return new Via(Via.Kind.SERVICE, "", "the modules that Node.js has imported", -1);
    }
    if (isGivenToModules(name, target)) {
      return new Via(Via.Kind.INTERNAL, "", name, -1);
    }
    if (scope.library() && !scope.top()) {
      return new Via(Via.Kind.PART, "", name, -1);
    }
    return variable(scope, written.name());
  }

  private static Via variable(V8Scopes.Scope scope, String name) {
    Via.Kind kind =
        scope.library()
            ? Via.Kind.RUNTIME_VARIABLE
            : scope.foreign() ? Via.Kind.LIBRARY_VARIABLE : Via.Kind.VARIABLE;
    return new Via(kind, scope.text(), name, -1);
  }

  /**
   * Whether a variable is what Node.js gives to every module: all other modules are reached from
   * it, and none is held by it.
   */
  private boolean isGivenToModules(String name, int target) throws IOException {
    return name.equals("require") && rows.node(target).type().equals(V8Format.CLOSURE)
        || name.equals("module") && isModule(target);
  }

  private boolean isModule(int node) {
    return snapshot.types().get(snapshot.type(node)).is(TypeInfo.Trait.MODULE);
  }

  /**
   * What a module offers to others, and which ones it has loaded: told like variables of its own.
   */
  private Via ofModule(int module, String variable) throws IOException {
    int filename = scripts.property(module, "filename");
    String script = filename < 0 ? "" : rows.text(rows.node(filename).name());
    String name = script.isEmpty() ? "a module" : V8Scripts.shortName(script);
    V8Scopes.Scope scope = V8Scopes.Scope.in(script, V8Scopes.AT_TOP + name);
    boolean own = !scope.foreign() && !script.isEmpty();
    return new Via(own ? Via.Kind.VARIABLE : Via.Kind.LIBRARY_VARIABLE, scope.text(), variable, -1);
  }

  private Via property(int from, V8Rows.Node node, String name, int target) throws IOException {
    if (name.equals("__proto__")) {
      return new Via(Via.Kind.INTERNAL, "", name, -1);
    }
    if ((name.equals(EXPORTS) || name.equals(CHILDREN)) && isModule(from)) {
      return ofModule(from, name.equals(EXPORTS) ? EXPORTS : "module." + CHILDREN);
    }
    String owner = snapshot.typeName(from);
    if (node.type().equals(V8Format.CLOSURE)) {
      return ofFunction(from, node, name);
    }
    if (owner.equals("global") || owner.equals("Window")) {
      boolean own =
          !OF_RUNTIME.contains(name)
              && !name.startsWith("<symbol")
              && !rows.node(target).type().equals(V8Format.CLOSURE);
      return new Via(
          own ? Via.Kind.VARIABLE : Via.Kind.PROPERTY,
          own ? "in the global scope" : owner,
          name,
          -1);
    }
    boolean table = node.edges() >= TABLE && owner.equals("Object");
    return new Via(table ? Via.Kind.KEY : Via.Kind.PROPERTY, owner, name, -1);
  }

  /** A property of a function: a static one of a class, if it is somebody's own. */
  private Via ofFunction(int from, V8Rows.Node node, String name) throws IOException {
    String function = scripts.written(from, rows.text(node.name()));
    V8Scripts.Location place = scripts.of(from);
    boolean own =
        place != null
            && !place.library()
            && !V8Scripts.isForeign(place.script())
            && !name.equals("prototype")
            && !function.isEmpty();
    return own
        ? new Via(Via.Kind.STATIC, function, name, -1)
        : new Via(
            name.equals("prototype") ? Via.Kind.INTERNAL : Via.Kind.PROPERTY,
            function.isEmpty() ? "function" : function,
            name,
            -1);
  }

  private Via hidden(int from, V8Rows.Node node, long number, int target) throws IOException {
    if (node.type().equals(V8Format.OBJECT) && V8Scopes.isContext(snapshot.typeName(from))) {
      return variable(from, scopes.blockVariable(from, number), target);
    }
    return new Via(Via.Kind.PART, "", "part", number);
  }

  private static Via internal(V8Rows.Node node, String name) {
    if (!name.isEmpty() && name.length() < 10 && name.chars().allMatch(Character::isDigit)) {
      return new Via(Via.Kind.PART, "", name, Long.parseLong(name));
    }
    if (StringTable.tableOf(name) >= 0) {
      return new Via(Via.Kind.PART, "", "value in a weak map", -1);
    }
    boolean describing =
        DESCRIBING.contains(name)
            || node.type().equals(V8Format.CODE)
            || node.type().equals(V8Format.SHAPE);
    return new Via(describing ? Via.Kind.INTERNAL : Via.Kind.PART, "", name, -1);
  }

  /** Whether an edge keeps its target. */
  Reference.Kind kind(int from, String edge, long name) throws IOException {
    boolean weak =
        edge.equals(V8Format.EDGE_WEAK)
            || V8Format.NOTING.contains(snapshot.typeName(from))
            || edge.equals(V8Format.EDGE_INTERNAL)
                && StringTable.tableOf(rows.text(name)) == snapshot.rawId(from);
    return weak ? Reference.Kind.WEAK : Reference.Kind.STRONG;
  }
}
