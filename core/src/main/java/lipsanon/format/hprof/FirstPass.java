package lipsanon.format.hprof;

import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.AddressCollector;
import lipsanon.io.ByteSource;

/** Collects addresses, classes and roots from heap segments. */
final class FirstPass extends HeapRecords {
  final AddressCollector addresses;
  final List<ClassDumpReader.Raw> classes = new ArrayList<>();
  final List<RawRoot> roots = new ArrayList<>();
  private final ClassDumpReader classReader;

  /** Set when a bitmap turned out not to suit the addresses. */
  boolean unsuitable;

  /** A root as its record has it. */
  record RawRoot(long position, int kind, long id, int threadSerial, int number) {}

  FirstPass(ByteSource source, int idSize, boolean asList) {
    super(source, idSize);
    addresses = new AddressCollector(asList);
    classReader = new ClassDumpReader(source, window, idSize);
  }

  @Override
  void root(int kind, long id, int threadSerial, int number) {
    roots.add(new RawRoot(window.position(), kind, id, threadSerial, number));
  }

  @Override
  void classDump(long position, long id) throws IOException {
    classes.add(classReader.read(position, id));
    add(id);
  }

  @Override
  void instance(long position, long id, long classId, int at, int length) {
    add(id);
  }

  @Override
  void objectArray(long position, long id, long classId, int at, int count) {
    add(id);
  }

  @Override
  void largeArray(long position, long id, long classId, int count) throws IOException {
    // first, since a record that is cut off must not count
    window.skip((long) count * idSize);
    add(id);
  }

  @Override
  void primitiveArray(long position, long id, int type, int count) {
    add(id);
  }

  private void add(long id) {
    if (!addresses.add(id)) {
      unsuitable = true;
    }
  }
}
