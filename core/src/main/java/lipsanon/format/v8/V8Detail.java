package lipsanon.format.v8;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.Consumer;
import lipsanon.array.IntList;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.PackedColumn;
import lipsanon.index.Recording;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;

/** Single objects of a V8 heap snapshot, read from the snapshot itself. */
public final class V8Detail implements ObjectReader {
  /** Member that {@code lipsanon capture} adds. */
  private static final String SESSION = "lipsanon_session";

  private static final int MOST_PARTS = 1000;

  /** V8's name for a function that others were bound to. */
  private static final String BOUND = "native_bind";

  private static final int MOST_BOUND = 8;
  private static final int LEAST_EDGE_BYTES = 7;

  private final Snapshot snapshot;
  private final ByteSource source;
  private final V8Rows rows;
  private final V8Scripts scripts;
  private final V8Scopes scopes;
  private final V8Handles handles;
  private final V8Vias vias;
  private final V8Callbacks callbacks;
  private final V8Layout layout;
  private boolean recordingRead;
  private V8Recording traces;
  private Recording recording;

  /** Over an open source, with what {@link V8Reader} left in the index. */
  public V8Detail(Snapshot snapshot, ByteSource source, byte[] detail) throws IOException {
    this.snapshot = snapshot;
    this.source = source;
    this.layout = V8Layout.read(new DataInputStream(new ByteArrayInputStream(detail)));
    this.rows = V8Rows.of(snapshot, source, layout);
    this.scripts = new V8Scripts(rows, snapshot);
    this.scopes = new V8Scopes(snapshot, rows, scripts);
    this.handles = new V8Handles(rows, scripts);
    this.vias = new V8Vias(snapshot, rows, scripts, scopes);
    this.callbacks = new V8Callbacks(snapshot, rows);
  }

  /** Where source maps were looked for when the snapshot was indexed, "" for nowhere. */
  public String sourceMaps() {
    return layout.maps().folder();
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    V8Rows.Node row = rows.node(node);
    rows.edges(
        node,
        row.edges(),
        (type, name, target) -> {
          Reference.Kind kind = vias.kind(node, type, name);
          sink.accept(new Reference(target, kind, vias.via(node, row, type, name, target)));
          return true;
        });
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    V8Rows.Node row = rows.node(from);
    Via[] found = new Via[1];
    rows.edges(
        from,
        row.edges(),
        (type, name, target) -> {
          if (target == to && vias.kind(from, type, name) == Reference.Kind.STRONG) {
            Via via = vias.via(from, row, type, name, target);
            found[0] = found[0] == null || plain(via) ? via : found[0];
            return !plain(via);
          }
          return true;
        });
    return found[0];
  }

  private static boolean plain(Via via) {
    return via.kind() != Via.Kind.INTERNAL && via.kind() != Via.Kind.PART;
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    V8Rows.Node row = rows.node(node);
    List<FieldValue> fields = new ArrayList<>();
    rows.edges(
        node,
        row.edges(),
        (type, name, target) -> {
          Via via = vias.via(node, row, type, name, target);
          if (via.kind() != Via.Kind.INTERNAL) {
            String number = number(target);
            fields.add(
                number == null
                    ? new FieldValue(via, "reference", snapshot.id(target), target)
                    : new FieldValue(via, "number", number, -1));
          }
          return atMost <= 0 || fields.size() < atMost;
        });
    return fields;
  }

  /** The value of a number that the snapshot holds as an object of its own, or null. */
  private String number(int node) throws IOException {
    return snapshot.typeName(node).equals("v8:number") ? text(node, 40) : null;
  }

  @Override
  public String text(int node, int atMost) throws IOException {
    V8Rows.Node row = rows.node(node);
    return switch (row.type()) {
      case V8Format.STRING, "symbol", "bigint", "regexp" ->
          shortened(rows.text(row.name()), atMost);
      case V8Format.CONCATENATED -> concatenated(node, atMost);
      case V8Format.SLICED -> {
        int parent = scripts.target(node, "parent");
        yield parent < 0 ? "" : text(parent, atMost);
      }
      case V8Format.NUMBER -> numberText(node, row);
      default -> null;
    };
  }

  private static String shortened(String text, int atMost) {
    return text.length() <= atMost ? text : text.substring(0, atMost);
  }

  private String numberText(int node, V8Rows.Node row) throws IOException {
    String[] found = {rows.text(row.name())};
    rows.edges(
        node,
        row.edges(),
        (type, name, target) -> {
          V8Rows.Node value = rows.node(target);
          if (value.type().equals(V8Format.STRING)) {
            found[0] = rows.text(value.name());
            return false;
          }
          return true;
        });
    return found[0];
  }

