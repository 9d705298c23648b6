package lipsanon.format.nettrace;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.array.AddressCollector;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
import lipsanon.array.RankBitmap;
import lipsanon.array.Space;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.IdStyle;
import lipsanon.index.RootInfo;
import lipsanon.index.SnapshotContent;
import lipsanon.index.SnapshotFacts;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;

/**
 * Reads the heap events of a .NET runtime's event stream. A first pass over the stream finds the
 * addresses and the places of the bulk events; a second one goes through nodes and edges side by
 * side, since the edges come in the order of the nodes.
 */
public final class NettraceReader {
  /** Key of the format. */
  public static final String FORMAT = "nettrace";

  /** Extra column: by object, which edge of the stream is its first. */
  static final String FIRST_EDGE = "firstedge";

  private static final int UNIT = 8;

  private final ByteSource source;
  private final Space space;
  private final Progress progress;
  private final NettraceStream stream;
  private HeapEvents events = new HeapEvents();
  private Addresses addresses;
  private NettraceTypes types;
  private final List<RootInfo> roots = new ArrayList<>();
  private final SpecialEdges special = new SpecialEdges();

  /** Arrays with what they refer to by the places of static variables alone. */
  private final List<int[]> staticSlots = new ArrayList<>();

  private final List<String> warnings = new ArrayList<>();
  private boolean partial;
  private long dangling;
  private IntArray type;
  private IntArray shallow;
  private IntArray firstEdge;
  private LongArray positions;
  private LongArray edgeAt;
  private IntArray generation;
  private IntPages edges;

  private NettraceReader(ByteSource source, Space space, Progress progress) {
    this.source = source;
    this.space = space;
    this.progress = progress;
    this.stream = new NettraceStream(source);
  }

  /** Whether a file that begins so is of this format. */
  public static boolean matches(byte[] head) {
    return NettraceFormat.matches(head);
  }

  /**
   * Reads a snapshot.
   *
   * @throws lipsanon.io.InputException if it cannot be read
   */
  public static SnapshotContent read(ByteSource source, Space space, Progress progress)
      throws Exception {
    return new NettraceReader(source, space, progress).read();
  }

  /** What a stream lacks, in words; "" if it is whole. */
  public static String missing(ByteSource source) throws IOException {
    NettraceReader reader = new NettraceReader(source, Space.heap(), Progress.NONE);
    reader.scan();
    if (reader.events.nodeCount == 0) {
      return "it holds no objects";
    }
    reader.complete();
    return String.join(" ", reader.warnings);
  }

  /** How long the runtime stood still while its heap was told, in milliseconds, or -1. */
  public static long pauseMillis(ByteSource source) throws IOException {
    NettraceReader reader = new NettraceReader(source, Space.heap(), Progress.NONE);
    reader.scan();
    return reader.events.collectionMillis;
  }

  private void scan() throws IOException {
    try {
      stream.read(events::event, progress);
    } catch (HeapEvents.ListNeeded e) {
      events = new HeapEvents();
      events.asList = true;
      events.addresses = new AddressCollector(true);
      stream.read(events::event, progress);
    }
  }

  private SnapshotContent read() throws Exception {
    progress.phase("reading the event stream", source.size());
    scan();
    if (stream.broken() != null && events.nodeCount == 0) {
      throw stream.broken();
    }
    if (events.nodeCount == 0) {
      throw new UnsupportedInputException(
          source.name(),
          "holds no objects: an event stream is a snapshot if it was recorded with heap events"
              + " (keywords 0x1980001 of the runtime's provider), as `lipsanon capture` does");
    }
    if (events.nodeCount > Integer.MAX_VALUE - 16) {
      throw new UnsupportedInputException(source.name(), "has more than 2^31 objects");
    }
    complete();
    addresses =
        events.asList
            ? Addresses.ofLists(List.of(events.addresses))
            : RankBitmap.join(List.of(events.addresses));
    types = NettraceTypes.of(events.types, events.names.book());
    String twice = NettraceTypes.loadedTwice(events.types);
    if (!twice.isEmpty()) {
      warnings.add(twice);
    }
    int count = addresses.count();
    type = space.ints(count);
    shallow = space.ints(count);
    firstEdge = space.ints(count);
    firstEdge.fill(ObjectGraph.NO_EDGES);
    positions = space.longs(count, source.size() + 1);
    edgeAt = space.longs(count, events.edgeCount + 1);
    generation = space.ints(count);
    edges = new IntPages(space);
    progress.phase("reading objects and references", events.nodeCount);
    StaticSlots slots = StaticSlots.of(events.statics);
    graph(slots);
    NettraceRoots.Objects objects =
        new NettraceRoots.Objects(addresses, type, generation, firstEdge, edges);
    new NettraceRoots(events, types, objects).find(roots, special);
    return content(count);
  }

