package lipsanon.format.v8;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.index.TypeInfo;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;

/**
 * The nodes of a snapshot. One thread reads them from the beginning; another one can read the last
 * of them as soon as it knows where they stand. Nodes of type {@code synthetic} are no objects; all
 * others are, numbered in the order of the file.
 */
final class V8Nodes {
  /** Fewer nodes than these are not worth a part of their own. */
  private static final int LEAST = 1 << 12;

  private final V8Meta meta;
  private final ByteSource source;
  private final int width;

  /** Number of nodes. */
  final int count;

  /** By node: its object, or ~(its place among the synthetic ones). */
  final IntArray objectOf;

  /** By node: how many edges it has. */
  final IntArray edgeCounts;

  /** By object: its type, in the numbers of its part until {@link #nameTypes}. */
  final IntArray type;

  final IntArray shallow;

  /** By object: the stack that allocated it; null where the file has none. */
  final IntArray trace;

  final LongArray ids;

  /** By object: one more than where it stands in the file. */
  final LongArray positions;

  private final NodesPass first;
  private NodesPass last;

  /** The node that the first part has come to, and the one that it ends before. */
  private int reached;

  private int limit;
  private int syntheticReached;

  private int[] synthetic;
  private int[] syntheticNames;
  private int objects;
  private int closureType = -1;

  V8Nodes(V8Meta meta, int count, ByteSource source, Space space) {
    this.meta = meta;
    this.source = source;
    this.count = count;
    this.limit = count;
    this.width = meta.width("node_fields");
    int room = Math.max(1, count);
    boolean tracked =
        meta.traceFunctionCount() > 0 && meta.column("node_fields", "trace_node_id") >= 0;
    objectOf = space.ints(room);
    edgeCounts = space.ints(room);
    type = space.ints(room);
    shallow = space.ints(room);
    trace = tracked ? space.ints(room) : null;
    ids = space.longs(room, NodesPass.LARGEST);
    positions = space.longs(room, source.size() + 1);
    first = new NodesPass(this, meta, source.name(), 0, 0);
  }

  /** Reads from the beginning of the list up to where another part begins. */
  void readFirst(long begin, Progress progress) throws IOException {
    NumberScanner in = new NumberScanner(source, begin);
    for (int node = 0, until; (until = next(node)) > node; node = until) {
      progress.at(node);
      first.read(in, node, until);
    }
    first.end(in, count);
  }

  /** The end of the next run of nodes of the first part. */
  private synchronized int next(int node) {
    syntheticReached = first.synthetic.size();
    reached = Math.min(limit, node + LEAST);
    return reached;
  }

  /** Reads the second half of what the first part has not come to, if that is worth it. */
  void readLast(NumberList list) throws IOException {
    NumberList.Place place;
    int from;
    synchronized (this) {
      int middle = reached + (count - reached) / 2;
      int piece = list.pieceBefore((long) middle * width);
      if (piece == 0 || count - middle < LEAST) {
        return;
      }
      place = list.place(piece);
      long node = (place.number() + width - 1) / width;
      if (node < reached || node >= count) {
        return;
      }
      from = (int) node;
      limit = from;
      last = new NodesPass(this, meta, source.name(), from, from - syntheticReached);
    }
    NumberScanner in = new NumberScanner(source, place.position());
    in.skip((long) from * width - place.number());
    last.read(in, from, count);
    last.end(in, count);
  }

  /** Joins what was read. */
  void finish() throws IOException {
    IntList all = first.synthetic;
    IntList names = first.syntheticNames;
    objects = first.objects();
    long edges = first.edges;
    if (last != null) {
      NumberList.checkJoint(source, first.ending, last.beginning);
      for (int i = 0; i < last.synthetic.size(); i++) {
        objectOf.set(last.synthetic.get(i), ~all.size());
        all.add(last.synthetic.get(i));
        names.add(last.syntheticNames.get(i));
      }
      moveLast();
      objects += last.objects();
      edges += last.edges;
    }
    synthetic = all.toArray();
    syntheticNames = names.toArray();
    if (edges != meta.edgeCount()) {
      throw new CorruptInputException(
          source.name(), 0, "edge_count " + meta.edgeCount(), edges + ", as its nodes have");
    }
  }

  /** Closes the gap that synthetic nodes leave which were met after the other part had begun. */
  private void moveLast() {
    int gap = last.firstObject - objects;
    if (gap == 0) {
      return;
    }
    for (int n = objects; n < objects + last.objects(); n++) {
      type.set(n, type.get(n + gap));
      shallow.set(n, shallow.get(n + gap));
      ids.set(n, ids.get(n + gap));
      positions.set(n, positions.get(n + gap));
      if (trace != null) {
        trace.set(n, trace.get(n + gap));
      }
    }
    for (int node = last.firstNode; node < count; node++) {
      int object = objectOf.get(node);
      if (object >= 0) {
        objectOf.set(node, object - gap);
      }
    }
  }

  /** Whether two parts were read. */
  boolean readInParts() {
    return last != null;
  }

  /** How many objects there are. */
  int objects() {
    return objects;
  }

  /** The synthetic nodes, ascending. */
  int[] synthetic() {
    return synthetic;
  }

  /** By place among the synthetic nodes: the index of its name. */
  int[] syntheticNames() {
    return syntheticNames;
  }

  /** The type of functions, or -1; after {@link #nameTypes}. */
  int closureType() {
    return closureType;
  }

  long clamped() {
    return first.clamped + (last == null ? 0 : last.clamped);
  }

  /** How many objects have an identifier that one before has. */
  long repeatedIds() {
    return first.repeatedIds + (last == null ? 0 : last.repeatedIds + first.seen.common(last.seen));
  }

  /** Gives types their names; those that then turn out to be the same become one. */
  List<TypeInfo> nameTypes(StringTable strings) throws IOException {
    int greatest = Math.max(first.greatestName, last == null ? 0 : last.greatestName);
    if (greatest >= strings.count()) {
      throw new CorruptInputException(
          source.name(), 0, "a node with name " + greatest, "fewer than the strings");
    }
    List<TypeInfo> types = new ArrayList<>();
    Map<String, Integer> numbers = new HashMap<>();
    int begin = 0;
    for (NodesPass pass : last == null ? List.of(first) : List.of(first, last)) {
      int[] number = new int[pass.rawKeys.size()];
      for (int raw = 0; raw < number.length; raw++) {
        int v8Type = (int) (pass.rawKeys.get(raw) >>> 32);
        String kind = meta.nodeTypes().get(v8Type);
        String name = V8Types.isNamed(kind) ? strings.text(pass.rawKeys.get(raw).intValue()) : "";
        String text = V8Types.name(kind, name);
        Integer known = numbers.putIfAbsent(text, types.size());
        number[raw] = known == null ? types.size() : known;
        if (known == null) {
          types.add(V8Types.info(kind, text));
        }
        closureType = kind.equals(V8Format.CLOSURE) ? number[raw] : closureType;
      }
      for (int n = begin; n < begin + pass.objects(); n++) {
        type.set(n, number[type.get(n)]);
      }
      begin += pass.objects();
    }
    return types;
  }
}
