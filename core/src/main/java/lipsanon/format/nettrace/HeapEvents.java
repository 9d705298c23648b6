package lipsanon.format.nettrace;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.array.AddressCollector;

/**
 * Collects what a first pass over the stream tells of the heap: the places of the bulk events, all
 * addresses, types, roots, ranges and the collection's own sums. Where several collections were
 * recorded the last one counts.
 *
 * <pre>
 * GCStart     --> count u4, depth u4, reason u4 (1: asked for), type u4, ...
 * GCEnd       --> count u4, depth u4, ...
 * HeapStats   --> (size u8, promoted u8) × 4, finalization size u8, count u8, u4 × 3, runtime u2,
 *                 pinned size u8, promoted u8
 * BulkType    --> n u4, runtime u2, n × (id u8, module u8, token u4, flags u4, element u1, name z16,
 *                 k u4, k × id u8)
 * BulkNode    --> Head, n × (address u8, size u8, type u8, edges u8)
 * BulkEdge    --> Head, n × (target u8, field u4)
 * BulkRoot    --> Head, n × (object u8, kind u1, flags u4, root u8)
 * WeakElement --> Head, n × (key u8, value u8, handle u8)
 * StaticVar   --> n u4, domain u8, runtime u2, n × (slot u8, object u8, type u8, flags u4, name z16)
 * Range       --> generation u1, start u8, used u8, reserved u8, runtime u2
 * Head        --> index u4, n u4, runtime u2
 * </pre>
 */
final class HeapEvents {
  private static final int LARGEST_TYPES = 10_000_000;

  /** A bulk event: where its entries stand, how many, and how many came before. */
  record Bulk(long position, int count, long before) {}

  /** A type as the stream describes it; an array's one argument is its elements' type. */
  record RawType(long id, long module, int token, int flags, String name, long[] arguments) {}

  /** A root; {@code method} is what a frame of a stack is in. */
  record RawRoot(long object, int kind, int flags, long root) {}

  /** A static variable, with its object's type. */
  record RawStatic(long slot, long object, long type, String name) {}

  /** Memory of a generation: 0 to 2, 3 large objects, 4 pinned ones. */
  record Range(int generation, long start, long used, long reserved) {}

  final List<Bulk> nodes = new ArrayList<>();
  final List<Bulk> edges = new ArrayList<>();
  final Map<Long, RawType> types = new HashMap<>();
  final List<RawRoot> roots = new ArrayList<>();
  final List<long[]> weakElements = new ArrayList<>();
  final List<RawStatic> statics = new ArrayList<>();
  final List<Range> ranges = new ArrayList<>();
  final Map<Long, String> methods = new HashMap<>();

  /** What a capture added to the stream. */
  final NameEvents names = new NameEvents();

  AddressCollector addresses = new AddressCollector(false);
  boolean asList;
  long nodeCount;
  long edgeCount;
  long edgesPromised;
  long nodeBytes;
  long collectedBytes = -1;
  boolean collectionEnded;

  /** How long the collection took in which the heap was told, in milliseconds. */
  long collectionMillis = -1;

  private long begunMillis;
  private int collection = -1;
  private boolean rangesOld;

  void event(NettraceStream.Event event) throws IOException {
    if (event.provider.equals(NettraceFormat.RUNDOWN)) {
      if (event.id == NettraceFormat.METHOD) {
        method(event.payload);
      }
      return;
    }
    if (event.provider.equals(NettraceFormat.NAMES)) {
      names.event(event);
    }
    if (!event.provider.equals(NettraceFormat.RUNTIME)) {
      return;
    }
    Payload in = event.payload;
    switch (event.id) {
      case NettraceFormat.GC_START -> start(in, event.atMillis);
      case NettraceFormat.GC_END -> {
        boolean ours = in.i4() == collection;
        if (ours && !collectionEnded) {
          collectionMillis = Math.max(0, event.atMillis - begunMillis);
        }
        collectionEnded |= ours;
      }
      case NettraceFormat.HEAP_STATS -> {
        if (!collectionEnded && nodeCount > 0) {
          stats(in);
        }
      }
      case NettraceFormat.BULK_TYPE -> types(in);
      case NettraceFormat.BULK_NODE -> nodes(in);
      case NettraceFormat.BULK_EDGE -> {
        in.skip(Integer.BYTES);
        int count = in.entries(NettraceFormat.EDGE_BYTES);
        in.skip(Short.BYTES);
        edges.add(new Bulk(in.position(), count, edgeCount));
        edgeCount += count;
      }
      case NettraceFormat.BULK_ROOT -> roots(in);
      case NettraceFormat.BULK_WEAK_ELEMENT -> {
        in.skip(Integer.BYTES);
        int count = in.entries(NettraceFormat.WEAK_ELEMENT_BYTES);
        in.skip(Short.BYTES);
        for (int i = 0; i < count; i++) {
          weakElements.add(new long[] {in.i8(), in.i8()});
          in.i8();
        }
      }
      case NettraceFormat.BULK_STATIC -> statics(in);
      case NettraceFormat.GENERATION_RANGE -> range(in);
      default -> {}
    }
  }

