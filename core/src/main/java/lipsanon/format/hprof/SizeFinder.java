package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.Callable;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.Steps;
import lipsanon.graph.Workers;

/**
 * Finds the shallow size of every object: of arrays by the layout, of instances by the layout and
 * the smallest distance to a next object that any instance of the class has, of class objects by
 * the fields of {@code java.lang.Class}, the smallest distance, and their static fields.
 *
 * <p>The distance decides where the VM adds fields of its own or pads them: it can't be smaller
 * than the size. Where a class has so few instances that all may stand before a hole, the fields
 * decide.
 */
final class SizeFinder {
  /** From so many instances on, a distance that all of them keep is no hole but the size. */
  private static final int ENOUGH = 6;

  /** So many threads work on it. */
  private static final int PARTS = 2;

  /** More than any class is enlarged by: two contended groups with their padding. */
  private static final int MOST_PADDING = 1024;

  /** Classes to which the VM adds fields, or whose fields it keeps apart in memory. */
  private static final Set<String> ENLARGED =
      Set.of(
          "java.lang.ClassLoader",
          "java.lang.Thread",
          "java.lang.InternalError",
          "java.lang.Module",
          "java.lang.StackFrameInfo",
          "java.lang.invoke.MemberName",
          "java.lang.invoke.ResolvedMethodName",
          "java.lang.invoke.CallSite",
          "java.lang.invoke.MethodType",
          "java.lang.invoke.MethodHandleNatives$CallSiteContext",
          "java.util.concurrent.ForkJoinPool",
          "java.util.concurrent.ForkJoinPool$WorkQueue",
          "java.util.concurrent.ConcurrentHashMap$CounterCell",
          "java.util.concurrent.Exchanger$Node",
          "java.util.concurrent.atomic.Striped64$Cell",
          "jdk.internal.vm.StackChunk",
          "jdk.internal.misc.CarrierThread",
          "jdk.internal.vm.ThreadContainers");

  private final HprofTypes types;
  private final VmLayout layout;
  private final long[] smallest;
  private final int[] instances;
  private final Map<Integer, FieldLayout> layouts = new HashMap<>();
  private final long[] size;
  private final Set<String> estimated = new TreeSet<>();
  private final Map<Long, Long> mirrorDistance = new HashMap<>();
  private long mirrorBase;
  private boolean comparing;
  private boolean otherVm;

  private SizeFinder(HprofTypes types, VmLayout layout, Distances distances) {
    this.types = types;
    this.layout = layout;
    this.smallest = distances.smallest;
    this.instances = distances.instances;
    this.mirrorDistance.putAll(distances.mirrors);
    this.size = new long[types.count()];
  }

  /** Smallest distances to the next object. */
  private static final class Distances implements Addresses.Sink {
    private final HprofTypes types;
    private final IntArray type;
    private final IntArray length;
    private final int[] elementType;
    private final LayoutFinder finder;
    private final Set<Long> classIds = new java.util.HashSet<>();
    final long[] smallest;
    final int[] instances;
    final Map<Long, Long> mirrors = new HashMap<>();
    private long previous;
    private boolean begun;

    Distances(HprofTypes types, IntArray type, IntArray length, int idSize) {
      this.types = types;
      this.type = type;
      this.length = length;
      this.elementType = elementTypes(types);
      this.finder = new LayoutFinder(idSize);
      this.smallest = new long[types.count()];
      this.instances = new int[types.count()];
      Arrays.fill(smallest, Long.MAX_VALUE);
      types.classes().forEach(c -> classIds.add(c.id()));
    }

    @Override
    public void addresses(int rank, long[] addresses, int count) {
      int from = begun ? 0 : 1;
      if (!begun) {
        previous = addresses[0];
        begun = true;
      }
      final IntArray type = this.type;
      final int[] elementType = this.elementType;
      final int classType = types.classType();
      long last = previous;
      for (int i = from; i < count; i++) {
        int node = rank + i - 1;
        int t = type.get(node);
        long distance = addresses[i] - last;
        if (elementType[t] == 0 && t != classType) {
          instance(t, distance);
        } else if (elementType[t] != 0) {
          finder.array(elementType[t], length.get(node), distance);
        } else if (classIds.contains(last)) {
          mirrors.put(last, distance);
        } else {
          instance(t, distance);
        }
        last = addresses[i];
      }
      previous = last;
    }

    private void instance(int t, long distance) {
      instances[t]++;
      if (distance < smallest[t]) {
        smallest[t] = distance;
      }
    }

    /** Adds what was found in another part of the addresses. */
    void join(Distances other) {
      finder.join(other.finder);
      mirrors.putAll(other.mirrors);
      for (int t = 0; t < smallest.length; t++) {
        smallest[t] = Math.min(smallest[t], other.smallest[t]);
        instances[t] += other.instances[t];
      }
    }
  }

