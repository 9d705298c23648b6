package lipsanon.format.v8;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Builds tiny V8 snapshots, row by row, with columns in any order. */
public final class V8Builder {
  static final List<String> NODE_TYPES =
      List.of(
          "hidden",
          "array",
          "string",
          "object",
          "code",
          "closure",
          "regexp",
          "number",
          "native",
          "synthetic",
          "concatenated string",
          "sliced string",
          "symbol",
          "bigint",
          "object shape");
  static final List<String> EDGE_TYPES =
      List.of("context", "element", "property", "internal", "hidden", "shortcut", "weak");

  private final List<String> nodeFields;
  private final List<String> edgeFields;
  private final List<String> strings = new ArrayList<>();
  private final Map<String, Integer> numbers = new HashMap<>();
  private final List<Node> nodes = new ArrayList<>();
  private final List<long[]> locations = new ArrayList<>();
  private final StringBuilder members = new StringBuilder();
  private final Map<Integer, Long> states = new HashMap<>();

  private record Edge(String type, Object name, int target) {}

  private record Node(String type, String name, long id, long size, List<Edge> edges) {}

  /** With the columns of Node.js. */
  public V8Builder() {
    this(
        List.of("type", "name", "id", "self_size", "edge_count", "trace_node_id", "detachedness"),
        List.of("type", "name_or_index", "to_node"));
  }

  V8Builder(List<String> nodeFields, List<String> edgeFields) {
    this.nodeFields = nodeFields;
    this.edgeFields = edgeFields;
  }

  /** Adds a node and returns its number. */
  public int node(String type, String name, long id, long size) {
    nodes.add(new Node(type, name, id, size, new ArrayList<>()));
    return nodes.size() - 1;
  }

  /** Adds an edge; its name is a text or a number. */
  public V8Builder edge(int from, String type, Object name, int to) {
    nodes.get(from).edges().add(new Edge(type, name, to));
    return this;
  }

  /** What is said of an element: 0 unknown, 1 in a page, 2 taken out of it. */
  public V8Builder detachedness(int node, long state) {
    states.put(node, state);
    return this;
  }

  V8Builder location(int node, int script, int line, int column) {
    locations.add(new long[] {(long) node * nodeFields.size(), script, line, column});
    return this;
  }

  /** Adds a member behind V8's own; its value is JSON. */
  V8Builder member(String name, String json) {
    members.append(",\n\"").append(name).append("\":").append(json);
    return this;
  }

  private int string(String text) {
    return numbers.computeIfAbsent(
        text,
        key -> {
          strings.add(key);
          return strings.size() - 1;
        });
  }

  private static String list(List<String> texts) {
    StringBuilder out = new StringBuilder();
    for (String text : texts) {
      out.append(out.isEmpty() ? "" : ",").append('"').append(text).append('"');
    }
    return "[" + out + "]";
  }

  /** The whole file. */
  public byte[] bytes() throws IOException {
    StringBuilder rows = new StringBuilder();
    StringBuilder edges = new StringBuilder();
    int edgeCount = 0;
    for (int n = 0; n < nodes.size(); n++) {
      Node node = nodes.get(n);
      Map<String, Long> values =
          Map.of(
              "type",
              (long) NODE_TYPES.indexOf(node.type()),
              "name",
              (long) string(node.name()),
              "id",
              node.id(),
              "self_size",
              node.size(),
              "edge_count",
              (long) node.edges().size(),
              "detachedness",
              states.getOrDefault(n, 0L));
      row(rows, nodeFields, values);
      for (Edge edge : node.edges()) {
        edgeCount++;
        long name = edge.name() instanceof String text ? string(text) : (Integer) edge.name();
        row(
            edges,
            edgeFields,
            Map.of(
                "type",
                (long) EDGE_TYPES.indexOf(edge.type()),
                "name_or_index",
                name,
                "to_node",
                (long) edge.target() * nodeFields.size()));
      }
    }
    StringBuilder places = new StringBuilder();
    for (long[] place : locations) {
      for (long value : place) {
        places.append(places.isEmpty() ? "" : ",").append(value);
      }
    }
    ByteArrayOutputStream out = new ByteArrayOutputStream();
    String head =
        "{\"snapshot\":{\"meta\":{\"node_fields\":"
            + list(nodeFields)
            + ",\"node_types\":["
            + list(NODE_TYPES)
            + ",\"string\"],\"edge_fields\":"
            + list(edgeFields)
            + ",\"edge_types\":["
            + list(EDGE_TYPES)
            + ",\"node\"],"
            + "\"location_fields\":[\"object_index\",\"script_id\",\"line\",\"column\"]},"
            + "\"node_count\":"
            + nodes.size()
            + ",\"edge_count\":"
            + edgeCount
            + ",\"trace_function_count\":0},\n\"nodes\":["
            + rows
            + "],\n\"edges\":["
            + edges
            + "],\n\"trace_function_infos\":[],\n\"trace_tree\":[],\n\"samples\":[],\n"
            + "\"locations\":["
            + places
            + "],\n\"strings\":[";
    out.write(head.getBytes(StandardCharsets.UTF_8));
    for (int i = 0; i < strings.size(); i++) {
      String text = strings.get(i).replace("\\", "\\\\").replace("\"", "\\\"");
      out.write(((i == 0 ? "\"" : ",\n\"") + text + "\"").getBytes(StandardCharsets.UTF_8));
    }
    out.write(("]" + members + "}\n").getBytes(StandardCharsets.UTF_8));
    return out.toByteArray();
  }

