package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.io.CorruptInputException;

/** Reads a run of nodes into {@link V8Nodes}; two passes can work side by side. */
final class NodesPass {
  /** The largest identifier, and the largest size that is kept. */
  static final long LARGEST = 0xffff_ffffL;

  private final V8Nodes nodes;
  private final V8Meta meta;
  private final String source;

  final int firstNode;

  /** The number of the first object, as far as it was known when the pass began. */
  final int firstObject;

  private int object;

  final IntList synthetic = new IntList();
  final IntList syntheticNames = new IntList();

  /** V8 type &lt;&lt; 32 | name: what types are told apart by until the names are known. */
  private final LongIntMap rawTypes = new LongIntMap();

  final List<Long> rawKeys = new ArrayList<>();
  final SeenIds seen = new SeenIds();
  int greatestName;
  long edges;
  long clamped;
  long repeatedIds;

  /** Where the first number stands, and what follows the last one. */
  long beginning;

  long ending;

  NodesPass(V8Nodes nodes, V8Meta meta, String source, int firstNode, int firstObject) {
    this.nodes = nodes;
    this.meta = meta;
    this.source = source;
    this.firstNode = firstNode;
    this.firstObject = firstObject;
    this.object = firstObject;
  }

  int objects() {
    return object - firstObject;
  }

  /** Notes where the pass ends; behind the last node the list must end. */
  void end(NumberScanner in, int count) throws IOException {
    in.toNumber();
    ending = in.position();
    if (firstNode + objects() + synthetic.size() == count) {
      in.checkEnd("node_count");
    }
  }

  /** Reads from where the scanner stands, the first number of node {@code from}. */
  void read(NumberScanner in, int from, int to) throws IOException {
    final int typeAt = meta.column("node_fields", "type");
    final int nameAt = meta.column("node_fields", "name");
    final int idAt = meta.column("node_fields", "id");
    final int sizeAt = meta.column("node_fields", "self_size");
    final int edgesAt = meta.column("node_fields", "edge_count");
    final int traceAt = meta.column("node_fields", "trace_node_id");
    final int typeCount = meta.nodeTypes().size();
    final int syntheticType = meta.nodeTypes().indexOf(V8Format.SYNTHETIC);
    final long edgeCount = meta.edgeCount();
    final boolean[] named = new boolean[typeCount];
    for (int i = 0; i < typeCount; i++) {
      named[i] = V8Types.isNamed(meta.nodeTypes().get(i));
    }
    if (from == firstNode) {
      in.toNumber();
      beginning = in.position();
    }
    final IntArray edgeCounts = nodes.edgeCounts;
    final long[] row = new long[meta.width("node_fields")];
    for (int node = from; node < to; node++) {
      in.toNumber();
      final long position = in.position();
      in.row(row);
      final long type = row[typeAt];
      final long name = row[nameAt];
      if (type < 0
          || type >= typeCount
          || name < 0
          || name > Integer.MAX_VALUE
          || row[idAt] < 0
          || row[idAt] > LARGEST
          || row[sizeAt] < 0
          || row[edgesAt] < 0
          || (edges += row[edgesAt]) > edgeCount) {
        throw new CorruptInputException(
            source, position, "node " + Arrays.toString(row), "values within their bounds");
      }
      edgeCounts.set(node, (int) row[edgesAt]);
      greatestName = Math.max(greatestName, (int) name);
      if (type == syntheticType) {
        nodes.objectOf.set(node, ~synthetic.size());
        synthetic.add(node);
        syntheticNames.add((int) name);
        continue;
      }
      if (nodes.trace != null) {
        nodes.trace.set(object, (int) row[traceAt]);
      }
      int raw = rawType(type << 32 | (named[(int) type] ? name : 0));
      add(node, raw, row[idAt], row[sizeAt], position);
    }
  }

  private void add(int node, int type, long id, long size, long position) {
    repeatedIds += seen.add(id) ? 0 : 1;
    clamped += size > LARGEST ? 1 : 0;
    nodes.objectOf.set(node, object);
    nodes.type.set(object, type);
    nodes.ids.set(object, id);
    nodes.positions.set(object, position + 1);
    nodes.shallow.set(object, (int) Math.min(size, LARGEST));
    object++;
  }

  private int rawType(long key) {
    int known = rawTypes.get(key);
    if (known < 0) {
      known = rawKeys.size();
      rawTypes.put(key, known);
      rawKeys.add(key);
    }
    return known;
  }
}
