package lipsanon.format.v8;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.concurrent.Callable;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
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

  private static final int OFTEN = 1 << 12;

  private final ByteSource source;
  private final Space space;
  private final Progress progress;
  private final V8File file;
  private final V8Meta meta;
  private final int nodeCount;
  private V8Nodes nodes;
  private List<TypeInfo> types;
  private LongArray edgePositions;

  private V8Reader(ByteSource source, Space space, Progress progress, V8File file)
      throws IOException {
    this.source = source;
    this.space = space;
    this.progress = progress;
    this.file = file;
    this.meta = file.meta;
    this.nodeCount = checkedCount("node_count", meta.nodeCount(), meta.width("node_fields"));
    checkedCount("edge_count", meta.edgeCount(), meta.width("edge_fields"));
  }

  /** Whether a file that begins so is of this format; 64 bytes suffice. */
  public static boolean matches(byte[] head) {
    return V8File.matches(head);
  }

  /**
   * Reads a snapshot.
   *
   * @param sourceMaps the folder of built scripts and their source maps, or null
   * @throws lipsanon.io.InputException if it cannot be read
   */
  public static SnapshotContent read(
      ByteSource source, Path sourceMaps, Space space, Progress progress) throws Exception {
    progress.phase("looking over the file", 0);
    V8File file = V8File.scan(source);
    return new V8Reader(source, space, progress, file).read(sourceMaps);
  }

  /** A count from the file, before memory is taken for it: a value takes two bytes at least. */
  private int checkedCount(String name, long count, int width) throws CorruptInputException {
    if (count > Integer.MAX_VALUE - 16 || count * width * 2 > source.size()) {
      throw new CorruptInputException(
          source.name(), 0, name + " " + count, "no more than the file can hold");
    }
    return (int) count;
  }

  private SnapshotContent read(Path sourceMaps) throws Exception {
    progress.phase("reading objects", nodeCount);
    nodes = NodesReader.read(file, source, nodeCount, space, progress);
    types = nodes.nameTypes(file.strings);
    int objects = nodes.objects();
    if (objects == 0) {
      throw new UnsupportedInputException(source.name(), "holds no objects");
    }
    edgePositions = space.longs(objects, source.size());
    IntArray firstEdge = space.ints(objects);
    IntPages edges = new IntPages(space);
    SpecialEdges special = new SpecialEdges();
    List<RootInfo> roots = new ArrayList<>();
    readEdges(firstEdge, edges, special, roots);
    V8Locations locations =
        V8Locations.read(file, source, nodes.objectOf, nodes.type, nodes.closureType(), nodeCount);
    space.release(nodes.objectOf);
    space.release(nodes.edgeCounts);
    V8Layout layout =
        new V8Layout(
            meta,
            new LinkedHashMap<>(file.begins),
            nodes.synthetic(),
            locations.closureOfScript(),
            V8Layout.Maps.NONE);
    layout = layout.with(maps(layout, sourceMaps));
    int[] rootNodes = new int[roots.size()];
    Arrays.setAll(rootNodes, i -> roots.get(i).node());
    types = new V8OwnTypes(rows(layout), locations).mark(types, nodes.type);
    int[] classNodes = new int[types.size()];
    Arrays.fill(classNodes, -1);
    LongArray ids = nodes.ids;
    return new SnapshotContent(
        FORMAT,
        new ObjectGraph(objects, firstEdge, edges, nodes.type, classNodes, rootNodes, special),
        nodes.shallow,
        1,
        IdStyle.SERIAL,
        sink -> feed(ids, objects, sink),
        nodes.positions,
        types,
        roots,
        facts(),
        detail(layout),
        extras(locations));
  }

  /** What lies on this machine: asked for by the user, or of a file that brings none along. */
  private V8Layout.Maps maps(V8Layout layout, Path folder) throws IOException {
    if (folder == null && layout.members().containsKey(ScriptMap.MEMBER)) {
      return V8Layout.Maps.NONE;
    }
    V8Scripts scripts = new V8Scripts(rows(layout));
    Map<Integer, String> names = new TreeMap<>();
    for (int script : layout.closureOfScript().keySet()) {
      names.put(script, scripts.script(script));
    }
    byte[] kept = MapSearch.of(source.name(), folder).all(names);
    return new V8Layout.Maps(folder == null ? "" : folder.toString(), kept);
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
            return nodes.objects();
          }

          @Override
          public long node(int object) {
            return nodes.positions.get(object) - 1;
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

  private boolean[] noting() {
    boolean[] noting = new boolean[types.size()];
    for (int t = 0; t < noting.length; t++) {
      noting[t] = V8Format.NOTING.contains(types.get(t).name());
    }
    return noting;
  }

  /** Reads all edges, in as many parts as there are threads. */
  private void readEdges(
      IntArray firstEdge, IntPages edges, SpecialEdges special, List<RootInfo> roots)
      throws Exception {
    progress.phase("reading references", nodeCount);
    List<String> rootKinds = new ArrayList<>();
    for (int name : nodes.syntheticNames()) {
      rootKinds.add(rootKind(file.strings.text(name)));
    }
    EdgesPass.Shared shared =
        new EdgesPass.Shared(
            file,
            source.name(),
            nodeCount,
            nodes.objectOf,
            nodes.edgeCounts,
            rootKinds,
            nodes.type,
            noting(),
            nodes.ids,
            firstEdge,
            edgePositions);
    NumberList list = file.lists.get("edges");
    int parts = list.pieces() < 2 ? 1 : Workers.threads();
    List<EdgesPass> passes = new ArrayList<>();
    List<Callable<Void>> works = new ArrayList<>();
    long numbers = meta.edgeCount() * meta.width("edge_fields");
    EdgeStart start = new EdgeStart(0, file.begins.get("edges"), 0);
    for (int part = 0; part < parts; part++) {
      EdgeStart from = start;
      boolean last = part == parts - 1;
      start = last ? null : startAt(list, numbers / parts * (part + 1));
      int to = last ? nodeCount : start.node;
      EdgesPass pass =
          new EdgesPass(shared, new EdgeAppender(edges), part == 0 ? progress : Progress.NONE);
      passes.add(pass);
      works.add(
          () -> {
            NumberScanner in = new NumberScanner(source, from.position);
            in.skip(from.skip);
            pass.read(in, from.node, to);
            if (last) {
              in.checkEnd("edge_count");
            }
            return null;
          });
    }
    Workers.all(works);
    for (int part = 1; part < parts; part++) {
      NumberList.checkJoint(source, passes.get(part - 1).ending, passes.get(part).beginning);
    }
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

  /** The first node whose edges begin in or behind the piece of the list with a number. */
  private EdgeStart startAt(NumberList list, long number) throws IOException {
    NumberList.Place place = list.place(list.pieceBefore(number));
    int width = meta.width("edge_fields");
    long first = 0;
    int node = 0;
    while (node < nodeCount && first * width < place.number()) {
      first += nodes.edgeCounts.get(node++);
    }
    return new EdgeStart(node, place.position(), first * width - place.number());
  }

  private static String rootKind(String name) {
    return name.startsWith("(") && name.endsWith(")") ? name.substring(1, name.length() - 1) : name;
  }

  private SnapshotFacts facts() {
    List<String> warnings = new ArrayList<>();
    if (nodes.repeatedIds() > 0) {
      warnings.add(
          nodes.repeatedIds()
              + " objects repeat the identifier of another one: an identifier shows one of them only.");
    }
    if (nodes.clamped() > 0) {
      warnings.add(nodes.clamped() + " objects are larger than 4 GiB and count as 4 GiB.");
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
    int count = nodes.objects();
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
    if (nodes.trace != null) {
      IntArray traces = nodes.trace;
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
