package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lipsanon.array.AddressCollector;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
import lipsanon.array.RankBitmap;
import lipsanon.array.Space;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.format.dotnet.RootKinds;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
import lipsanon.index.IdStyle;
import lipsanon.index.RootInfo;
import lipsanon.index.SnapshotContent;
import lipsanon.index.SnapshotFacts;
import lipsanon.index.Via;
import lipsanon.io.ByteSource;
import lipsanon.io.InputException;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;

/**
 * Reads the Linux core dump of a .NET process, once {@link DumpedRuntime} has found the runtime in
 * it: a walk over the heap that finds objects and types; then static variables and handles; a
 * second walk that finds references; then roots.
 */
public final class ElfCoreReader {
  /** Key of the format. */
  public static final String FORMAT = "elfcore";

  private static final int UNIT = 8;
  private static final int MOST_PARENTS = 64;
  private static final String LOADER = "System.Reflection.LoaderAllocator";
  private final ByteSource source;
  private final Space space;
  private final Progress progress;
  private DumpedRuntime runtime;
  private CoreMemory memory;
  private GcHeap heap;
  private RuntimeTypes types;
  private FieldLists lists;
  private VariableSlots slots;
  private HeapWalk walk;
  private List<RuntimeHandles.Handle> handles = List.of();

  private Addresses addresses;
  private final List<RuntimeType> numbered = new ArrayList<>();
  private List<RootInfo> roots = List.of();
  private final SpecialEdges special = new SpecialEdges();
  private final TypeLayouts layouts = new TypeLayouts();
  private final Set<Long> delegates = new HashSet<>();
  private final List<String> warnings = new ArrayList<>();
  private boolean partial;
  private long dangling;
  private IntArray type;
  private IntArray shallow;
  private IntArray firstEdge;
  private LongArray positions;
  private IntArray generation;
  private IntPages edges;

  private Touched touched;

  private ElfCoreReader(ByteSource source, Space space, Progress progress) {
    this.source = source;
    this.space = space;
    this.progress = progress;
  }

  /** Whether a file that begins so is of this format. */
  public static boolean matches(byte[] head) {
    return ElfFormat.matches(head);
  }

  /**
   * Reads a snapshot.
   *
   * @throws InputException if it cannot be read
   */
  public static SnapshotContent read(ByteSource source, Space space, Progress progress)
      throws Exception {
    return new ElfCoreReader(source, space, progress).read();
  }

  /** The runtime and its heap, after all has been looked at that a reader looks at. */
  record LookedAt(DumpedRuntime runtime, HeapWalk walk) {}

  /** Reads a snapshot to learn what of it is needed. */
  static LookedAt lookAt(ByteSource source, Space space, Progress progress, Touched touched)
      throws Exception {
    ElfCoreReader reader = new ElfCoreReader(source, space, progress);
    reader.touched = touched;
    reader.read();
    return new LookedAt(reader.runtime, reader.walk);
  }

  /** Why a dump that was just taken cannot be walked, in words; "" if it can. */
  public static String missing(ByteSource source) throws IOException {
    try {
      DumpedRuntime.open(source);
      return "";
    } catch (UnsupportedInputException e) {
      return e.getMessage();
    }
  }

  private SnapshotContent read() throws Exception {
    progress.phase("looking for the runtime in the dump", 0);
    runtime = DumpedRuntime.open(source, touched);
    memory = runtime.memory;
    heap = runtime.heap;
    types = runtime.types;
    lists = runtime.lists;
    if (runtime.core.cutOff()) {
      missingPart("the file is cut off");
    }
    objects();
    progress.phase("finding all types", 0);
    List<long[]> stretches = new ArrayList<>();
    for (GcHeap.Segment segment : heap.segments()) {
      stretches.add(new long[] {segment.start(), Math.max(segment.end(), segment.reserved())});
    }
    types.findAll(stretches);
    progress.phase("reading static variables and handles", 0);
    slots = VariableSlots.of(runtime);
    handles = RuntimeHandles.read(memory, heap.handles());
    int count = addresses.count();
    type = space.ints(count);
    shallow = space.ints(count);
    firstEdge = space.ints(count);
    firstEdge.fill(ObjectGraph.NO_EDGES);
    positions = space.longs(count, source.size() + 1);
    generation = space.ints(count);
    edges = new IntPages(space);
    references();
    roots = DumpRoots.of(runtime, slots, handles, addresses, generation, special.finalizer);
    roots.replaceAll(
        root ->
            RootKinds.told(
                root, generation.get(root.node()), numbered.get(type.get(root.node())).name));
    return content(count);
  }

  private void missingPart(String what) {
    partial = true;
    warnings.add(
        "The snapshot is not whole: " + what + ". Figures and paths are not to be trusted.");
  }

