package lipsanon.format.v8;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.concurrent.Callable;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
import lipsanon.array.LongIntMap;
import lipsanon.array.Space;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
import lipsanon.graph.Workers;
import lipsanon.index.IdStyle;
import lipsanon.index.RootInfo;
import lipsanon.index.SnapshotContent;
import lipsanon.index.SnapshotFacts;
import lipsanon.index.TypeInfo;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;

/**
 * Reads a V8 heap snapshot into {@link SnapshotContent}. Nodes of type {@code synthetic} together
 * are the super-root; all others are objects, numbered in the order of the file. An edge to a
 * synthetic node is none.
 *
 * <p>Working memory: 32 bytes a node and 4 an edge, and 8 a string.
 */
public final class V8Reader {
  /** The key of this format in an index. */
  public static final String FORMAT = "v8";

  private static final long LARGEST = 0xffff_ffffL;
  private static final int OFTEN = 1 << 12;

  private final ByteSource source;
  private final Space space;
  private final Progress progress;
  private final V8File file;
  private final V8Meta meta;
  private final int nodeCount;
  private final int nodeWidth;
  private final int syntheticType;

  /** By V8 type of nodes: whether the name is a part of the type. */
  private final boolean[] namedTypes;

  /** By node: its object, or ~(its place among the synthetic ones). */
  private final IntArray objectOf;

  private final IntArray edgeCounts;
  private final IntList synthetic = new IntList();
  private final IntList syntheticNames = new IntList();

  /** V8 type &lt;&lt; 32 | name: what types are told apart by until the names are known. */
  private final LongIntMap rawTypes = new LongIntMap();

  private final List<Long> rawKeys = new ArrayList<>();
  private int greatestName;
  private final List<TypeInfo> types = new ArrayList<>();
  private int closureType = -1;
  private int objects;
  private long clamped;
  private long repeatedIds;
  private final SeenIds seen = new SeenIds();

  private IntArray type;
  private IntArray shallow;

  /** By object: the stack that allocated it; null where the file has none. */
  private IntArray trace;

  private LongArray ids;
  private LongArray positions;
  private LongArray edgePositions;

  private V8Reader(ByteSource source, Space space, Progress progress, V8File file)
      throws IOException {
    this.source = source;
    this.space = space;
    this.progress = progress;
    this.file = file;
    this.meta = file.meta;
    this.nodeWidth = meta.width("node_fields");
    this.nodeCount = checkedCount("node_count", meta.nodeCount(), nodeWidth);
    checkedCount("edge_count", meta.edgeCount(), meta.width("edge_fields"));
    this.objectOf = space.ints(Math.max(1, nodeCount));
    this.edgeCounts = space.ints(Math.max(1, nodeCount));
    this.syntheticType = meta.nodeTypes().indexOf(V8Format.SYNTHETIC);
    this.namedTypes = new boolean[meta.nodeTypes().size()];
    for (int i = 0; i < namedTypes.length; i++) {
      namedTypes[i] = V8Types.isNamed(meta.nodeTypes().get(i));
    }
  }

  /** Whether a file that begins so is of this format; 64 bytes suffice. */
  public static boolean matches(byte[] head) {
    return V8File.matches(head);
  }

  /**
   * Reads a snapshot.
   *
   * @throws lipsanon.io.InputException if it cannot be read
   */
  public static SnapshotContent read(ByteSource source, Space space, Progress progress)
      throws Exception {
    progress.phase("looking over the file", 0);
    V8File file = V8File.scan(source);
    return new V8Reader(source, space, progress, file).read();
  }

  /** A count from the file, before memory is taken for it: a value takes two bytes at least. */
  private int checkedCount(String name, long count, int width) throws CorruptInputException {
    if (count > Integer.MAX_VALUE - 16 || count * width * 2 > source.size()) {
      throw new CorruptInputException(
          source.name(), 0, name + " " + count, "no more than the file can hold");
    }
    return (int) count;
  }

  private SnapshotContent read() throws Exception {
    type = space.ints(Math.max(1, nodeCount));
    shallow = space.ints(Math.max(1, nodeCount));
    trace = tracked() ? space.ints(Math.max(1, nodeCount)) : null;
    ids = space.longs(Math.max(1, nodeCount), LARGEST);
    positions = space.longs(Math.max(1, nodeCount), source.size() + 1);
    // the nodes can be read while the rest of the file is looked over for its members and names
    Workers.Task<Void> names =
        Workers.start(
            "lipsanon-names",
            () -> {
              file.readRest();
              return null;
            });
    try {
      readNodes();
    } finally {
      names.join();
    }
    nameTypes();
    if (objects == 0) {
      throw new UnsupportedInputException(source.name(), "holds no objects");
    }
    edgePositions = space.longs(objects, source.size());
    IntArray firstEdge = space.ints(objects);
    IntPages edges = new IntPages(space);
    SpecialEdges special = new SpecialEdges();
    List<RootInfo> roots = new ArrayList<>();
    readEdges(firstEdge, edges, special, roots);
    V8Locations locations = V8Locations.read(file, source, objectOf, type, closureType, nodeCount);
    space.release(objectOf);
    space.release(edgeCounts);
    V8Layout layout =
        new V8Layout(
            meta,
            new LinkedHashMap<>(file.begins),
            synthetic.toArray(),
            locations.closureOfScript());
    int[] rootNodes = new int[roots.size()];
    Arrays.setAll(rootNodes, i -> roots.get(i).node());
    int[] classNodes = new int[types.size()];
    Arrays.fill(classNodes, -1);
    int count = objects;
    return new SnapshotContent(
        FORMAT,
        new ObjectGraph(count, firstEdge, edges, type, classNodes, rootNodes, special),
        shallow,
        1,
        IdStyle.SERIAL,
        sink -> feed(ids, count, sink),
        positions,
        new V8OwnTypes(rows(layout), locations).mark(types, type),
        roots,
        facts(),
        detail(layout),
        extras(locations));
  }