  private static void row(StringBuilder out, List<String> fields, Map<String, Long> values) {
    for (String field : fields) {
      out.append(out.isEmpty() ? "" : ",").append(values.getOrDefault(field, 0L));
    }
    out.append('\n');
  }

  /**
   * A harbour office: global -> board (Board) with a list of berths; a weak map whose value hangs
   * on its key; a function with a variable; an element that was taken out of its page.
   */
  static V8Builder sample(V8Builder b) {
    int root = b.node("synthetic", "", 1, 0);
    int roots = b.node("synthetic", "(GC roots)", 3, 0);
    int strong = b.node("synthetic", "(Strong roots)", 5, 0);
    int global = b.node("object", "Window [JSGlobalObject] / http://port-merrow", 41, 40);
    int board = b.node("object", "Board", 19, 48);
    int name = b.node("string", "tide \"board\" ü", 2_207_660_801L, 32);
    int berths = b.node("object", "Array", 23, 32);
    int berth = b.node("object", "Berth", 25, 24);
    int weakMap = b.node("object", "WeakMap", 27, 32);
    int table = b.node("array", "", 29, 80);
    int value = b.node("object", "Paper", 31, 56);
    int context = b.node("object", "system / Context / scope @4240", 33, 40);
    int closure = b.node("closure", "onCall", 35, 64);
    int shared = b.node("code", "onCall", 37, 56);
    int script = b.node("code", "/harbour/board.js", 39, 144);
    int scopeInfo = b.node("code", "system / ScopeInfo", 43, 40);
    int section = b.node("native", "<section id=\"berths\" class=\"x\">", 44, 104);
    int lost = b.node("object", "Paper", 45, 56);
    String pair = "4 / part of key (Berth @25) -> value (Paper @31) pair in WeakMap (table @29)";
    b.edge(root, "element", 1, roots).edge(root, "shortcut", "2", global);
    b.edge(roots, "element", 1, strong).edge(strong, "internal", "7", weakMap);
    b.edge(strong, "weak", "8", lost);
    b.edge(global, "property", "board", board).edge(global, "property", "self", global);
    b.edge(board, "property", "name", name).edge(board, "property", "berths", berths);
    b.edge(board, "property", "onCall", closure).edge(board, "property", "page", section);
    b.edge(berths, "element", 0, berth).edge(berths, "element", 1, berth);
    b.edge(weakMap, "internal", "table", table);
    b.edge(table, "internal", pair, value).edge(berth, "internal", pair, value);
    b.edge(closure, "internal", "shared", shared).edge(closure, "internal", "context", context);
    b.edge(shared, "internal", "name_or_scope_info", scopeInfo);
    b.edge(shared, "internal", "script_or_debug_info", script);
    b.edge(context, "internal", "scope_info", scopeInfo).edge(context, "context", "kept", berths);
    b.edge(value, "property", "toRoot", strong);
    b.location(closure, 7, 40, 2).location(board, 7, 3, 0).location(berth, 9, 1, 1);
    return b;
  }
}
