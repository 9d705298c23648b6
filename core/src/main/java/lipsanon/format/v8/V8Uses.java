package lipsanon.format.v8;

import java.io.IOException;
import java.util.BitSet;
import java.util.Set;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/**
 * What the strings of a snapshot are used for: as names (of constructors, functions, properties,
 * variables, scripts), as contents (texts, numbers, keys of objects that serve as tables), or both.
 */
final class V8Uses {
  /** Objects with so many references are used as tables, as the reader of fields has it. */
  private static final int TABLE = V8Vias.TABLE;

  private static final Set<String> CONTENTS =
      Set.of(
          V8Format.STRING,
          V8Format.CONCATENATED,
          V8Format.SLICED,
          V8Format.NUMBER,
          "bigint",
          "regexp");

  /** What code refers to its names by: functions, and scripts. */
  private static final Set<String> NAMING = Set.of("name", "name_or_scope_info", "function_name");

  final V8File file;
  final V8Meta meta;

  /** By string. */
  final BitSet names = new BitSet();

  final BitSet contents = new BitSet();

  /** By node: a text that is a name all the same. */
  final BitSet namingNodes = new BitSet();

  private final ByteSource source;
  private final int nodeCount;
  private final int[] nameOf;
  private final int[] edgesOf;

  /** By node: 0 other, 1 contents, 2 names of variables, 3 other code, 4 a table. */
  private final byte[] kind;

  private V8Uses(ByteSource source, V8File file) throws IOException {
    this.source = source;
    this.file = file;
    this.meta = file.meta;
    if (meta.nodeCount() > Integer.MAX_VALUE - 16 || meta.nodeCount() * 10 > source.size() * 2) {
      throw new CorruptInputException(
          source.name(), 0, "node_count " + meta.nodeCount(), "no more than the file can hold");
    }
    this.nodeCount = (int) meta.nodeCount();
    this.nameOf = new int[nodeCount];
    this.edgesOf = new int[nodeCount];
    this.kind = new byte[nodeCount];
  }

  static V8Uses read(ByteSource source, V8File file) throws IOException {
    V8Uses uses = new V8Uses(source, file);
    uses.nodes();
    uses.edges();
    for (int n = 0; n < uses.nodeCount; n++) {
      boolean content = uses.kind[n] == 1 && !uses.namingNodes.get(n);
      (content ? uses.contents : uses.names).set(uses.nameOf[n]);
    }
    uses.functions();
    return uses;
  }

  /** Whether the text of a node is contents. */
  boolean isContent(int node) {
    return kind[node] == 1 && !namingNodes.get(node);
  }

  boolean isTable(int node) {
    return kind[node] == 4;
  }

  int edgeCount(int node) {
    return edgesOf[node];
  }

  int nodeCount() {
    return nodeCount;
  }

  private void nodes() throws IOException {
    NumberScanner in = new NumberScanner(source, file.begins.get("nodes"));
    int typeAt = meta.column("node_fields", "type");
    int nameAt = meta.column("node_fields", "name");
    int edgesAt = meta.column("node_fields", "edge_count");
    long[] row = new long[meta.width("node_fields")];
    for (int node = 0; node < nodeCount; node++) {
      for (int i = 0; i < row.length; i++) {
        row[i] = in.need();
      }
      if (row[typeAt] < 0
          || row[typeAt] >= meta.nodeTypes().size()
          || row[nameAt] < 0
          || row[nameAt] >= file.strings.count()
          || row[edgesAt] < 0
          || row[edgesAt] > Integer.MAX_VALUE) {
        throw new CorruptInputException(
            source.name(), in.position(), "a node's row", "values within their bounds");
      }
      nameOf[node] = (int) row[nameAt];
      edgesOf[node] = (int) row[edgesAt];
      String type = meta.nodeTypes().get((int) row[typeAt]);
      kind[node] = kind(type, nameOf[node], edgesOf[node]);
    }
  }

  private byte kind(String type, int name, int edges) throws IOException {
    if (CONTENTS.contains(type)) {
      return 1;
    }
    if (type.equals(V8Format.CODE)) {
      return (byte) (file.strings.text(name).equals(V8Scopes.SCOPE_INFO) ? 2 : 3);
    }
    boolean table =
        type.equals(V8Format.OBJECT) && edges >= TABLE && file.strings.text(name).equals("Object");
    return (byte) (table ? 4 : 0);
  }

  /** Hears an edge. */
  interface EdgeSink {
    /**
     * The next edge.
     *
     * @param position of the number that is its name
     */
    void edge(int from, int type, int name, long position, int target) throws IOException;
  }

  /** Goes through all edges that have names. */
  void eachNamed(EdgeSink sink) throws IOException {
    NumberScanner in = new NumberScanner(source, file.begins.get("edges"));
    int typeAt = meta.column("edge_fields", "type");
    int nameAt = meta.column("edge_fields", "name_or_index");
    int targetAt = meta.column("edge_fields", "to_node");
    int nodeWidth = meta.width("node_fields");
    int element = meta.edgeTypes().indexOf(V8Format.EDGE_ELEMENT);
    int hidden = meta.edgeTypes().indexOf(V8Format.EDGE_HIDDEN);
    long[] row = new long[meta.width("edge_fields")];
    long position = 0;
    for (int node = 0; node < nodeCount; node++) {
      for (int e = 0; e < edgesOf[node]; e++) {
        for (int i = 0; i < row.length; i++) {
          if (i == nameAt) {
            in.toNumber();
            position = in.position();
          }
          row[i] = in.need();
        }
        int type = (int) row[typeAt];
        boolean named = type != element && type != hidden;
        long target = row[targetAt] / nodeWidth;
        if (target < 0
            || target >= nodeCount
            || named && (row[nameAt] < 0 || row[nameAt] >= file.strings.count())) {
          throw new CorruptInputException(
              source.name(), in.position(), "an edge's row", "values within their bounds");
        }
        sink.edge(node, type, named ? (int) row[nameAt] : -1, position, (int) target);
      }
    }
  }

  private void edges() throws IOException {
    int property = meta.edgeTypes().indexOf(V8Format.EDGE_PROPERTY);
    int internal = meta.edgeTypes().indexOf(V8Format.EDGE_INTERNAL);
    eachNamed(
        (from, type, name, position, target) -> {
          if (kind[from] == 2 && kind[target] == 1) {
            namingNodes.set(target);
          } else if (kind[from] == 3 && kind[target] == 1 && type == internal) {
            if (NAMING.contains(file.strings.text(name))) {
              namingNodes.set(target);
            }
          }
          if (name >= 0) {
            boolean key = kind[from] == 4 && type == property && !isProto(name);
            (key ? contents : names).set(name);
          }
        });
  }

  private boolean isProto(int name) throws IOException {
    return file.strings.text(name).equals("__proto__");
  }

  /** Names of functions and scripts in a recording. */
  private void functions() throws IOException {
    Long begin = file.begins.get("trace_function_infos");
    int width = meta.width("trace_function_info_fields");
    if (begin == null || width <= 0) {
      return;
    }
    int name = meta.column("trace_function_info_fields", "name");
    int script = meta.column("trace_function_info_fields", "script_name");
    NumberScanner in = new NumberScanner(source, begin);
    int at = 0;
    for (long value = in.next(); value != NumberScanner.END; value = in.next()) {
      if ((at == name || at == script) && value >= 0 && value < file.strings.count()) {
        names.set((int) value);
      }
      at = at + 1 == width ? 0 : at + 1;
    }
  }
}
