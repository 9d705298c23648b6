package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.array.LongIntMap;
import lipsanon.array.Space;
import lipsanon.index.TypeInfo;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;

/**
 * The nodes of a snapshot. Nodes of type {@code synthetic} are no objects; all others are, numbered
 * in the order of the file.
 */
final class V8Nodes {
  /** The largest identifier, and the largest size that is kept. */
  private static final long LARGEST = 0xffff_ffffL;

  private static final int OFTEN = 1 << 12;

  private final V8Meta meta;
  private final ByteSource source;

  /** Number of nodes. */
  final int count;

  /** By node: its object, or ~(its place among the synthetic ones). */
  final IntArray objectOf;

  /** By node: how many edges it has. */
  final IntArray edgeCounts;

  /** By object: its type, as a place among the raw ones until {@link #nameTypes}. */
  final IntArray type;

  final IntArray shallow;

  /** By object: the stack that allocated it; null where the file has none. */
  final IntArray trace;

  final LongArray ids;

  /** By object: one more than where it stands in the file. */
  final LongArray positions;

  private final IntList synthetic = new IntList();
  private final IntList syntheticNames = new IntList();

  /** V8 type &lt;&lt; 32 | name: what types are told apart by until the names are known. */
  private final LongIntMap rawTypes = new LongIntMap();

  private final List<Long> rawKeys = new ArrayList<>();
  private final SeenIds seen = new SeenIds();
  private int greatestName;
  private int objects;
  private long clamped;
  private long repeatedIds;
  private int closureType = -1;

  V8Nodes(V8Meta meta, int count, ByteSource source, Space space) {
    this.meta = meta;
    this.source = source;
    this.count = count;
    int room = Math.max(1, count);
    boolean tracked =
        meta.traceFunctionCount() > 0 && meta.column("node_fields", "trace_node_id") >= 0;
    objectOf = space.ints(room);
    edgeCounts = space.ints(room);
    type = space.ints(room);
    shallow = space.ints(room);
    trace = tracked ? space.ints(room) : null;
    ids = space.longs(room, LARGEST);
    positions = space.longs(room, source.size() + 1);
  }

  /** Reads all of them; {@code begin} is where the list's first number may stand. */
  void read(long begin, Progress progress) throws IOException {
    NumberScanner in = new NumberScanner(source, begin);
    final int typeAt = meta.column("node_fields", "type");
    final int nameAt = meta.column("node_fields", "name");
    final int idAt = meta.column("node_fields", "id");
    final int sizeAt = meta.column("node_fields", "self_size");
    final int edgesAt = meta.column("node_fields", "edge_count");
    final int traceAt = meta.column("node_fields", "trace_node_id");
    final int typeCount = meta.nodeTypes().size();
    final int syntheticType = meta.nodeTypes().indexOf(V8Format.SYNTHETIC);
    final long edgeCount = meta.edgeCount();
    long edges = 0;
    final boolean[] named = new boolean[typeCount];
    for (int i = 0; i < typeCount; i++) {
      named[i] = V8Types.isNamed(meta.nodeTypes().get(i));
    }
    final long[] row = new long[meta.width("node_fields")];
    for (int node = 0; node < count; node++) {
      if ((node & OFTEN - 1) == 0) {
        progress.at(node);
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
          || row[idAt] > LARGEST
          || row[sizeAt] < 0
          || row[edgesAt] < 0
          || (edges += row[edgesAt]) > edgeCount) {
        throw new CorruptInputException(
            source.name(), position, "node " + Arrays.toString(row), "values within their bounds");
      }
      edgeCounts.set(node, (int) row[edgesAt]);
      greatestName = Math.max(greatestName, (int) name);
      if (v8Type == syntheticType) {
        objectOf.set(node, ~synthetic.size());
        synthetic.add(node);
        syntheticNames.add((int) name);
        continue;
      }
      if (trace != null) {
        trace.set(objects, (int) row[traceAt]);
      }
      int raw = rawType(v8Type << 32 | (named[(int) v8Type] ? name : 0));
      add(node, raw, row[idAt], row[sizeAt], position);
    }
    in.checkEnd("node_count");
    if (edges != edgeCount) {
      throw new CorruptInputException(
          source.name(), 0, "edge_count " + edgeCount, edges + ", as its nodes have");
    }
  }

  private void add(int node, int raw, long id, long size, long position) {
    repeatedIds += seen.add(id) ? 0 : 1;
    clamped += size > LARGEST ? 1 : 0;
    objectOf.set(node, objects);
    type.set(objects, raw);
    ids.set(objects, id);
    positions.set(objects, position + 1);
    shallow.set(objects, (int) Math.min(size, LARGEST));
    objects++;
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

  /** How many objects there are. */
  int objects() {
    return objects;
  }

  /** The synthetic nodes, ascending. */
  int[] synthetic() {
    return synthetic.toArray();
  }

  /** By place among the synthetic nodes: the index of its name. */
  int[] syntheticNames() {
    return syntheticNames.toArray();
  }

  /** The type of functions, or -1; after {@link #nameTypes}. */
  int closureType() {
    return closureType;
  }

  long clamped() {
    return clamped;
  }

  /** How many objects have an identifier that one before has. */
  long repeatedIds() {
    return repeatedIds;
  }

  /** Gives types their names; those that then turn out to be the same become one. */
  List<TypeInfo> nameTypes(StringTable strings) throws IOException {
    if (greatestName >= strings.count()) {
      throw new CorruptInputException(
          source.name(), 0, "a node with name " + greatestName, "fewer than the strings");
    }
    List<TypeInfo> types = new ArrayList<>();
    Map<String, Integer> numbers = new HashMap<>();
    int[] number = new int[rawKeys.size()];
    for (int raw = 0; raw < number.length; raw++) {
      int v8Type = (int) (rawKeys.get(raw) >>> 32);
      String kind = meta.nodeTypes().get(v8Type);
      String name = V8Types.isNamed(kind) ? strings.text(rawKeys.get(raw).intValue()) : "";
      String text = V8Types.name(kind, name);
      Integer known = numbers.putIfAbsent(text, types.size());
      number[raw] = known == null ? types.size() : known;
      if (known == null) {
        types.add(V8Types.info(kind, text));
      }
      closureType = kind.equals(V8Format.CLOSURE) ? number[raw] : closureType;
    }
    for (int n = 0; n < objects; n++) {
      type.set(n, number[type.get(n)]);
    }
    return types;
  }
}