  /** Says what a snapshot lacks. */
  private void complete() {
    if (stream.broken() != null || !stream.ended()) {
      missing("the stream breaks off before its end");
    }
    if (stream.lost() > 0) {
      missing(
          String.format(
              Locale.ROOT,
              "%,d events were lost: the runtime's buffer was too small",
              stream.lost()));
    }
    if (events.edgesPromised != events.edgeCount) {
      missing(
          String.format(
              Locale.ROOT,
              "its objects have %,d references, and %,d were recorded",
              events.edgesPromised,
              events.edgeCount));
    }
  }

  private void missing(String what) {
    partial = true;
    warnings.add(
        "The snapshot is not whole: " + what + ". Figures and paths are not to be trusted.");
  }

  private void graph(StaticSlots slots) throws IOException {
    BulkCursor nodeCursor = new BulkCursor(source, events.nodes, NettraceFormat.NODE_BYTES);
    BulkCursor edgeCursor = new BulkCursor(source, events.edges, NettraceFormat.EDGE_BYTES);
    Generations ranges = new Generations(events.ranges);
    EdgeAppender appender = new EdgeAppender(edges);
    long inRanges = 0;
    for (long i = 0; i < events.nodeCount; i++) {
      if ((i & 0xffff) == 0) {
        progress.at(i);
      }
      byte[] bytes = nodeCursor.next();
      int at = nodeCursor.at();
      long address = Payload.longAt(bytes, at);
      long size = Payload.longAt(bytes, at + 8);
      long typeId = Payload.longAt(bytes, at + 16);
      long count = Payload.longAt(bytes, at + 24);
      int node = addresses.rank(address);
      boolean again = positions.get(node) != 0;
      long first = edgeCursor.passed();
      long units = size + UNIT - 1 >>> 3;
      if (!again) {
        type.set(node, types.number(typeId));
        shallow.set(node, (int) Math.min(units, 0xffff_ffffL));
        positions.set(node, nodeCursor.position() + 1);
        edgeAt.set(node, first);
        int of = ranges.of(address);
        generation.set(node, of < 0 ? HeapParts.FROZEN : of);
        inRanges += of < 0 ? 0 : units * UNIT;
      }
      references(node, address, size, again, count, slots, edgeCursor, appender);
    }
    check(inRanges);
  }

  private void references(
      int node,
      long address,
      long size,
      boolean again,
      long count,
      StaticSlots slots,
      BulkCursor cursor,
      EdgeAppender appender)
      throws IOException {
    long known = Math.max(0, Math.min(count, events.edgeCount - cursor.passed()));
    appender.begin((int) Math.min(Integer.MAX_VALUE - 1, known));
    // the slots of static variables lie in arrays: what both name is one reference, the variable's
    List<Long> doubled = slots.anyWithin(address, size) ? slots.within(address, size) : List.of();
    Set<Integer> variables = doubled.isEmpty() ? Set.of() : new HashSet<>();
    for (long i = 0; i < known; i++) {
      byte[] bytes = cursor.next();
      long target = Payload.longAt(bytes, cursor.at());
      int to = target == 0 ? -1 : addresses.rank(target);
      if (to < 0) {
        dangling += target == 0 ? 0 : 1;
      } else if (!doubled.isEmpty() && doubled.remove((Long) target)) {
        special.weak.add(node, to);
        variables.add(to);
      } else {
        appender.add(to);
        if (!doubled.isEmpty()) {
          variables.remove(to);
        }
      }
    }
    for (int to : variables) {
      staticSlots.add(new int[] {node, to});
    }
    int list = appender.end();
    if (!again) {
      firstEdge.set(node, list);
    }
  }