  /** Element type by type, 0 for what is no array. */
  static int[] elementTypes(HprofTypes types) {
    int[] elements = new int[types.count()];
    for (int t = 0; t < elements.length; t++) {
      elements[t] = types.name(t).endsWith("[]") ? HprofFormat.OBJECT : 0;
    }
    for (int e = HprofFormat.BOOLEAN; e <= HprofFormat.LONG; e++) {
      elements[types.ofPrimitiveArray(e)] = e;
    }
    return elements;
  }

  /**
   * What was found.
   *
   * @param estimated names of the classes for which the evidence did not suffice
   */
  record Result(VmLayout layout, Set<String> estimated) {}

  /**
   * Turns lengths into sizes.
   *
   * @param length by number: elements of arrays; afterwards the shallow size in units of {@code 1
   *     << unitShift}
   */
  static Result apply(
      HprofTypes types,
      Addresses addresses,
      IntArray type,
      IntArray length,
      int unitShift,
      int idSize)
      throws Exception {
    Distances[] found = new Distances[PARTS];
    overParts(
        part -> {
          found[part] = new Distances(types, type, length, idSize);
          addresses.forEach(part, PARTS, found[part]);
        });
    Distances distances = found[0];
    for (int part = 1; part < PARTS; part++) {
      distances.join(found[part]);
    }
    VmLayout layout = distances.finder.find();
    SizeFinder finder = new SizeFinder(types, layout, distances);
    finder.findMirrorBase();
    finder.compareRules();
    for (int t = 0; t < types.count(); t++) {
      finder.sizeOf(t);
    }
    Map<Integer, Long> mirrors = finder.mirrorSizes(addresses);
    int[] begin = new int[types.count()];
    int[] element = new int[types.count()];
    int[] elementTypes = elementTypes(types);
    for (int t = 0; t < element.length; t++) {
      if (elementTypes[t] != 0) {
        begin[t] = layout.arrayBegin(elementTypes[t]);
        element[t] = layout.elementBytes(elementTypes[t]);
      }
    }
    overParts(
        part -> {
          int from = (int) ((long) length.length() * part / PARTS);
          int to = (int) ((long) length.length() * (part + 1) / PARTS);
          Steps.up(
              from,
              to,
              (first, end) -> {
                for (int n = first; n < end; n++) {
                  int t = type.get(n);
                  long bytes;
                  if (element[t] != 0) {
                    bytes = layout.aligned(begin[t] + (length.get(n) & 0xffffffffL) * element[t]);
                  } else if (t == types.classType()) {
                    bytes = mirrors.getOrDefault(n, finder.mirrorBase);
                  } else {
                    bytes = finder.size[t];
                  }
                  length.set(n, (int) (bytes >>> unitShift));
                }
              });
        });
    return new Result(layout, finder.estimated);
  }

  private interface PartWork {
    void run(int part) throws IOException;
  }

  private static void overParts(PartWork work) throws Exception {
    List<Callable<Void>> works = new ArrayList<>();
    for (int i = 0; i < PARTS; i++) {
      int part = i;
      works.add(
          () -> {
            work.run(part);
            return null;
          });
    }
    Workers.all(works);
  }

  private FieldLayout layoutOf(int t) {
    FieldLayout known = layouts.get(t);
    if (known != null) {
      return known;
    }
    List<ClassInfo> chain = types.chain(t);
    FieldLayout current = FieldLayout.header(layout.objectHeader());
    for (int i = chain.size() - 1; i >= 0; i--) {
      int c = types.ofClass(chain.get(i).id());
      FieldLayout done = layouts.get(c);
      if (done == null) {
        done = current.copy();
        done.add(chain.get(i).fields(), layout.reference());
        if (instances[c] == 0 && ENLARGED.contains(types.name(c))) {
          done = done.withHiddenLongs(hiddenLongs(c, done), layout.reference());
        }
        done = enlarge(c, done);
        layouts.put(c, done);
      }
      current = done;
    }
    layouts.put(t, current);
    return current;
  }

  /**
   * How many longs the VM adds to a class that has no instances itself: the count with which the
   * sizes of its subclasses' instances come out as their smallest distances say.
   */
  private int hiddenLongs(int base, FieldLayout shown) {
    int best = 0;
    int bestMet = -1;
    for (int longs = 0; longs <= 4; longs++) {
      int met = 0;
      boolean contradicted = false;
      for (int t = 0; t < types.count(); t++) {
        if (instances[t] > 0 && t != base) {
          long bytes = sizeWithHidden(t, base, shown.withHiddenLongs(longs, layout.reference()));
          met += bytes == smallest[t] ? 1 : 0;
          contradicted |= bytes > smallest[t];
        }
      }
      if (!contradicted && met > bestMet) {
        best = longs;
        bestMet = met;
      }
    }
    return best;
  }