  /** First walk: addresses and types. */
  private void objects() throws IOException {
    long bytes = 0;
    for (GcHeap.Segment segment : heap.segments()) {
      bytes += segment.end() - segment.start();
    }
    walk = new HeapWalk(memory, types, runtime.freeTable, heap);
    AddressCollector[] found = {new AddressCollector(false)};
    progress.phase("finding objects", bytes);
    try {
      walk.walk(
          (address, of, size, segment) -> {
            number(of);
            if (!found[0].add(address)) {
              throw new ListNeeded();
            }
          },
          progress);
      addresses = RankBitmap.join(List.of(found[0]));
    } catch (ListNeeded e) {
      found[0] = new AddressCollector(true);
      walk.walk(
          (address, of, size, segment) -> {
            number(of);
            found[0].add(address);
          },
          progress);
      addresses = Addresses.ofLists(List.of(found[0]));
    }
    if (addresses.count() == 0) {
      throw new UnsupportedInputException(source.name(), "holds no objects");
    }
    if (walk.cut) {
      missingPart("a part of the heap's memory is not in the file");
    }
    if (walk.gapBytes > 0) {
      warnings.add(
          String.format(
              Locale.ROOT,
              "%,d bytes of the heap are no objects: a thread was stopped while it made one, or a"
                  + " collection was under way.",
              walk.gapBytes));
    }
    if (heap.background()) {
      warnings.add(
          "A background collection was running: references of dead objects may lead nowhere.");
    }
  }

  /** Bits do not suit these addresses: the pass begins anew, with a list. */
  private static final class ListNeeded extends IOException {
    private static final long serialVersionUID = 1L;
  }

  private void number(RuntimeType of) {
    if (of.number < 0) {
      of.number = numbered.size();
      numbered.add(of);
    }
  }

  /** Second walk: columns and references. */
  private void references() throws IOException {
    EdgeAppender appender = new EdgeAppender(edges);
    progress.phase("reading objects and references", 0);
    boolean[] isDelegate = new boolean[numbered.size()];
    long[][] callFields = new long[numbered.size()][];
    int[] loaderOf = new int[numbered.size()];
    Arrays.fill(loaderOf, -1);
    for (RuntimeType of : numbered) {
      isDelegate[of.number] = DumpedTypeInfos.isDelegate(types, of);
      callFields[of.number] = isDelegate[of.number] ? callFields(of) : null;
      if (of.is(RuntimeType.COLLECTIBLE)) {
        loaderOf[of.number] = loader(of);
        if (loaderOf[of.number] >= 0) {
          layouts.loaders.put(of.number, loaderOf[of.number]);
        }
      }
    }
    walk.walk(
        (address, of, size, segment) -> {
          int node = addresses.rank(address);
          type.set(node, of.number);
          shallow.set(node, (int) Math.min(size / UNIT, 0xffff_ffffL));
          positions.set(node, memory.place(address) + 1);
          generation.set(node, segment.generation(address));
          if (callFields[of.number] != null) {
            method(address, callFields[of.number]);
          }
          int loader = loaderOf[of.number];
          if (!of.is(RuntimeType.HAS_REFERENCES) && loader < 0) {
            return;
          }
          edges(node, address, of, loader, appender);
        },
        progress);
    for (RuntimeHandles.Handle handle : handles) {
      if (handle.kind() == RuntimeHandles.DEPENDENT && handle.value() != 0) {
        int key = addresses.rank(handle.object());
        int value = addresses.rank(handle.value());
        if (key >= 0 && value >= 0) {
          layouts.dependent.add(new int[] {key, value});
        }
      }
    }
  }

  private void edges(int node, long address, RuntimeType of, int loader, EdgeAppender appender)
      throws IOException {
    long bytes = walk.bytes(address, of);
    boolean variables = slots.anyWithin(address, bytes);
    appender.begin((int) Math.min(Integer.MAX_VALUE - 2, bytes / 8 + 1));
    ReferenceSlots.each(
        memory,
        address,
        of,
        bytes,
        (offset, target) -> {
          int to = addresses.rank(target);
          if (to < 0) {
            dangling++;
          } else if (variables && slots.at(address + offset) != null) {
            special.weak.add(node, to);
            Statics.Variable variable = slots.at(address + offset);
            layouts
                .variables
                .computeIfAbsent(node, n -> new HashMap<>())
                .put(
                    offset,
                    new Via(Via.Kind.STATIC, variable.type().name, variable.field().name(), -1));
          } else {
            appender.add(to);
          }
          return true;
        });
    if (loader >= 0) {
      appender.add(loader);
    }
    firstEdge.set(node, appender.end());
  }

  private long[] callFields(RuntimeType of) throws IOException {
    long plain = -1;
    long other = -1;
    for (FieldLists.Slot slot : lists.slots(of)) {
      plain = slot.path().equals("_methodPtr") ? slot.offset() : plain;
      other = slot.path().equals("_methodPtrAux") ? slot.offset() : other;
    }
    return plain < 0 ? null : new long[] {plain, other};
  }

  private void method(long address, long[] fields) throws IOException {
    long called = Methods.description(memory, address, fields[0], fields[1]);
    if (called != 0 && delegates.add(called)) {
      String name = Methods.name(types, called);
      if (!name.isEmpty()) {
        layouts.methods.put(called, name);
      }
    }
  }

