package lipsanon.format.v8;

import com.fasterxml.jackson.core.JsonParser;
import com.fasterxml.jackson.core.JsonToken;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.io.CorruptInputException;

/**
 * What a snapshot says of its own columns.
 *
 * @param lists names of columns by the list's own name, for example {@code node_fields}
 * @param nodeTypes names of the types of nodes
 * @param edgeTypes names of the types of edges
 * @param nodeCount nodes announced
 * @param edgeCount edges announced
 * @param traceFunctionCount functions that allocated while allocations were recorded
 */
record V8Meta(
    Map<String, List<String>> lists,
    List<String> nodeTypes,
    List<String> edgeTypes,
    long nodeCount,
    long edgeCount,
    long traceFunctionCount) {

  /** Position of a column in its row; -1 if the rows have none. */
  int column(String list, String name) {
    return lists.getOrDefault(list, List.of()).indexOf(name);
  }

  int width(String list) {
    return lists.getOrDefault(list, List.of()).size();
  }

  /** Reads the value of the member {@code snapshot}; the parser stands on its first token. */
  static V8Meta read(JsonParser json, String source) throws IOException {
    Map<String, List<String>> lists = new HashMap<>();
    List<String> nodeTypes = new ArrayList<>();
    List<String> edgeTypes = new ArrayList<>();
    long nodes = -1;
    long edges = -1;
    long functions = 0;
    if (json.currentToken() != JsonToken.START_OBJECT) {
      throw new CorruptInputException(source, 0, "no object as \"snapshot\"", "one");
    }
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      json.nextToken();
      switch (name) {
        case "meta" -> readMeta(json, lists, nodeTypes, edgeTypes);
        case "node_count" -> nodes = json.getValueAsLong(-1);
        case "edge_count" -> edges = json.getValueAsLong(-1);
        case "trace_function_count" -> functions = json.getValueAsLong(0);
        default -> json.skipChildren();
      }
    }
    V8Meta meta = new V8Meta(lists, nodeTypes, edgeTypes, nodes, edges, functions);
    meta.check(source);
    return meta;
  }

  private static void readMeta(
      JsonParser json,
      Map<String, List<String>> lists,
      List<String> nodeTypes,
      List<String> edgeTypes)
      throws IOException {
    while (json.nextToken() == JsonToken.FIELD_NAME) {
      String name = json.currentName();
      JsonToken value = json.nextToken();
      if (value != JsonToken.START_ARRAY) {
        json.skipChildren();
        continue;
      }
      List<String> list = new ArrayList<>();
      boolean first = true;
      while (json.nextToken() != JsonToken.END_ARRAY && json.currentToken() != null) {
        if (json.currentToken() == JsonToken.START_ARRAY) {
          List<String> inner = first && name.equals("node_types") ? nodeTypes : new ArrayList<>();
          inner = first && name.equals("edge_types") ? edgeTypes : inner;
          while (json.nextToken() == JsonToken.VALUE_STRING) {
            inner.add(json.getText());
          }
        } else {
          list.add(json.getValueAsString(""));
        }
        first = false;
      }
      lists.put(name, list);
    }
  }

  private void check(String source) throws CorruptInputException {
    String[] needed = {"type", "name", "id", "self_size", "edge_count"};
    for (String name : needed) {
      need(source, "node_fields", name);
    }
    for (String name : new String[] {"type", "name_or_index", "to_node"}) {
      need(source, "edge_fields", name);
    }
    if (nodeCount < 0 || edgeCount < 0 || nodeTypes.isEmpty() || edgeTypes.isEmpty()) {
      throw new CorruptInputException(
          source, 0, "a description without counts or types of nodes and edges", "both");
    }
  }

  private void need(String source, String list, String name) throws CorruptInputException {
    if (column(list, name) < 0) {
      throw new CorruptInputException(source, 0, list + " without \"" + name + "\"", "it");
    }
  }

  void write(DataOutputStream out) throws IOException {
    out.writeInt(lists.size());
    for (Map.Entry<String, List<String>> entry : lists.entrySet()) {
      out.writeUTF(entry.getKey());
      write(out, entry.getValue());
    }
    write(out, nodeTypes);
    write(out, edgeTypes);
    out.writeLong(nodeCount);
    out.writeLong(edgeCount);
    out.writeLong(traceFunctionCount);
  }

  static V8Meta read(DataInputStream in) throws IOException {
    Map<String, List<String>> lists = new HashMap<>();
    for (int left = in.readInt(); left > 0; left--) {
      String name = in.readUTF();
      lists.put(name, readList(in));
    }
    return new V8Meta(
        lists, readList(in), readList(in), in.readLong(), in.readLong(), in.readLong());
  }

  private static void write(DataOutputStream out, List<String> list) throws IOException {
    out.writeInt(list.size());
    for (String text : list) {
      out.writeUTF(text);
    }
  }

  private static List<String> readList(DataInputStream in) throws IOException {
    List<String> list = new ArrayList<>();
    for (int left = in.readInt(); left > 0; left--) {
      list.add(in.readUTF());
    }
    return list;
  }
}
