package lipsanon.format.nettrace;

import java.io.ByteArrayInputStream;
import java.io.DataInputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import lipsanon.array.IntList;
import lipsanon.format.dotnet.DelegateParts;
import lipsanon.format.dotnet.DotnetServices;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.graph.Strength;
import lipsanon.index.FieldValue;
import lipsanon.index.ObjectReader;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;

/**
 * Shows single objects of an event stream: what they refer to. The stream has no values. Names of
 * fields it has where a capture added them; else a reference is said by the types at its ends.
 */
public final class NettraceDetail implements ObjectReader {
  private static final Via ELEMENTS = new Via(Via.Kind.PART, "", "elements", -1);
  private static final int MOST_FIELDS = 256;
  private static final Via ELEMENT = new Via(Via.Kind.ELEMENT, "", "", -1);

  private final Snapshot snapshot;
  private final ByteSource source;
  private final long[] positions;
  private final long[] befores;
  private final Map<Integer, IntList> dependent = new HashMap<>();

  /** An array and what it refers to by the place of a static variable, which is what keeps it. */
  private final Set<Long> variables = new HashSet<>();

  private final Set<Integer> arraysOfVariables = new HashSet<>();

  private final long[] used = new long[HeapParts.NAMES.size()];
  private final long[] reserved = new long[used.length];
  private final FieldNames fields;

  /** By type and type of target: a reference whose field is not known. */
  private final Map<Long, Via> unnamed = new HashMap<>();

  private long edgeCount;

  /** Grows to the longest list of edges that was read. */
  private byte[] some = {};

  private final byte[] header = new byte[NettraceFormat.NODE_BYTES];

  /** Opens the reader of an index's detail. */
  public NettraceDetail(Snapshot snapshot, ByteSource source, byte[] detail) throws IOException {
    this.snapshot = snapshot;
    this.source = source;
    DataInputStream in = new DataInputStream(new ByteArrayInputStream(detail));
    int bulks = in.readInt();
    if (bulks < 0 || bulks > detail.length / 12) {
      throw new CorruptInputException(source.name(), 0, bulks + " places of edges", "fewer");
    }
    positions = new long[bulks];
    befores = new long[bulks];
    for (int i = 0; i < bulks; i++) {
      positions[i] = in.readLong();
      befores[i] = edgeCount;
      edgeCount += in.readInt();
    }
    int pairs = in.readInt();
    for (int i = 0; i < pairs; i++) {
      dependent.computeIfAbsent(in.readInt(), key -> new IntList()).add(in.readInt());
    }
    int slots = in.readInt();
    for (int i = 0; i < slots; i++) {
      int array = in.readInt();
      arraysOfVariables.add(array);
      variables.add((long) array << Integer.SIZE | in.readInt());
    }
    int ranges = in.readInt();
    for (int i = 0; i < ranges; i++) {
      int generation = in.readInt();
      if (generation < 0 || generation >= used.length) {
        throw new CorruptInputException(source.name(), 0, "generation " + generation, "0 to 4");
      }
      used[generation] += in.readLong();
      reserved[generation] += in.readLong();
    }
    fields = FieldNames.read(in);
  }

  @Override
  public List<Area> areas() {
    List<Area> areas = new ArrayList<>();
    for (int i = 0; i < used.length; i++) {
      areas.add(new Area(HeapParts.NAMES.get(i), used[i], reserved[i], Free.UNKNOWN));
    }
    return areas;
  }

  @Override
  public String area(int node) throws IOException {
    return HeapParts.of(snapshot, node);
  }

  private interface Addresses {
    /** Hears the address of a target; false: no more. */
    boolean address(long target) throws IOException;
  }

  private interface Targets {
    /** Hears a target; false: no more. */
    boolean target(int node) throws IOException;
  }

  /** Tells what an object refers to, in the order of the stream. */
  private void targets(int node, Targets sink) throws IOException {
    addresses(
        node,
        address -> {
          int target = snapshot.nodeOf(address);
          return target < 0 || sink.target(target);
        });
  }

  /** The same by addresses: nothing is looked up. */
  private void addresses(int node, Addresses sink) throws IOException {
    if (source.read(snapshot.position(node), header, 0, header.length) < header.length) {
      return;
    }
    long count = Payload.longAt(header, 24);
    long first = snapshot.extra(NettraceReader.FIRST_EDGE).get(node);
    long end = Math.min(edgeCount, first + Math.max(0, count));
    // whoever hears may ask for another object meanwhile, which then has an array of its own
    byte[] buffer = some;
    some = new byte[0];
    for (long at = first; at < end; ) {
      int bulk = Arrays.binarySearch(befores, at);
      bulk = bulk < 0 ? -bulk - 2 : bulk;
      while (bulk + 1 < befores.length && befores[bulk + 1] == at) {
        bulk++;
      }
      long limit = bulk + 1 < befores.length ? befores[bulk + 1] : edgeCount;
      int here = (int) (Math.min(end, limit) - at);
      int bytes = here * NettraceFormat.EDGE_BYTES;
      buffer = buffer.length < bytes ? new byte[bytes] : buffer;
      long place = positions[bulk] + (at - befores[bulk]) * NettraceFormat.EDGE_BYTES;
      if (source.read(place, buffer, 0, bytes) < bytes) {
        return;
      }
      for (int i = 0; i < here; i++) {
        if (!sink.address(Payload.longAt(buffer, i * NettraceFormat.EDGE_BYTES))) {
          return;
        }
      }
      at += here;
    }
    some = buffer;
  }