  private static void feed(LongArray values, int count, SnapshotContent.Sink sink)
      throws IOException {
    long[] some = new long[OFTEN];
    for (int n = 0, size; n < count; n += size) {
      size = Math.min(OFTEN, count - n);
      for (int i = 0; i < size; i++) {
        some[i] = values.get(n + i);
      }
      sink.values(some, size);
    }
  }

  private V8Rows rows(V8Layout layout) {
    V8Rows.Places places =
        new V8Rows.Places() {
          @Override
          public int count() {
            return objects;
          }

          @Override
          public long node(int object) {
            return positions.get(object) - 1;
          }

          @Override
          public long edges(int object) {
            return edgePositions.get(object);
          }

          @Override
          public long string(long index) {
            return file.strings.position((int) index);
          }
        };
    return new V8Rows(places, source, layout);
  }

  private void readNodes() throws IOException {
    progress.phase("reading objects", nodeCount);
    NumberScanner in = new NumberScanner(source, file.begins.get("nodes"));
    int typeAt = meta.column("node_fields", "type");
    int nameAt = meta.column("node_fields", "name");
    int idAt = meta.column("node_fields", "id");
    int sizeAt = meta.column("node_fields", "self_size");
    int edgesAt = meta.column("node_fields", "edge_count");
    int traceAt = meta.column("node_fields", "trace_node_id");
    long[] row = new long[nodeWidth];
    long edges = 0;
    for (int node = 0; node < nodeCount; node++) {
      if ((node & OFTEN - 1) == 0) {
        progress.at(node);
      }
      in.toNumber();
      long position = in.position();
      in.row(row);
      if (row[typeAt] < 0
          || row[typeAt] >= meta.nodeTypes().size()
          || row[nameAt] < 0
          || row[nameAt] > Integer.MAX_VALUE
          || row[idAt] < 0
          || row[idAt] > LARGEST
          || row[sizeAt] < 0
          || row[edgesAt] < 0
          || (edges += row[edgesAt]) > meta.edgeCount()) {
        throw badNode(row, position);
      }
      edgeCounts.set(node, (int) row[edgesAt]);
      node(node, (int) row[typeAt], (int) row[nameAt], row[idAt], row[sizeAt], position);
      if (trace != null && objectOf.get(node) >= 0) {
        trace.set(objectOf.get(node), (int) row[traceAt]);
      }
    }
    end(in, "node_count");
    if (edges != meta.edgeCount()) {
      throw new CorruptInputException(
          source.name(), 0, "edge_count " + meta.edgeCount(), edges + ", as its nodes have");
    }
  }

  /** Whether the file tells where objects were allocated. */
  private boolean tracked() {
    return meta.traceFunctionCount() > 0 && meta.column("node_fields", "trace_node_id") >= 0;
  }

  private CorruptInputException badNode(long[] row, long position) {
    return new CorruptInputException(
        source.name(), position, "node " + Arrays.toString(row), "values within their bounds");
  }

  private void end(NumberScanner in, String count) throws IOException {
    if (in.next() != NumberScanner.END) {
      throw new CorruptInputException(
          source.name(), in.position(), "more numbers than " + count + " says", "the list's end");
    }
  }

  private void node(int node, int v8Type, int name, long id, long size, long position) {
    greatestName = Math.max(greatestName, name);
    if (v8Type == syntheticType) {
      objectOf.set(node, ~synthetic.size());
      synthetic.add(node);
      syntheticNames.add(name);
      return;
    }
    int object = objects++;
    repeatedIds += seen.add(id) ? 0 : 1;
    objectOf.set(node, object);
    type.set(object, rawType(v8Type, name));
    ids.set(object, id);
    positions.set(object, position + 1);
    clamped += size > LARGEST ? 1 : 0;
    shallow.set(object, (int) Math.min(size, LARGEST));
  }

  private int rawType(int v8Type, int name) {
    long key = (long) v8Type << 32 | (namedTypes[v8Type] ? name : 0);
    int known = rawTypes.get(key);
    if (known < 0) {
      known = rawKeys.size();
      rawTypes.put(key, known);
      rawKeys.add(key);
    }
    return known;
  }

