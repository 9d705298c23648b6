package lipsanon.format.hprof;

import java.io.IOException;
import java.util.HashMap;
import java.util.Map;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.IntStream;
import lipsanon.io.ByteSource;

/**
 * Tells, in the order of the file, where contents stand: elements of arrays of primitives, fields
 * of primitive types, and texts that are no names. What the shape of a heap is told by is none:
 * names of classes, fields, methods and source files, where code was loaded from, how many elements
 * a collection of the library has, how a string is coded, and flags that say an object is closed.
 */
abstract class HprofContents extends HeapVisit {
  /** Numbers of the library's collections without which they cannot be read. */
  private static final Set<String> STRUCTURE =
      Set.of(
          "size",
          "elementCount",
          "count",
          "head",
          "tail",
          "takeIndex",
          "putIndex",
          "sizeCtl",
          "baseCount",
          "threshold",
          "capacity");

  private final HprofFile file;
  private final HprofClasses classes;
  private final Set<Long> locations;
  private final Predicate<String> flags;
  private final Map<Long, int[]> plans = new HashMap<>();
  private final int arrayHeader;
  private final int instanceHeader;

  /**
   * For a walk.
   *
   * @param flags names of fields that say an object is done with
   */
  HprofContents(ByteSource source, HprofFile file, Predicate<String> flags) throws IOException {
    super(source, file.idSize);
    this.file = file;
    this.flags = flags;
    this.classes = HprofClasses.read(source, file);
    this.locations = CodeLocations.find(source, file, classes);
    this.arrayHeader = 10 + file.idSize;
    this.instanceHeader = 9 + 2 * file.idSize;
  }

  /** Elements of an array. */
  abstract void elements(long position, int type, int count) throws IOException;

  /** The characters of a place that code was loaded from. */
  abstract void location(long position, int type, int count) throws IOException;

  /** A value of a field. */
  abstract void value(long position, int type) throws IOException;

  /** A text that no class, field or method is called by. */
  abstract void text(long position, int length) throws IOException;

  /** Goes through the file. */
  final void run() throws IOException {
    int string = 0;
    for (HprofFile.Segment segment : file.segments) {
      string = texts(string, segment.begin());
      walk(segment);
    }
    texts(string, Long.MAX_VALUE);
  }

  private int texts(int from, long before) throws IOException {
    int number = from;
    while (number < file.stringCount() && file.stringPosition(number) < before) {
      if (!classes.names.contains(file.stringId(number))) {
        long position = file.stringPosition(number);
        int length = (int) Math.min(file.stringLength(number), source.size() - position);
        if (length > 0) {
          text(position, length);
        }
      }
      number++;
    }
    return number;
  }

  @Override
  void primitiveArray(long position, long id, int type, int count) throws IOException {
    if (count > 0) {
      if (!locations.isEmpty() && locations.contains(id)) {
        location(position + arrayHeader, type, count);
      } else {
        elements(position + arrayHeader, type, count);
      }
    }
  }

  @Override
  void instance(long position, long id, long classId, int at, int length) throws IOException {
    int[] plan = plan(classId);
    if (classes.of(classId) == null && length > 0) {
      // what such an object consists of is not known: none of it stays
      elements(position + instanceHeader, HprofFormat.BYTE, length);
      return;
    }
    for (int i = 0; i < plan.length; i += 2) {
      if (plan[i] + HprofFormat.bytes(plan[i + 1], idSize) <= length) {
        value(position + instanceHeader + plan[i], plan[i + 1]);
      }
    }
  }

  /** Offset and type of each field that is replaced. */
  private int[] plan(long classId) {
    int[] known = plans.get(classId);
    if (known == null) {
      known =
          classes.fields(classId).stream()
              .filter(placed -> placed.field().type() != HprofFormat.OBJECT)
              .filter(placed -> !keeps(placed.declaring().name(), placed.field()))
              .flatMapToInt(placed -> IntStream.of(placed.offset(), placed.field().type()))
              .toArray();
      plans.put(classId, known);
    }
    return known;
  }

  private boolean keeps(String declaring, ClassInfo.Field field) {
    if (field.type() == HprofFormat.BOOLEAN && flags.test(field.name())) {
      return true;
    }
    if (declaring.equals("java.lang.String")) {
      return field.name().equals("coder");
    }
    return declaring.startsWith("java.util.") && STRUCTURE.contains(field.name());
  }

  @Override
  void classDump(long position, long id) throws IOException {
    ClassInfo c = classes.of(id);
    boolean library = c != null && JdkNames.isLibrary(c.name());
    window.need(10 + 6 * idSize);
    window.skip(8 + 6L * idSize);
    constants(library);
    window.need(2);
    for (int left = window.u2(); left > 0; left--) {
      window.need(idSize + 1);
      id();
      one(library);
    }
    window.need(2);
    int fields = window.u2();
    window.skip((long) fields * (idSize + 1));
  }

  private void constants(boolean library) throws IOException {
    window.need(2);
    for (int left = window.u2(); left > 0; left--) {
      window.need(3);
      window.u2();
      one(library);
    }
  }

  private void one(boolean library) throws IOException {
    int type = window.u1();
    int bytes = HprofFormat.bytes(type, idSize);
    window.need(bytes);
    if (type != HprofFormat.OBJECT && !library) {
      value(window.position(), type);
    }
    window.skip(bytes);
  }
}
