package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.array.LongIntMap;
import lipsanon.io.CorruptInputException;

/**
 * Reads a run of rows of nodes; several passes can work side by side. What objects before it there
 * are is known only when all have been read: it writes where its own are presumed to come, and
 * moves them if that was wrong.
 */
final class NodesPass {
  private static final int OFTEN = 1 << 12;

  private final V8Nodes nodes;
  private final int from;
  private final int to;
  private final NumberList.Place place;

  /** The synthetic nodes of the run, and the indexes of their names. */
  final IntList synthetic = new IntList();

  final IntList syntheticNames = new IntList();

  /** V8 type &lt;&lt; 32 | name: what types are told apart by until the names are known. */
  private final LongIntMap rawTypes = new LongIntMap();

  final List<Long> rawKeys = new ArrayList<>();
  private int first;
  private int objects;
  private int greatestName;
  private long clamped;
  private long edges;
  private long beginning;
  private long ending;

  NodesPass(V8Nodes nodes, int from, int to, NumberList.Place place) {
    this.nodes = nodes;
    this.from = from;
    this.to = to;
    this.place = place;
    this.first = nodes.presumed(from);
  }

  /** Hears of rows that were read. */
  interface Steps {
    void read(int rows);
  }

  /** Reads the rows. */
  void read(Steps steps) throws IOException {
    V8Meta meta = nodes.meta;
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
    final long[] row = new long[meta.width("node_fields")];
    NumberScanner in = new NumberScanner(nodes.source, place.position());
    in.skip((long) from * row.length - place.number());
    in.toNumber();
    beginning = in.position();
    for (int node = from; node < to; node++) {
      if ((node & OFTEN - 1) == 0) {
        steps.read(OFTEN);
      }
      in.toNumber();
      final long position = in.position();
      in.row(row);
      final long v8Type = row[typeAt];
      final long name = row[nameAt];
      if (v8Type < 0
          || v8Type >= typeCount
          || name < 0
          || name > Integer.MAX_VALUE
          || row[idAt] < 0
          || row[idAt] > V8Nodes.LARGEST
          || row[sizeAt] < 0
          || row[edgesAt] < 0
          || (edges += row[edgesAt]) > edgeCount) {
        throw new CorruptInputException(
            nodes.source.name(),
            position,
            "node " + Arrays.toString(row),
            "values within their bounds");
      }
      nodes.edgeCounts.set(node, (int) row[edgesAt]);
      greatestName = Math.max(greatestName, (int) name);
      if (v8Type == syntheticType) {
        synthetic.add(node);
        syntheticNames.add((int) name);
        continue;
      }
      if (nodes.trace != null) {
        nodes.trace.set(first + objects, (int) row[traceAt]);
      }
      int raw = rawType(v8Type << 32 | (named[(int) v8Type] ? name : 0));
      add(node, raw, row[idAt], row[sizeAt], position);
    }
    if (to == nodes.count) {
      in.checkEnd("node_count");
    } else {
      in.toNumber();
    }
    ending = in.position();
  }

  private void add(int node, int raw, long id, long size, long position) {
    final int object = first + objects++;
    clamped += size > V8Nodes.LARGEST ? 1 : 0;
    nodes.objectOf.set(node, object);
    nodes.type.set(object, raw);
    nodes.ids.set(object, id);
    nodes.positions.set(object, position + 1);
    nodes.shallow.set(object, (int) Math.min(size, V8Nodes.LARGEST));
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

  /** Moves the objects to where they belong: never behind the presumed place. */
  void moveTo(int place0) {
    final int back = first - place0;
    if (back == 0) {
      return;
    }
    for (int object = first; object < first + objects; object++) {
      nodes.type.set(object - back, nodes.type.get(object));
      nodes.ids.set(object - back, nodes.ids.get(object));
      nodes.positions.set(object - back, nodes.positions.get(object));
      nodes.shallow.set(object - back, nodes.shallow.get(object));
      if (nodes.trace != null) {
        nodes.trace.set(object - back, nodes.trace.get(object));
      }
    }
    for (int node = from; node < to; node++) {
      int object = nodes.objectOf.get(node);
      // those of synthetic nodes are told already
      if (object >= 0) {
        nodes.objectOf.set(node, object - back);
      }
    }
    first = place0;
  }

  int objects() {
    return objects;
  }

  /** The greatest index of a name. */
  int greatestName() {
    return greatestName;
  }

  /** How many objects are larger than can be kept. */
  long clamped() {
    return clamped;
  }

  /** How many edges the nodes have together. */
  long edges() {
    return edges;
  }

  /** Where the first number stands in the file. */
  long beginning() {
    return beginning;
  }

  /** Where what follows the last number stands in the file. */
  long ending() {
    return ending;
  }
}