  /** Gives types their names; those that then turn out to be the same become one. */
  private void nameTypes() throws IOException {
    if (greatestName >= file.strings.count()) {
      throw new CorruptInputException(
          source.name(), 0, "a node with name " + greatestName, "fewer than the strings");
    }
    Map<String, Integer> numbers = new HashMap<>();
    int[] number = new int[rawKeys.size()];
    for (int raw = 0; raw < number.length; raw++) {
      int v8Type = (int) (rawKeys.get(raw) >>> 32);
      String kind = meta.nodeTypes().get(v8Type);
      String name = namedTypes[v8Type] ? file.strings.text(rawKeys.get(raw).intValue()) : "";
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
  }

  /** Reads all edges, in as many parts as there are threads. */
  private void readEdges(
      IntArray firstEdge, IntPages edges, SpecialEdges special, List<RootInfo> roots)
      throws Exception {
    progress.phase("reading references", nodeCount);
    List<String> rootKinds = new ArrayList<>();
    for (int i = 0; i < syntheticNames.size(); i++) {
      rootKinds.add(rootKind(file.strings.text(syntheticNames.get(i))));
    }
    EdgesPass.Shared shared =
        new EdgesPass.Shared(
            file,
            source.name(),
            nodeCount,
            objectOf,
            edgeCounts,
            rootKinds,
            ids,
            firstEdge,
            edgePositions);
    int parts = file.edgePieces.size() < 2 ? 1 : Workers.threads();
    List<EdgesPass> passes = new ArrayList<>();
    List<Callable<Void>> works = new ArrayList<>();
    EdgeStart start = new EdgeStart(0, file.begins.get("edges"), 0);
    for (int part = 0; part < parts; part++) {
      EdgeStart from = start;
      boolean last = part == parts - 1;
      start = last ? null : startAt(file.edgePieces.size() * (part + 1) / parts);
      int to = last ? nodeCount : start.node;
      EdgesPass pass =
          new EdgesPass(shared, new EdgeAppender(edges), part == 0 ? progress : Progress.NONE);
      passes.add(pass);
      works.add(
          () -> {
            NumberScanner in = new NumberScanner(source, from.position);
            for (long i = 0; i < from.skip; i++) {
              in.need();
            }
            pass.read(in, from.node, to);
            if (last) {
              end(in, "edge_count");
            }
            return null;
          });
    }
    Workers.all(works);
    for (EdgesPass pass : passes) {
      special.addAll(pass.special);
      roots.addAll(pass.roots);
    }
  }

  /**
   * Where a part begins.
   *
   * @param node its first node
   * @param position of a number in the file
   * @param skip numbers from there to the node's first edge
   */
  private record EdgeStart(int node, long position, long skip) {}

  /** The first node whose edges begin in or behind a piece of the file. */
  private EdgeStart startAt(int piece) throws IOException {
    NumberScanner in =
        new NumberScanner(source, file.begins.get("edges") + (long) piece * V8File.PIECE, 64);
    in.toComma();
    long number = file.edgePieces.get(piece) + 1;
    int width = meta.width("edge_fields");
    long first = 0;
    int node = 0;
    while (node < nodeCount && first * width < number) {
      first += edgeCounts.get(node++);
    }
    return new EdgeStart(node, in.position(), first * width - number);
  }

  private static String rootKind(String name) {
    return name.startsWith("(") && name.endsWith(")") ? name.substring(1, name.length() - 1) : name;
  }

  private SnapshotFacts facts() {
    List<String> warnings = new ArrayList<>();
    if (repeatedIds > 0) {
      warnings.add(
          repeatedIds
              + " objects repeat the identifier of another one: an identifier shows one of them only.");
    }
    if (clamped > 0) {
      warnings.add(clamped + " objects are larger than 4 GiB and count as 4 GiB.");
    }
    return new SnapshotFacts(
        "V8",
        "V8 heap snapshot (JSON)",
        0,
        new SnapshotFacts.Layout(0, 0, 0, 0),
        List.of(),
        warnings,
        false,
        0,
        0,
        0);
  }

  private static byte[] detail(V8Layout layout) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    layout.write(out);
    return bytes.toByteArray();
  }

  private List<SnapshotContent.Extra> extras(V8Locations locations) {
    StringTable strings = file.strings;
    LongArray edgesAt = edgePositions;
    int count = objects;
    List<SnapshotContent.Extra> extras = new ArrayList<>(locations.columns());
    extras.add(
        new SnapshotContent.Extra(
            V8Format.STRINGS,
            strings.count(),
            sink -> {
              for (int i = 0; i < strings.count(); i++) {
                sink.value(strings.position(i));
              }
            }));
    extras.add(
        new SnapshotContent.Extra(V8Format.EDGES, count, sink -> feed(edgesAt, count, sink)));
    if (trace != null) {
      IntArray traces = trace;
      extras.add(
          new SnapshotContent.Extra(
              V8Format.TRACE,
              count,
              sink -> {
                for (int n = 0; n < count; n++) {
                  sink.value(traces.get(n));
                }
              }));
    }
    return extras;
  }
}