  /** The parts from left to right; a rope may be as deep as it is long. */
  private String concatenated(int node, int atMost) throws IOException {
    StringBuilder text = new StringBuilder();
    List<Integer> pending = new ArrayList<>(List.of(node));
    for (int i = 0; i < MOST_PARTS && !pending.isEmpty() && text.length() < atMost; i++) {
      int at = pending.remove(pending.size() - 1);
      if (rows.node(at).type().equals(V8Format.CONCATENATED)) {
        int second = scripts.target(at, "second");
        int first = scripts.target(at, "first");
        if (second >= 0) {
          pending.add(second);
        }
        if (first >= 0) {
          pending.add(first);
        }
      } else {
        String part = text(at, atMost);
        text.append(part == null ? "" : part);
      }
    }
    return shortened(text.toString(), atMost);
  }

  @Override
  public boolean isString(int node) throws IOException {
    String type = rows.node(node).type();
    return type.equals(V8Format.STRING)
        || type.equals(V8Format.CONCATENATED)
        || type.equals(V8Format.SLICED);
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    V8Rows.Node row = rows.node(node);
    return switch (row.type()) {
      case V8Format.CLOSURE -> function(node, row);
      case V8Format.NATIVE -> {
        int called = V8Callbacks.isOne(snapshot.typeName(node)) ? callbacks.of(node) : -1;
        yield called < 0 ? element(node, row) : "of " + function(called, rows.node(called));
      }
      case V8Format.CODE, V8Format.ARRAY, V8Format.HIDDEN, V8Format.SHAPE, "symbol", "regexp" ->
          shortened(rows.text(row.name()), atMost);
      case V8Format.OBJECT -> object(node);
      default -> {
        String text = text(node, atMost + 1);
        yield text == null ? "" : ObjectReader.quoted(text, atMost);
      }
    };
  }

  /** A context's scope; the function that a timer calls. */
  private String object(int node) throws IOException {
    String type = snapshot.typeName(node);
    if (V8Scopes.isContext(type)) {
      return scopes.of(node).text().replaceFirst("^(in|at) ", "");
    }
    if (V8Handles.isOne(type)) {
      return handle(node);
    }
    if (type.equals("Generator") || type.equals("AsyncGenerator")) {
      int function = scripts.target(node, "function");
      return function < 0 ? "" : "of " + function(function, rows.node(function));
    }
    if (!type.equals("Timeout") && !type.equals("Immediate")) {
      return "";
    }
    int called = scripts.property(node, "_onTimeout", "_onImmediate");
    return called < 0 || !rows.node(called).type().equals(V8Format.CLOSURE)
        ? ""
        : "of " + function(called, rows.node(called));
  }

  private String handle(int node) throws IOException {
    int owner = handles.owner(node);
    int called = owner < 0 ? -1 : handles.called(owner);
    String calls = called < 0 ? "" : ", which calls " + function(called, rows.node(called));
    return owner < 0 ? "" : "of " + snapshot.typeName(owner) + calls;
  }

  @Override
  public Code code(int node) throws IOException {
    if (!rows.node(node).type().equals(V8Format.CLOSURE)) {
      return Code.NONE;
    }
    V8Scripts.Location place = scripts.of(node);
    if (place == null || place.script().isEmpty() || place.library()) {
      return Code.RUNTIME;
    }
    return V8Scripts.isForeign(place.script()) ? Code.LIBRARY : Code.OWN;
  }

  /**
   * What a function that was bound, perhaps several times over, calls in the end; -1 if unknown.
   */
  private int bound(int node) throws IOException {
    int at = node;
    for (int i = 0; i < MOST_BOUND && at >= 0; i++) {
      if (!rows.text(rows.node(at).name()).equals(BOUND)) {
        return at;
      }
      at = scripts.target(at, "bound_function");
    }
    return -1;
  }

  private String function(int node, V8Rows.Node row) throws IOException {
    String name = scripts.written(node, rows.text(row.name()));
    int inner = name.equals(BOUND) ? bound(node) : -1;
    if (inner >= 0) {
      return function(inner, rows.node(inner)) + ", bound";
    }
    V8Scripts.Location place = scripts.of(node);
    String plain = name.isEmpty() ? "(anonymous)" : name;
    return place == null || place.script().isEmpty() ? plain : plain + " (" + place.text() + ")";
  }

  private String element(int node, V8Rows.Node row) throws IOException {
    String name = rows.text(row.name());
    String type = snapshot.typeName(node);
    // of an element, what stands behind its tag
    boolean tagged = type.startsWith("<") && name.length() > type.length();
    // a long name was made short for the type, and says no more than that
    boolean same = !tagged && V8Types.name(V8Format.NATIVE, name).equals(type);
    String plain = same ? "" : tagged ? name.substring(type.length(), name.length() - 1) : name;
    boolean detached = detachedness(node) == DetachedTrees.DETACHED;
    return detached ? (plain.isEmpty() ? "detached" : plain + ", detached") : plain;
  }