  /** The reference from the key of a conditional weak table to its value. */
  private Via dependentOf(int key) {
    String what = "what a conditional weak table keeps for a " + snapshot.typeName(key);
    return new Via(Via.Kind.SERVICE, "", what, -1);
  }

  /** The number of the field in which a reference stands; -1 if several may be it. */
  private int slot(int from, int to) throws IOException {
    int type = snapshot.type(from);
    int alone = fields.alone(type, snapshot.type(to));
    if (alone >= 0) {
      return alone;
    }
    IntList all = all(from, MOST_FIELDS);
    int[] aligned = aligned(type, all);
    for (int i = 0; i < aligned.length; i++) {
      if (all.get(i) == to && aligned[i] >= 0) {
        return aligned[i];
      }
    }
    return -1;
  }

  private IntList all(int from, int atMost) throws IOException {
    IntList all = new IntList();
    targets(
        from,
        target -> {
          all.add(target);
          return all.size() < atMost;
        });
    return all;
  }

  private int[] aligned(int type, IntList targets) {
    int[] types = new int[targets.size()];
    for (int i = 0; i < types.length; i++) {
      types[i] = snapshot.type(targets.get(i));
    }
    return fields.aligned(type, types);
  }

  private Via via(int from, int to) throws IOException {
    int type = snapshot.type(from);
    return via(from, to, fields.knows(type) ? slot(from, to) : -1);
  }

  /** How a reference is told that stands in a field of this number, or in one not known: -1. */
  private Via via(int from, int to, int slot) {
    int number = snapshot.type(from);
    TypeInfo type = snapshot.types().get(number);
    TypeInfo target = snapshot.types().get(snapshot.type(to));
    if (type.array()) {
      return ELEMENT;
    }
    if (type.is(TypeInfo.Trait.DELEGATE)) {
      return target.array() ? DelegateParts.HANDLERS : DelegateParts.TARGET;
    }
    if (type.is(TypeInfo.Trait.COLLECTION) && target.array()) {
      return ELEMENTS;
    }
    if (slot >= 0) {
      return fields.via(number, type.name(), slot);
    }
    return unnamed.computeIfAbsent(
        (long) number << Integer.SIZE | snapshot.type(to), key -> unnamed(type, target));
  }

  private static Via unnamed(TypeInfo type, TypeInfo target) {
    Via service = DotnetServices.between(type.name(), target.name());
    if (service != null) {
      return service;
    }
    boolean event = target.is(TypeInfo.Trait.DELEGATE);
    String name = (event ? "event or callback " : "") + target.name();
    return new Via(Via.Kind.UNNAMED, type.name(), name, -1);
  }

  @Override
  public void references(int node, Consumer<Reference> sink) throws IOException {
    int type = snapshot.type(node);
    if (fields.knows(type)) {
      // one look at all of them names each
      IntList all = all(node, Integer.MAX_VALUE);
      int[] aligned = aligned(type, all);
      for (int i = 0; i < aligned.length; i++) {
        reference(node, all.get(i), aligned[i], sink);
      }
    } else {
      targets(
          node,
          target -> {
            reference(node, target, -1, sink);
            return true;
          });
    }
    IntList values = dependent.get(node);
    for (int i = 0; values != null && i < values.size(); i++) {
      sink.accept(new Reference(values.get(i), Reference.Kind.STRONG, dependentOf(node)));
    }
  }

  private void reference(int node, int target, int slot, Consumer<Reference> sink) {
    boolean variable = isVariable(node, target);
    Reference.Kind kind = variable ? Reference.Kind.WEAK : Reference.Kind.STRONG;
    sink.accept(new Reference(target, kind, via(node, target, slot)));
  }

  private boolean isVariable(int array, int target) {
    return !variables.isEmpty() && variables.contains((long) array << Integer.SIZE | target);
  }

  @Override
  public Via viaTo(int from, int to) throws IOException {
    if (isVariable(from, to)) {
      return null;
    }
    boolean[] found = new boolean[1];
    long wanted = snapshot.rawId(to);
    addresses(
        from,
        address -> {
          found[0] |= address == wanted;
          return !found[0];
        });
    if (found[0]) {
      return via(from, to);
    }
    IntList values = dependent.get(from);
    for (int i = 0; values != null && i < values.size(); i++) {
      if (values.get(i) == to) {
        return dependentOf(from);
      }
    }
    return null;
  }

  @Override
  public Via ofArray(int node) {
    if (!variables.isEmpty() && arraysOfVariables.contains(node)) {
      return null;
    }
    return snapshot.types().get(snapshot.type(node)).array() ? ELEMENT : null;
  }

  @Override
  public List<FieldValue> fields(int node, int atMost) throws IOException {
    List<FieldValue> values = new ArrayList<>();
    targets(
        node,
        target -> {
          values.add(new FieldValue(via(node, target), "reference", snapshot.id(target), target));
          return values.size() < atMost;
        });
    return values;
  }

  @Override
  public String text(int node, int atMost) {
    return null;
  }

  @Override
  public boolean isString(int node) {
    return false;
  }

  @Override
  public String label(int node, int atMost) throws IOException {
    String generation = area(node);
    boolean young = generation.startsWith("generation");
    boolean waits = snapshot.strength(node) == Strength.FINALIZER;
    String text = young ? "" : generation;
    return waits ? RootInfo.WAITING : text;
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
  public Entries entries(int node, int atMost) {
    return null;
  }

  @Override
  public void close() throws IOException {
    source.close();
  }
}