  /** The size of a subclass's instance if its base class is laid out so; 0 for other classes. */
  private long sizeWithHidden(int t, int base, FieldLayout baseLayout) {
    List<ClassInfo> chain = types.chain(t);
    int from = -1;
    for (int i = 0; i < chain.size(); i++) {
      if (types.ofClass(chain.get(i).id()) == base) {
        from = i;
      }
    }
    if (from < 0) {
      return 0;
    }
    FieldLayout current = baseLayout.copy();
    for (int i = from - 1; i >= 0; i--) {
      current.add(chain.get(i).fields(), layout.reference());
    }
    return current.size(layout.alignment());
  }

  private FieldLayout enlarge(int t, FieldLayout byFields) {
    int formula = byFields.size(layout.alignment());
    long distance = smallest[t];
    if (instances[t] == 0 || distance == formula) {
      size[t] = formula;
      return byFields;
    }
    boolean many = instances[t] >= ENOUGH;
    boolean trusted = distance < formula || ENLARGED.contains(types.name(t)) || many && otherVm;
    if (!trusted || distance > formula + MOST_PADDING) {
      // all instances may stand before a hole: collectors that do not compact leave such patterns
      if (many && !comparing) {
        estimated.add(types.name(t));
      }
      size[t] = formula;
      return byFields;
    }
    if (!many && !comparing) {
      estimated.add(types.name(t));
    }
    size[t] = distance;
    return FieldLayout.filled((int) distance);
  }

  /**
   * Whether the VM lays out fields by other rules than {@link FieldLayout}: then a good part of the
   * classes with many instances keeps larger distances than the rules explain.
   */
  private void compareRules() {
    comparing = true;
    int met = 0;
    int larger = 0;
    for (int t = 0; t < types.count(); t++) {
      sizeOf(t);
      if (instances[t] >= ENOUGH && types.classOf(t) != null) {
        met += size[t] == smallest[t] ? 1 : 0;
        larger += size[t] < smallest[t] ? 1 : 0;
      }
    }
    comparing = false;
    otherVm = larger > 4 && larger * 4 > met;
    layouts.clear();
  }

  private void sizeOf(int t) {
    if (types.classOf(t) == null || types.chain(t).isEmpty()) {
      size[t] = FieldLayout.up(layout.objectHeader(), layout.alignment());
      if (t == types.unknownType() && instances[t] > 0) {
        size[t] = smallest[t];
        estimated.add(types.name(t));
      }
      return;
    }
    layoutOf(t);
  }

  /** Where a class object ends whose own fields end at {@code base}: static fields follow. */
  private long mirrorEnd(ClassInfo c, long base) {
    int[] bySize = new int[9];
    long end = base;
    for (ClassInfo.Static s : c.statics()) {
      // names in angle brackets are what the VM keeps elsewhere
      if (!s.name().startsWith("<")) {
        if (s.type() == HprofFormat.OBJECT) {
          end += layout.reference();
        } else {
          bySize[HprofFormat.bytes(s.type(), 8)]++;
        }
      }
    }
    for (int bytes = 8; bytes >= 1; bytes /= 2) {
      if (bySize[bytes] > 0) {
        end = (end + bytes - 1) / bytes * bytes + (long) bySize[bytes] * bytes;
      }
    }
    return end;
  }

  private void findMirrorBase() {
    FieldLayout fields = FieldLayout.header(layout.objectHeader());
    ClassInfo cls = types.classOf(types.classType());
    if (cls != null) {
      fields.add(cls.fields(), layout.reference());
    }
    int lower = fields.size(8);
    mirrorBase = Long.MAX_VALUE;
    for (ClassInfo c : types.classes()) {
      Long distance = mirrorDistance.get(c.id());
      if (distance != null && mirrorEnd(c, 0) == 0 && distance >= lower) {
        mirrorBase = Math.min(mirrorBase, distance);
      }
    }
    if (mirrorBase > lower + 256L) {
      mirrorBase = lower;
      if (cls != null) {
        estimated.add(HprofTypes.CLASS);
      }
    }
  }

  private Map<Integer, Long> mirrorSizes(Addresses addresses) {
    Map<Integer, Long> sizes = new HashMap<>();
    for (ClassInfo c : types.classes()) {
      long end = mirrorEnd(c, mirrorBase);
      long bytes = (end + layout.alignment() - 1) / layout.alignment() * layout.alignment();
      Long distance = mirrorDistance.get(c.id());
      if (distance != null && distance < bytes) {
        bytes = distance;
        estimated.add(HprofTypes.CLASS);
      }
      sizes.put(addresses.rank(c.id()), bytes);
    }
    return sizes;
  }
}
