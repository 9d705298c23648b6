package lipsanon.format.hprof;

import java.io.ByteArrayOutputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicLong;
import lipsanon.array.AddressCollector;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.IntList;
import lipsanon.array.IntPages;
import lipsanon.array.LongArray;
import lipsanon.array.RankBitmap;
import lipsanon.array.Space;
import lipsanon.array.Steps;
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
import lipsanon.io.Progress;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * Reads an HPROF dump into {@link SnapshotContent}: a first pass collects addresses, classes and
 * roots, a second one types and references; heap segments are shared out among threads. Numbers of
 * objects follow their addresses.
 */
public final class HprofReader {
  /** The key of this format in an index. */
  public static final String FORMAT = "hprof";

  /** Sizes are multiples of 8. */
  private static final int UNIT_SHIFT = 3;

  private final ByteSource source;
  private final Space space;
  private final Progress progress;
  private final HprofFile file;
  private final List<FirstPass.RawRoot> rawRoots = new ArrayList<>();
  private final List<ClassDumpReader.Raw> rawClasses = new ArrayList<>();
  private Addresses addresses;
  private HprofTypes types;
  private long records;
  private long dangling;
  private long missingClass;
  private long misfits;
  private final AtomicLong cutAt = new AtomicLong(-1);

  private HprofReader(ByteSource source, Space space, Progress progress, HprofFile file) {
    this.source = source;
    this.space = space;
    this.progress = progress;
    this.file = file;
  }

  /** Whether a file that begins so is of this format; 32 bytes suffice. */
  public static boolean matches(byte[] head) {
    return HprofFile.matches(head);
  }

  /**
   * Reads a dump.
   *
   * @param strict refuse a dump that is cut off, in place of reading what it still holds
   * @throws lipsanon.io.InputException if it cannot be read
   */
  public static SnapshotContent read(
      ByteSource source, Space space, boolean strict, Progress progress) throws Exception {
    progress.phase("reading records", 0);
    HprofFile file = HprofFile.scan(source);
    if (strict && file.cutAt >= 0) {
      throw new TruncatedInputException(source.name(), file.cutAt, "the rest of the dump");
    }
    return new HprofReader(source, space, progress, file).read();
  }

  private SnapshotContent read() throws Exception {
    firstPass();
    types = new HprofTypes(classes(), file.idSize);
    int count = addresses.count();
    if (count == 0) {
      throw new UnsupportedInputException(source.name(), "holds no objects");
    }
    // fresh memory takes its time: two get it side by side
    Workers.Task<IntArray[]> others =
        Workers.start(
            "lipsanon-memory", () -> new IntArray[] {space.ints(count), space.ints(count)});
    LongArray position = space.longs(count, source.size() + 1);
    IntArray type = space.ints(count);
    IntArray length = others.join()[0];
    IntArray firstEdge = others.join()[1];
    IntPages edges = new IntPages(space);
    SpecialEdges special =
        secondPass(new SecondPass.Columns(type, length, position, firstEdge), edges);
    classEdges(firstEdge, edges);
    SizeFinder.Result sizes =
        SizeFinder.apply(types, addresses, type, length, UNIT_SHIFT, file.idSize);
    List<RootInfo> roots = roots();
    ObjectGraph graph =
        new ObjectGraph(count, firstEdge, edges, type, classNodes(true), rootNodes(roots), special);
    primitiveMirrors(graph);
    threadLocals(graph, roots);
    return new SnapshotContent(
        FORMAT,
        graph,
        length,
        1 << UNIT_SHIFT,
        IdStyle.ADDRESS,
        sink -> addresses.forEach((rank, some, size) -> sink.values(some, size)),
        position,
        typeInfos(position),
        roots,
        facts(sizes),
        detail(),
        List.of());
  }

  private void firstPass() throws Exception {
    if (!collect(false)) {
      collect(true);
    }
  }

  private boolean collect(boolean asList) throws Exception {
    List<FirstPass> passes = new ArrayList<>();
    int threads = Math.min(Workers.threads(), Math.max(1, file.segments.size()));
    for (int i = 0; i < threads; i++) {
      passes.add(new FirstPass(source, file.idSize, asList));
    }
    overSegments("collecting objects", passes, pass -> !pass.unsuitable);
    List<AddressCollector> parts = new ArrayList<>();
    rawRoots.clear();
    rawClasses.clear();
    records = 0;
    for (FirstPass pass : passes) {
      if (pass.unsuitable) {
        return false;
      }
      parts.add(pass.addresses);
      rawRoots.addAll(pass.roots);
      rawClasses.addAll(pass.classes);
      records += asList ? pass.addresses.list().length : pass.addresses.count;
    }
    if (records > Integer.MAX_VALUE - 16) {
      throw new UnsupportedInputException(source.name(), "holds more than two billion objects");
    }
    addresses = asList ? Addresses.ofLists(parts) : RankBitmap.join(parts);
    rawRoots.sort(Comparator.comparingLong(FirstPass.RawRoot::position));
    rawClasses.sort(Comparator.comparingLong(ClassDumpReader.Raw::position));
    return true;
  }