  /** The object that stands for a collectible type's loader: the native one has a handle to it. */
  private int loader(RuntimeType of) throws IOException {
    if (of.module == null) {
      return -1;
    }
    int offset = runtime.contract.offset("Module.LoaderAllocator", -1);
    long native_ = offset < 0 ? 0 : memory.u8(of.module.address() + offset);
    for (int i = 0; i < 0x800 && memory.holds(native_ + i, 8); i += 8) {
      long handle = memory.u8(native_ + i);
      if ((handle & 7) == 0 && memory.holds(handle, 8)) {
        long object = memory.u8(handle);
        int node = object == 0 ? -1 : addresses.rank(object);
        if (node >= 0) {
          RuntimeType is = types.at(memory.u8(object) & ~7L);
          if (is != null && is.name.equals(LOADER)) {
            return node;
          }
        }
      }
    }
    return -1;
  }

  private SnapshotContent content(int count) throws IOException {
    progress.phase("describing types", 0);
    owners();
    ObjectGraph first = graph(roots);
    for (int[] pair : layouts.dependent) {
      IntList more = new IntList();
      more.add(pair[1]);
      first.addEdges(pair[0], more);
    }
    StackRoots sorted = StackRoots.of(first, roots, shallow, UNIT);
    layouts.stackObjects = sorted.objects;
    layouts.stackBytes = sorted.bytes;
    ObjectGraph graph = graph(sorted.roots);
    if (dangling > 0) {
      warnings.add(
          String.format(
              Locale.ROOT,
              "%,d references lead to no object: dead objects may have such.",
              dangling));
    }
    LayoutBuilder builder = new LayoutBuilder(types, lists, layouts);
    for (RuntimeType of : numbered) {
      builder.add(of);
    }
    areas();
    Addresses all = addresses;
    return new SnapshotContent(
        FORMAT,
        graph,
        shallow,
        UNIT,
        IdStyle.ADDRESS,
        sink -> all.forEach((rank, some, size) -> sink.values(some, size)),
        positions,
        new DumpedTypeInfos(types).of(numbered),
        sorted.roots,
        new SnapshotFacts(
            ".NET",
            "core dump (ELF)" + (runtime.version.isEmpty() ? "" : " of .NET " + runtime.version),
            capturedAt(),
            new SnapshotFacts.Layout(16, 24, 8, UNIT),
            List.of(),
            warnings,
            partial,
            dangling,
            0,
            0),
        layouts.bytes(),
        List.of(
            new SnapshotContent.Extra(
                HeapParts.COLUMN,
                count,
                sink -> {
                  for (int n = 0; n < count; n++) {
                    sink.value(generation.get(n));
                  }
                })));
  }

  /** Classes that declare fields are types too, if they have no objects of their own. */
  private void owners() throws IOException {
    for (RuntimeType of : new ArrayList<>(numbered)) {
      RuntimeType up = of;
      for (int i = 0; i < MOST_PARENTS && up != null && up.parent != 0; i++) {
        up = types.at(up.parent);
        if (up != null) {
          number(up);
        }
      }
    }
    for (Statics.Variable variable : slots.all()) {
      number(variable.type());
    }
  }

  private ObjectGraph graph(List<RootInfo> from) {
    return new ObjectGraph(
        addresses.count(),
        firstEdge,
        edges,
        type,
        noClasses(),
        from.stream().mapToInt(RootInfo::node).toArray(),
        special);
  }

  private long capturedAt() {
    try {
      return Files.getLastModifiedTime(Path.of(source.name())).toMillis();
    } catch (IOException | RuntimeException e) {
      return 0;
    }
  }

  private void areas() {
    long[][] sums = new long[HeapParts.NAMES.size()][5];
    List<GcHeap.Segment> segments = heap.segments();
    for (int i = 0; i < segments.size(); i++) {
      GcHeap.Segment segment = segments.get(i);
      long[] sum = sums[segment.generation()];
      sum[0] += segment.end() - segment.start();
      sum[1] += Math.max(segment.end(), segment.reserved()) - segment.start();
      sum[2] += walk.free[i][1];
      sum[3] = Math.max(sum[3], walk.free[i][2]);
      sum[4] += walk.free[i][0];
    }
    for (int i = 0; i < HeapWalk.SIZES.length; i++) {
      layouts.freeSizes.add(new long[] {HeapWalk.SIZES[i], walk.sizes[i][0], walk.sizes[i][1]});
    }
    for (int g = 0; g < sums.length; g++) {
      long[] sum = sums[g];
      layouts.areas.add(
          new TypeLayouts.Area(HeapParts.NAMES.get(g), sum[0], sum[1], sum[2], sum[3], sum[4]));
    }
  }

  private int[] noClasses() {
    int[] none = new int[numbered.size()];
    Arrays.fill(none, -1);
    return none;
  }
}
