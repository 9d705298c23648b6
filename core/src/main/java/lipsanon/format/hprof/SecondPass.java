package lipsanon.format.hprof;

import java.io.IOException;
import lipsanon.array.Addresses;
import lipsanon.array.IntArray;
import lipsanon.array.LongArray;
import lipsanon.graph.EdgeAppender;
import lipsanon.graph.ObjectGraph;
import lipsanon.graph.SpecialEdges;
import lipsanon.io.ByteSource;
import lipsanon.io.TruncatedInputException;

/**
 * Reads types, array lengths, places and references, now that every address has a number. Several
 * passes may work on segments side by side, unless identifiers repeat: then one goes through all in
 * order, and the first record of an identifier counts.
 */
final class SecondPass extends HeapRecords {
  private static final int KNOWN = 1 << 10;

  private final HprofTypes types;
  private final Addresses addresses;
  private final Columns columns;
  private final EdgeAppender appender;
  private final boolean firstWins;

  /** The types of classes met of late, by some bits of the address: most objects are of a few. */
  private final long[] knownClass = new long[KNOWN];

  private final int[] knownType = new int[KNOWN];

  final SpecialEdges special = new SpecialEdges();
  long dangling;
  long missingClass;

  /** Instances that have more bytes than the fields of their classes take. */
  long misfits;

  /**
   * What the passes fill, by object number.
   *
   * @param length the number of elements of an array
   * @param position one more than the offset of the record, so that 0 says "none yet"
   */
  record Columns(IntArray type, IntArray length, LongArray position, IntArray firstEdge) {}

  SecondPass(
      ByteSource source,
      int idSize,
      HprofTypes types,
      Addresses addresses,
      Columns columns,
      EdgeAppender appender,
      boolean firstWins) {
    super(source, idSize);
    this.types = types;
    this.addresses = addresses;
    this.columns = columns;
    this.appender = appender;
    this.firstWins = firstWins;
  }

  @Override
  void root(int kind, long id, int threadSerial, int number) {}

  @Override
  void classDump(long position, long id) throws IOException {
    new ClassDumpReader(source, window, idSize).read(position, id);
    int node = addresses.rank(id);
    if (place(node, position)) {
      columns.type.set(node, types.classType());
      columns.firstEdge.set(node, ObjectGraph.NO_EDGES);
    }
  }

  /** Notes where an object stands; false if an earlier record has its identifier. */
  private boolean place(int node, long position) {
    if (firstWins && columns.position.get(node) != 0) {
      return false;
    }
    columns.position.set(node, position + 1);
    return true;
  }

  private int typeOf(long classId) {
    int slot = (int) (classId >>> 3 ^ classId >>> 13) & KNOWN - 1;
    if (knownClass[slot] == classId && classId != 0) {
      return knownType[slot];
    }
    int type = types.ofClass(classId);
    if (type < 0) {
      missingClass++;
      return types.unknownType();
    }
    knownClass[slot] = classId;
    knownType[slot] = type;
    return type;
  }

  @Override
  void instance(long position, long id, long classId, int at, int length) throws IOException {
    int node = addresses.rank(id);
    if (!place(node, position)) {
      return;
    }
    int type = typeOf(classId);
    columns.type.set(node, type);
    if (length < types.fieldBytes(type)) {
      throw corrupt(
          position,
          length + " field bytes in an object of " + types.name(type),
          "at least " + types.fieldBytes(type));
    }
    if (length > types.fieldBytes(type) && type != types.unknownType()) {
      misfits++;
    }
    int[] offsets = types.referenceOffsets(type);
    int referent = types.referentOffset(type);
    if (offsets.length == 0 && referent < 0) {
      columns.firstEdge.set(node, ObjectGraph.NO_EDGES);
      return;
    }
    appender.begin(offsets.length);
    for (int offset : offsets) {
      edge(wide ? chunk.longAt(at + offset) : idAt(at + offset));
    }
    columns.firstEdge.set(node, appender.end());
    if (referent >= 0) {
      referent(node, type, idAt(at + referent));
    }
  }

  private void edge(long address) {
    if (address != 0) {
      int target = addresses.rank(address);
      if (target >= 0) {
        appender.add(target);
      } else {
        dangling++;
      }
    }
  }

  private void referent(int node, int type, long address) {
    if (address == 0) {
      return;
    }
    int target = addresses.rank(address);
    if (target < 0) {
      dangling++;
      return;
    }
    switch (types.kind(type)) {
      case WEAK -> special.weak.add(node, target);
      case SOFT -> special.soft.add(node, target);
      case FINALIZER -> special.finalizer.add(node, target);
      default -> throw new IllegalStateException("a referent in " + types.name(type));
    }
  }

  @Override
  void objectArray(long position, long id, long classId, int at, int count) {
    int node = addresses.rank(id);
    if (place(node, position)) {
      columns.type.set(node, typeOf(classId));
      columns.length.set(node, count);
      appender.begin(count);
      for (int i = 0; i < count; i++) {
        edge(wide ? chunk.longAt(at + i * 8) : idAt(at + i * idSize));
      }
      columns.firstEdge.set(node, appender.end());
    }
  }

  @Override
  void largeArray(long position, long id, long classId, int count) throws IOException {
    int node = addresses.rank(id);
    // a record that is cut off was not counted by the first pass either
    if ((long) count * idSize > window.remaining() || !place(node, position)) {
      window.skip((long) count * idSize);
      return;
    }
    columns.type.set(node, typeOf(classId));
    columns.length.set(node, count);
    appender.begin(count);
    long elements = window.position();
    for (int done = 0; done < count; ) {
      chunk.load(elements + (long) done * idSize, idSize, window.end());
      int now = Math.min(count - done, chunk.limit() / idSize);
      for (int i = 0; i < now; i++) {
        edge(wide ? chunk.longAt(i * 8) : idAt(i * idSize));
      }
      done += now;
      if (now == 0) {
        throw new TruncatedInputException(source.name(), window.end(), "the rest of a record");
      }
    }
    window.skip((long) count * idSize);
    columns.firstEdge.set(node, appender.end());
  }

  @Override
  void primitiveArray(long position, long id, int type, int count) {
    int node = addresses.rank(id);
    if (place(node, position)) {
      columns.type.set(node, types.ofPrimitiveArray(type));
      columns.length.set(node, count);
      columns.firstEdge.set(node, ObjectGraph.NO_EDGES);
    }
  }
}