  /** A full collection that was asked for: the nodes of an earlier one do not count. */
  private void start(Payload in, long atMillis) throws IOException {
    int number = in.i4();
    int depth = in.i4();
    int reason = in.i4();
    if (depth != 2 || reason != 1) {
      return;
    }
    if (nodeCount > 0 && collectionEnded) {
      nodes.clear();
      edges.clear();
      roots.clear();
      weakElements.clear();
      statics.clear();
      ranges.clear();
      rangesOld = false;
      addresses = new AddressCollector(asList);
      nodeCount = 0;
      edgeCount = 0;
      edgesPromised = 0;
      nodeBytes = 0;
      collectedBytes = -1;
    }
    collection = number;
    begunMillis = atMillis;
    collectionEnded = false;
  }

  private void stats(Payload in) throws IOException {
    long promoted = 0;
    for (int generation = 0; generation < 4; generation++) {
      in.i8();
      promoted += in.i8();
    }
    in.skip(2 * Long.BYTES + 3 * Integer.BYTES + Short.BYTES);
    collectedBytes = promoted + in.i8();
  }

  private void types(Payload in) throws IOException {
    int count = in.i4();
    in.skip(Short.BYTES);
    for (int i = 0; i < count; i++) {
      long id = in.i8();
      long module = in.i8();
      int token = in.i4();
      int flags = in.i4();
      in.skip(1);
      String name = in.text();
      long[] arguments = new long[in.entries(Long.BYTES)];
      for (int k = 0; k < arguments.length; k++) {
        arguments[k] = in.i8();
      }
      if (types.size() < LARGEST_TYPES) {
        types.put(id, new RawType(id, module, token, flags, name, arguments));
      }
    }
  }

  private void nodes(Payload in) throws IOException {
    in.skip(Integer.BYTES);
    int count = in.entries(NettraceFormat.NODE_BYTES);
    in.skip(Short.BYTES);
    nodes.add(new Bulk(in.position(), count, nodeCount));
    byte[] bytes = in.bytes();
    in.need(count * NettraceFormat.NODE_BYTES);
    for (int i = 0, at = in.at(); i < count; i++, at += NettraceFormat.NODE_BYTES) {
      if (!addresses.add(Payload.longAt(bytes, at))) {
        asList = true;
        throw new ListNeeded();
      }
      nodeBytes += Payload.longAt(bytes, at + 8) + 7 & ~7L;
      edgesPromised += Payload.longAt(bytes, at + 24);
    }
    nodeCount += count;
  }

  /** Bits do not suit these addresses: the pass begins anew, with a list. */
  static final class ListNeeded extends IOException {
    private static final long serialVersionUID = 1L;
  }

  private void roots(Payload in) throws IOException {
    in.skip(Integer.BYTES);
    int count = in.entries(NettraceFormat.ROOT_BYTES);
    in.skip(Short.BYTES);
    for (int i = 0; i < count; i++) {
      roots.add(new RawRoot(in.i8(), in.u1(), in.i4(), in.i8()));
    }
  }

  private void statics(Payload in) throws IOException {
    int count = in.i4();
    in.skip(Long.BYTES + Short.BYTES);
    for (int i = 0; i < count; i++) {
      long slot = in.i8();
      long object = in.i8();
      long type = in.i8();
      in.skip(Integer.BYTES);
      statics.add(new RawStatic(slot, object, type, in.text()));
    }
  }

  /** Ranges are told before a collection and after it: those after it fit the nodes. */
  private void range(Payload in) throws IOException {
    if (nodeCount > 0 && !rangesOld) {
      ranges.clear();
      rangesOld = true;
    }
    ranges.add(new Range(in.u1(), in.i8(), in.i8(), in.i8()));
  }

  private void method(Payload in) throws IOException {
    long id = in.i8();
    in.skip(2 * Long.BYTES + 3 * Integer.BYTES);
    String type = in.text();
    String name = in.text();
    methods.put(id, type + "." + name);
  }
}