  private SpecialEdges secondPass(SecondPass.Columns columns, IntPages edges) throws Exception {
    boolean repeated = records > addresses.count();
    int threads = repeated ? 1 : Math.min(Workers.threads(), Math.max(1, file.segments.size()));
    List<SecondPass> passes = new ArrayList<>();
    for (int i = 0; i < threads; i++) {
      passes.add(
          new SecondPass(
              source, file.idSize, types, addresses, columns, new EdgeAppender(edges), repeated));
    }
    overSegments("reading references", passes, pass -> true);
    SpecialEdges special = new SpecialEdges();
    for (SecondPass pass : passes) {
      special.addAll(pass.special);
      dangling += pass.dangling;
      missingClass += pass.missingClass;
      misfits += pass.misfits;
    }
    return special;
  }

  private interface GoOn<T> {
    boolean test(T pass);
  }

  private <T extends HeapRecords> void overSegments(String phase, List<T> passes, GoOn<T> goOn)
      throws Exception {
    List<HprofFile.Segment> segments = file.segments;
    progress.phase(phase, source.size());
    AtomicInteger next = new AtomicInteger();
    List<Callable<Void>> works = new ArrayList<>();
    for (int i = 0; i < passes.size(); i++) {
      T pass = passes.get(i);
      boolean first = i == 0;
      works.add(
          () -> {
            int mine;
            while ((mine = next.getAndIncrement()) < segments.size() && goOn.test(pass)) {
              long cut = pass.walk(segments.get(mine));
              if (cut >= 0) {
                cutAt.set(cut);
              }
              if (first) {
                progress.at(segments.get(mine).begin());
              }
            }
            return null;
          });
    }
    Workers.all(works);
  }

  private List<ClassInfo> classes() throws IOException {
    List<ClassInfo> classes = new ArrayList<>(rawClasses.size());
    Set<Long> seen = new HashSet<>();
    for (ClassDumpReader.Raw raw : rawClasses) {
      if (seen.add(raw.id())) {
        classes.add(raw.resolve(file));
      }
    }
    rawClasses.clear();
    return classes;
  }

  private void classEdges(IntArray firstEdge, IntPages edges) {
    EdgeAppender appender = new EdgeAppender(edges);
    for (ClassInfo c : types.classes()) {
      appender.begin(4 + c.statics().length);
      edge(appender, c.superId());
      edge(appender, c.loader());
      edge(appender, c.signers());
      edge(appender, c.domain());
      for (ClassInfo.Static s : c.statics()) {
        if (s.type() == HprofFormat.OBJECT) {
          edge(appender, s.value());
        }
      }
      firstEdge.set(addresses.rank(c.id()), appender.end());
    }
  }

  private void edge(EdgeAppender appender, long address) {
    if (address != 0) {
      int target = addresses.rank(address);
      if (target >= 0) {
        appender.add(target);
      } else {
        dangling++;
      }
    }
  }

  /**
   * By type: its class object; with {@code asEdges} only where every object of the type refers to
   * it.
   */
  private int[] classNodes(boolean asEdges) {
    int[] nodes = new int[types.count()];
    int[] elements = SizeFinder.elementTypes(types);
    for (int t = 0; t < nodes.length; t++) {
      ClassInfo c = types.classOf(t);
      boolean none = asEdges && (t == types.classType() || elements[t] > HprofFormat.OBJECT);
      nodes[t] = c == null || none ? -1 : addresses.rank(c.id());
    }
    return nodes;
  }

  /**
   * The mirrors of primitive types are plain instances of java.lang.Class: their edge is stored.
   */
  private void primitiveMirrors(ObjectGraph graph) {
    ClassInfo cls = types.classOf(types.classType());
    if (cls == null) {
      return;
    }
    Set<Integer> dumped = new HashSet<>();
    for (ClassInfo c : types.classes()) {
      dumped.add(addresses.rank(c.id()));
    }
    IntList toClass = new IntList();
    toClass.add(addresses.rank(cls.id()));
    Steps.up(
        0,
        graph.count,
        (from, to) -> {
          for (int n = from; n < to; n++) {
            if (graph.type.get(n) == types.classType() && !dumped.contains(n)) {
              graph.addEdges(n, toClass);
            }
          }
        });
  }

  private List<TypeInfo> typeInfos(LongArray position) throws IOException {
    List<TypeInfo> infos = new ArrayList<>();
    boolean[] foreign = new CodeSources(source, file.idSize, types, addresses, position).foreign();
    int[] classNodes = classNodes(false);
    for (int t = 0; t < types.count(); t++) {
      ClassInfo c = types.classOf(t);
      String name = types.name(t);
      Set<TypeInfo.Trait> traits = JdkNames.traits(name);
      if (foreign[t]) {
        traits.add(TypeInfo.Trait.FOREIGN);
      }
      infos.add(
          new TypeInfo(
              name,
              c == null || c.loader() == 0 ? "" : "0x" + Long.toHexString(c.loader()),
              classNodes[t],
              traits));
    }
    return infos;
  }

