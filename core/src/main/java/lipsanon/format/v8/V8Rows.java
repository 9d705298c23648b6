package lipsanon.format.v8;

import java.io.IOException;
import java.util.LinkedHashMap;
import java.util.Map;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/** Single rows of a snapshot's file: nodes, their edges, names. One thread. */
final class V8Rows {
  private static final int BUFFER = 1 << 14;
  private static final int REMEMBERED = 1 << 14;

  private final Places places;
  private final ByteSource source;
  private final V8Layout layout;
  private final V8SourceMaps maps;
  private final NumberScanner nodes;
  private final NumberScanner edges;
  private final long[] row;
  private final int edgeWidth;
  private final int typeAt;
  private final int nameAt;
  private final int edgesAt;
  private final int edgeTypeAt;
  private final int edgeNameAt;
  private final int edgeTargetAt;
  private final Map<Integer, String> texts =
      new LinkedHashMap<>(64, 0.75f, true) {
        private static final long serialVersionUID = 1L;

        @Override
        protected boolean removeEldestEntry(Map.Entry<Integer, String> eldest) {
          return size() > REMEMBERED;
        }
      };

  /**
   * A node.
   *
   * @param type its V8 type
   * @param name its name, an index of a string
   * @param edges number of its edges
   */
  record Node(String type, int name, int edges) {}

  /** Where things stand in the file. */
  interface Places {
    /** Number of objects. */
    int count();

    /** The row of an object. */
    long node(int object);

    /** The first edge of an object. */
    long edges(int object);

    /** A string. */
    long string(long index);
  }

  /** Hears edges. */
  interface Edges {
    /**
     * The next one.
     *
     * @param type its V8 type
     * @param name index of its name, or its number for elements and hidden ones
     * @param target an object
     * @return whether to go on
     */
    boolean edge(String type, long name, int target) throws IOException;
  }

  /** The rows of a snapshot that has an index. */
  static V8Rows of(Snapshot snapshot, ByteSource source, V8Layout layout) {
    PackedColumn edges = snapshot.extra(V8Format.EDGES);
    PackedColumn strings = snapshot.extra(V8Format.STRINGS);
    Places places =
        new Places() {
          @Override
          public int count() {
            return snapshot.objectCount();
          }

          @Override
          public long node(int object) {
            return snapshot.position(object);
          }

          @Override
          public long edges(int object) {
            return edges.get(object);
          }

          @Override
          public long string(long index) {
            return strings.get(index);
          }
        };
    return new V8Rows(places, source, layout);
  }

  V8Rows(Places places, ByteSource source, V8Layout layout) {
    this.places = places;
    this.source = source;
    this.layout = layout;
    this.maps = new V8SourceMaps(source, layout);
    this.nodes = new NumberScanner(source, 0, 256);
    this.edges = new NumberScanner(source, 0, BUFFER);
    V8Meta meta = layout.meta();
    this.row = new long[meta.width("node_fields")];
    this.edgeWidth = meta.width("edge_fields");
    this.typeAt = meta.column("node_fields", "type");
    this.nameAt = meta.column("node_fields", "name");
    this.edgesAt = meta.column("node_fields", "edge_count");
    this.edgeTypeAt = meta.column("edge_fields", "type");
    this.edgeNameAt = meta.column("edge_fields", "name_or_index");
    this.edgeTargetAt = meta.column("edge_fields", "to_node");
  }

  Node node(int object) throws IOException {
    read(object);
    int type = (int) row[typeAt];
    if (type < 0 || type >= layout.meta().nodeTypes().size()) {
      throw changed(places.node(object));
    }
    return new Node(layout.meta().nodeTypes().get(type), (int) row[nameAt], (int) row[edgesAt]);
  }

  /** Another column of a node's row, or 0 where rows do not have it. */
  long value(int object, String column) throws IOException {
    int at = layout.meta().column("node_fields", column);
    if (at < 0) {
      return 0;
    }
    read(object);
    return row[at];
  }

  private void read(int object) throws IOException {
    nodes.seek(places.node(object));
    for (int i = 0; i < row.length; i++) {
      row[i] = nodes.need();
    }
  }

  /** Tells the edges of a node to objects, in the order of the file. */
  void edges(int object, int count, Edges sink) throws IOException {
    edges.seek(places.edges(object));
    long[] values = new long[edgeWidth];
    int nodeWidth = row.length;
    for (int e = 0; e < count; e++) {
      for (int i = 0; i < values.length; i++) {
        values[i] = edges.need();
      }
      int type = (int) values[edgeTypeAt];
      if (type < 0 || type >= layout.meta().edgeTypes().size()) {
        throw changed(edges.position());
      }
      int target = layout.objectOf(values[edgeTargetAt] / nodeWidth);
      if (target >= 0 && target < places.count()) {
        // the sink may read other edges, which moves the scanner
        long here = edges.position();
        if (!sink.edge(layout.meta().edgeTypes().get(type), values[edgeNameAt], target)) {
          return;
        }
        edges.seek(here);
      }
    }
  }

  private CorruptInputException changed(long position) {
    return new CorruptInputException(
        source.name(), position, "no row of a node", "one (index the snapshot again)");
  }

  /** A string. */
  String text(long index) throws IOException {
    String known = texts.get((int) index);
    if (known == null) {
      known = JsonText.at(source, places.string(index));
      texts.put((int) index, known);
    }
    return known;
  }

  /** The maps of the snapshot's scripts. */
  V8SourceMaps sourceMaps() {
    return maps;
  }

  V8Layout layout() {
    return layout;
  }
}