  /** The collector's own sum is that of all objects but the frozen ones. */
  private void check(long inRanges) {
    if (!partial
        && events.collectedBytes >= 0
        && !events.ranges.isEmpty()
        && events.collectedBytes != inRanges) {
      missing(
          String.format(
              Locale.ROOT,
              "its objects have %,d bytes, and the collector counted %,d",
              inRanges,
              events.collectedBytes));
    }
  }

  private SnapshotContent content(int count) throws IOException {
    List<int[]> dependent = new ArrayList<>();
    ObjectGraph graph =
        new ObjectGraph(
            count,
            firstEdge,
            edges,
            type,
            noClasses(),
            roots.stream().mapToInt(RootInfo::node).toArray(),
            special);
    for (long[] pair : events.weakElements) {
      int key = pair[0] == 0 ? -1 : addresses.rank(pair[0]);
      int value = pair[1] == 0 ? -1 : addresses.rank(pair[1]);
      if (key >= 0 && value >= 0) {
        dependent.add(new int[] {key, value});
        lipsanon.array.IntList more = new lipsanon.array.IntList();
        more.add(value);
        graph.addEdges(key, more);
      }
    }
    if (dangling > 0) {
      warnings.add(
          String.format(
              Locale.ROOT, "%,d references lead to objects that were not recorded.", dangling));
    }
    Addresses all = addresses;
    return new SnapshotContent(
        FORMAT,
        graph,
        shallow,
        UNIT,
        IdStyle.ADDRESS,
        sink -> all.forEach((rank, some, size) -> sink.values(some, size)),
        positions,
        types.infos(),
        roots,
        new SnapshotFacts(
            ".NET",
            "event stream (Nettrace 4) with heap events",
            stream.capturedAt(),
            new SnapshotFacts.Layout(
                2 * stream.pointerSize(), 3 * stream.pointerSize(), stream.pointerSize(), UNIT),
            List.of(),
            warnings,
            partial,
            dangling,
            events.nodeCount - count,
            0),
        detail(dependent),
        List.of(
            new SnapshotContent.Extra(HeapParts.COLUMN, count, sink -> feed(generation, sink)),
            new SnapshotContent.Extra(
                FIRST_EDGE,
                count,
                sink -> {
                  for (int n = 0; n < count; n++) {
                    sink.value(edgeAt.get(n));
                  }
                })));
  }

  private static void feed(IntArray values, SnapshotContent.Sink sink) throws IOException {
    for (int n = 0; n < values.length(); n++) {
      sink.value(values.get(n));
    }
  }

  private int[] noClasses() {
    int[] none = new int[types.infos().size()];
    Arrays.fill(none, -1);
    return none;
  }

  /** What {@link NettraceDetail} needs: where the edges are, dependent handles, ranges. */
  private byte[] detail(List<int[]> dependent) throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    out.writeInt(events.edges.size());
    for (HeapEvents.Bulk bulk : events.edges) {
      out.writeLong(bulk.position());
      out.writeInt(bulk.count());
    }
    out.writeInt(dependent.size());
    for (int[] pair : dependent) {
      out.writeInt(pair[0]);
      out.writeInt(pair[1]);
    }
    out.writeInt(staticSlots.size());
    for (int[] pair : staticSlots) {
      out.writeInt(pair[0]);
      out.writeInt(pair[1]);
    }
    out.writeInt(events.ranges.size());
    for (HeapEvents.Range range : events.ranges) {
      out.writeInt(Math.min(4, range.generation()));
      out.writeLong(range.used());
      out.writeLong(range.reserved());
    }
    types.fields().write(out);
    return bytes.toByteArray();
  }
}