  private List<RootInfo> roots() throws IOException {
    Map<Integer, Integer> threadNodes = new HashMap<>();
    Map<Integer, Integer> threadTraces = new HashMap<>();
    for (FirstPass.RawRoot root : rawRoots) {
      if (root.kind() == HprofFormat.ROOT_THREAD_OBJECT && addresses.rank(root.id()) >= 0) {
        threadNodes.putIfAbsent(root.threadSerial(), addresses.rank(root.id()));
        threadTraces.putIfAbsent(root.threadSerial(), root.number());
      }
    }
    List<RootInfo> roots = new ArrayList<>();
    for (FirstPass.RawRoot root : rawRoots) {
      int node = addresses.rank(root.id());
      if (node < 0) {
        dangling += root.id() == 0 ? 0 : 1;
        continue;
      }
      boolean local =
          root.kind() == HprofFormat.ROOT_JNI_LOCAL
              || root.kind() == HprofFormat.ROOT_JAVA_FRAME
              || root.kind() == HprofFormat.ROOT_NATIVE_STACK
              || root.kind() == HprofFormat.ROOT_THREAD_BLOCK;
      int thread = local ? threadNodes.getOrDefault(root.threadSerial(), -1) : -1;
      String method =
          local && root.number() >= 0 && threadTraces.containsKey(root.threadSerial())
              ? file.frame(threadTraces.get(root.threadSerial()), root.number())
              : "";
      roots.add(new RootInfo(node, kindName(root.kind()), method, thread));
    }
    return roots;
  }

  private static String kindName(int kind) {
    return switch (kind) {
      case HprofFormat.ROOT_JNI_GLOBAL -> "JNI global";
      case HprofFormat.ROOT_JNI_LOCAL -> RootInfo.JNI_LOCAL;
      case HprofFormat.ROOT_JAVA_FRAME -> "local variable";
      case HprofFormat.ROOT_NATIVE_STACK -> "native stack";
      case HprofFormat.ROOT_STICKY_CLASS -> "system class";
      case HprofFormat.ROOT_THREAD_BLOCK -> "thread block";
      case HprofFormat.ROOT_MONITOR -> RootInfo.MONITOR;
      case HprofFormat.ROOT_THREAD_OBJECT -> RootInfo.THREAD;
      default -> "unknown root";
    };
  }

  private static int[] rootNodes(List<RootInfo> roots) {
    IntList nodes = new IntList();
    for (RootInfo root : roots) {
      if (root.thread() < 0) {
        nodes.add(root.node());
      }
    }
    return nodes.toArray();
  }

  /** A thread retains its stack: the locals become edges of the thread's object. */
  private static void threadLocals(ObjectGraph graph, List<RootInfo> roots) {
    Map<Integer, IntList> locals = new HashMap<>();
    for (RootInfo root : roots) {
      if (root.thread() >= 0) {
        locals.computeIfAbsent(root.thread(), key -> new IntList()).add(root.node());
      }
    }
    locals.forEach(graph::addEdges);
  }

  private SnapshotFacts facts(SizeFinder.Result sizes) {
    List<String> warnings = new ArrayList<>();
    boolean partial = file.cutAt >= 0;
    if (partial) {
      long at = cutAt.get() >= 0 ? cutAt.get() : file.cutAt;
      warnings.add(
          "The dump is cut off at byte "
              + at
              + (file.missingAtLeast > 0
                  ? ": at least " + file.missingAtLeast + " bytes are missing"
                  : ": its closing record is missing")
              + ". Objects after that place are not counted, and what only they held looks unretained.");
    }
    long duplicates = records - addresses.count();
    if (duplicates > 0) {
      warnings.add(
          duplicates + " records repeat the identifier of another object; the first counts.");
    }
    if (misfits > 0 || types.brokenChains() > 0) {
      partial = true;
      warnings.add(
          types.brokenChains()
              + " classes lack superclasses or run in a circle, and "
              + misfits
              + " objects do not fit what the dump says of their classes: references and sizes of"
              + " these are not reliable.");
    }
    if (missingClass > 0) {
      warnings.add(missingClass + " objects are of classes that the dump does not describe.");
    }
    if (file.unknownRecords > 0) {
      warnings.add(file.unknownRecords + " records of an unknown kind were passed over.");
    }
    VmLayout layout = sizes.layout();
    return new SnapshotFacts(
        "JVM",
        "HPROF, " + file.idSize + "-byte identifiers",
        file.capturedAtMillis,
        new SnapshotFacts.Layout(
            layout.objectHeader(), layout.arrayHeader(), layout.reference(), layout.alignment()),
        List.copyOf(sizes.estimated()),
        warnings,
        partial,
        dangling,
        duplicates,
        file.unknownRecords);
  }

  private byte[] detail() throws IOException {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    DataOutputStream out = new DataOutputStream(bytes);
    out.writeInt(file.idSize);
    types.write(out);
    return bytes.toByteArray();
  }
}