  @Override
  public int weakKey(int node) {
    return -1;
  }

  @Override
  public long length(int node) {
    return -1;
  }

  @Override
  public Entries entries(int node, int atMost) throws IOException {
    String type = snapshot.typeName(node);
    if (!type.equals("Map") && !type.equals("Set")) {
      return null;
    }
    int table = scripts.target(node, "table");
    if (table < 0) {
      return null;
    }
    int width = type.equals("Map") ? 3 : 2;
    long first = firstEntry(snapshot.shallowBytes(table), width);
    Map<Long, int[]> entries = new TreeMap<>();
    rows.edges(
        table,
        rows.node(table).edges(),
        (edge, name, target) -> {
          Via via = vias.via(table, rows.node(table), edge, name, target);
          long at = via.kind() == Via.Kind.PART ? via.index() - first : -1;
          if (at >= 0 && first > 0 && at % width < width - 1) {
            int[] entry = entries.computeIfAbsent(at / width, key -> new int[] {-1, -1});
            entry[(int) (at % width)] = target;
          }
          return true;
        });
    List<Entry> list = new ArrayList<>();
    for (int[] entry : entries.values()) {
      if (list.size() < atMost) {
        list.add(width == 3 ? new Entry(entry[0], entry[1]) : new Entry(-1, entry[0]));
      }
    }
    return new Entries(entries.size(), list);
  }

  /**
   * Where entries begin in a table: behind three counts and the buckets, of which there is one for
   * two entries (V8's OrderedHashTable); how many follows from its size. 0 if that does not fit.
   */
  private static long firstEntry(long bytes, int width) {
    for (int pointer = 8; pointer >= 4; pointer /= 2) {
      long slots = bytes / pointer - 2 - 3;
      long buckets = slots / (2 * width + 1);
      if (buckets > 0 && slots % (2 * width + 1) == 0 && Long.bitCount(buckets) == 1) {
        return 3 + buckets;
      }
    }
    return 0;
  }

  @Override
  public IntList containers(int atLeast) {
    boolean[] wanted = new boolean[snapshot.types().size()];
    boolean[] tabled = new boolean[wanted.length];
    for (int t = 0; t < wanted.length; t++) {
      String name = snapshot.types().get(t).name();
      tabled[t] = name.equals("Map") || name.equals("Set");
      wanted[t] = tabled[t] || name.equals("Array") || name.equals("Object");
    }
    PackedColumn edges = snapshot.extra(V8Format.EDGES);
    IntList found = new IntList();
    int count = snapshot.objectCount();
    for (int n = 0; n < count; n++) {
      int type = snapshot.type(n);
      if (wanted[type]) {
        // every edge takes a row of numbers, of seven bytes at least
        long bytes = n + 1 < count ? edges.get(n + 1) - edges.get(n) : Long.MAX_VALUE;
        if (tabled[type] || bytes >= (long) atLeast * LEAST_EDGE_BYTES) {
          found.add(n);
        }
      }
    }
    return found;
  }

  @Override
  public long size(int node) throws IOException {
    String type = snapshot.typeName(node);
    if (type.equals("Map") || type.equals("Set")) {
      Entries entries = entries(node, 0);
      return entries == null ? -1 : entries.size();
    }
    long[] size = {0};
    rows.edges(
        node,
        rows.node(node).edges(),
        (edge, name, target) -> {
          boolean entry = edge.equals(V8Format.EDGE_ELEMENT) || edge.equals(V8Format.EDGE_PROPERTY);
          size[0] += entry ? 1 : 0;
          return true;
        });
    // one property is the prototype
    return Math.max(0, size[0] - 1);
  }

  @Override
  public String session() throws IOException {
    Long at = layout.members().get(SESSION);
    return at == null ? "" : JsonText.at(source, at);
  }

  @Override
  public Recording recording() throws IOException {
    if (!recordingRead) {
      recordingRead = true;
      traces = new V8Recording(source, layout, rows);
      recording = traces.read(snapshot);
    }
    return recording;
  }

  @Override
  public int origin(int node) throws IOException {
    return recording() == null ? -1 : traces.nodeOf(snapshot, node);
  }

  @Override
  public IntList detached() throws IOException {
    return new DetachedTrees(snapshot, this).find();
  }

  /** What V8 says of an element: 0 unknown, 1 in a page, 2 taken out of it. */
  int detachedness(int node) throws IOException {
    return (int) rows.value(node, "detachedness");
  }

  @Override
  public void close() throws IOException {
    source.close();
  }
}
