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
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
import lipsanon.array.Space;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
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

  /** By node: its object, or ~(its place among the synthetic ones). */
  private final IntArray objectOf;

  private final IntArray edgeCounts;
  private final IntList synthetic = new IntList();
  private final List<String> syntheticNames = new ArrayList<>();
  private final Map<Long, Integer> typeOfName = new HashMap<>();
  private final Map<String, Integer> typeNumbers = new HashMap<>();
  private final List<TypeInfo> types = new ArrayList<>();
  private int closureType = -1;
  private int objects;
  private long clamped;

  private IntArray type;
  private IntArray shallow;
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
    progress.phase("reading names", 0);
    V8File file = V8File.scan(source);
    if (file.meta == null) {
      throw new UnsupportedInputException(
          source.name(), "is JSON, but no V8 heap snapshot: it does not describe its columns");
    }
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
    ids = space.longs(Math.max(1, nodeCount));
    positions = space.longs(Math.max(1, nodeCount));
    readNodes();
    if (objects == 0) {
      throw new UnsupportedInputException(source.name(), "holds no objects");
    }
    edgePositions = space.longs(objects);
    IntArray firstEdge = space.ints(objects);
    IntPages edges = new IntPages(space);
    SpecialEdges special = new SpecialEdges();
    List<RootInfo> roots = new ArrayList<>();
    readEdges(firstEdge, new EdgeAppender(edges), special, roots);
    V8Locations locations = V8Locations.read(file, source, objectOf, type, closureType, nodeCount);
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
        sink -> {
          for (int n = 0; n < count; n++) {
            sink.value(ids.get(n));
          }
        },
        positions,
        new V8OwnTypes(rows(layout), locations).mark(types, type),
        roots,
        facts(),
        detail(layout),
        extras(locations));
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
    long[] row = new long[nodeWidth];
    long edges = 0;
    for (int node = 0; node < nodeCount; node++) {
      if ((node & OFTEN - 1) == 0) {
        progress.at(node);
      }
      in.toNumber();
      long position = in.position();
      for (int i = 0; i < row.length; i++) {
        row[i] = in.need();
      }
      if (row[typeAt] < 0
          || row[typeAt] >= meta.nodeTypes().size()
          || row[nameAt] < 0
          || row[nameAt] >= file.strings.count()
          || row[idAt] < 0
          || row[idAt] > LARGEST
          || row[sizeAt] < 0
          || row[edgesAt] < 0
          || (edges += row[edgesAt]) > meta.edgeCount()) {
        throw badNode(row, position);
      }
      edgeCounts.set(node, (int) row[edgesAt]);
      node(node, (int) row[typeAt], (int) row[nameAt], row[idAt], row[sizeAt], position);
    }
    end(in, "node_count");
    if (edges != meta.edgeCount()) {
      throw new CorruptInputException(
          source.name(), 0, "edge_count " + meta.edgeCount(), edges + ", as its nodes have");
    }
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

  private void node(int node, int v8Type, int name, long id, long size, long position)
      throws IOException {
    if (meta.nodeTypes().get(v8Type).equals(V8Format.SYNTHETIC)) {
      objectOf.set(node, ~synthetic.size());
      synthetic.add(node);
      syntheticNames.add(file.strings.text(name));
      return;
    }
    int object = objects++;
    objectOf.set(node, object);
    type.set(object, type(v8Type, name));
    ids.set(object, id);
    positions.set(object, position + 1);
    clamped += size > LARGEST ? 1 : 0;
    shallow.set(object, (int) Math.min(size, LARGEST));
  }

  private int type(int v8Type, int name) throws IOException {
    String kind = meta.nodeTypes().get(v8Type);
    long key = (long) v8Type << 32 | (V8Types.isNamed(kind) ? name : 0);
    Integer known = typeOfName.get(key);
    if (known == null) {
      String text = V8Types.name(kind, V8Types.isNamed(kind) ? file.strings.text(name) : "");
      known = typeNumbers.computeIfAbsent(text, t -> types.size());
      if (known == types.size()) {
        types.add(V8Types.info(kind, text));
      }
      closureType = kind.equals(V8Format.CLOSURE) ? known : closureType;
      typeOfName.put(key, known);
    }
    return known;
  }

  private void readEdges(
      IntArray firstEdge, EdgeAppender appender, SpecialEdges special, List<RootInfo> roots)
      throws IOException {
    progress.phase("reading references", nodeCount);
    NumberScanner in = new NumberScanner(source, file.begins.get("edges"));
    int typeAt = meta.column("edge_fields", "type");
    int nameAt = meta.column("edge_fields", "name_or_index");
    int targetAt = meta.column("edge_fields", "to_node");
    int weak = meta.edgeTypes().indexOf(V8Format.EDGE_WEAK);
    int internal = meta.edgeTypes().indexOf(V8Format.EDGE_INTERNAL);
    boolean[] named = named();
    long[] row = new long[meta.width("edge_fields")];
    for (int node = 0; node < nodeCount; node++) {
      if ((node & OFTEN - 1) == 0) {
        progress.at(node);
      }
      int object = objectOf.get(node);
      int count = edgeCounts.get(node);
      if (object >= 0) {
        appender.begin(count);
        edgePositions.set(object, in.position());
      }
      for (int e = 0; e < count; e++) {
        for (int i = 0; i < row.length; i++) {
          row[i] = in.need();
        }
        long kind = row[typeAt];
        long name = row[nameAt];
        long to = row[targetAt];
        if (kind < 0
            || kind >= named.length
            || named[(int) kind] && (name < 0 || name >= file.strings.count())
            || to < 0
            || to % nodeWidth != 0
            || to / nodeWidth >= nodeCount) {
          throw new CorruptInputException(
              source.name(), in.position(), "edge " + Arrays.toString(row), "values within bounds");
        }
        int target = objectOf.get((int) (to / nodeWidth));
        if (target < 0) {
          continue;
        }
        if (object < 0) {
          if (kind != weak) {
            roots.add(new RootInfo(target, rootKind(~object), "", -1));
          }
        } else if (kind == weak
            || kind == internal && file.strings.weakMapTable((int) name) == ids.get(object)) {
          special.weak.add(object, target);
        } else {
          appender.add(target);
        }
      }
      if (object >= 0) {
        firstEdge.set(object, appender.end());
      }
    }
    end(in, "edge_count");
  }

  /** By type of edge: whether it has a name; others have an index. */
  private boolean[] named() {
    boolean[] named = new boolean[meta.edgeTypes().size()];
    for (int i = 0; i < named.length; i++) {
      String name = meta.edgeTypes().get(i);
      named[i] = !name.equals(V8Format.EDGE_ELEMENT) && !name.equals(V8Format.EDGE_HIDDEN);
    }
    return named;
  }

  private String rootKind(int at) {
    String name = syntheticNames.get(at);
    if (name.isEmpty()) {
      return "global object";
    }
    return name.startsWith("(") && name.endsWith(")") ? name.substring(1, name.length() - 1) : name;
  }

  private SnapshotFacts facts() {
    List<String> warnings = new ArrayList<>();
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
        new SnapshotContent.Extra(
            V8Format.EDGES,
            count,
            sink -> {
              for (int n = 0; n < count; n++) {
                sink.value(edgesAt.get(n));
              }
            }));
    return extras;
  }
}
