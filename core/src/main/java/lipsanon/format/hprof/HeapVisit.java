package lipsanon.format.hprof;

import java.io.IOException;
import lipsanon.io.ByteSource;

/** A walk that passes over whatever its subclass does not look at. */
abstract class HeapVisit extends HeapRecords {
  private final ClassDumpReader classReader;

  HeapVisit(ByteSource source, int idSize) {
    super(source, idSize);
    classReader = new ClassDumpReader(source, window, idSize);
  }

  /** Walks all segments. */
  final void walkAll(HprofFile file) throws IOException {
    for (HprofFile.Segment segment : file.segments) {
      walk(segment);
    }
  }

  void classOf(ClassDumpReader.Raw raw) throws IOException {}

  @Override
  void root(int kind, long id, int threadSerial, int number) throws IOException {}

  @Override
  void classDump(long position, long id) throws IOException {
    classOf(classReader.read(position, id));
  }

  @Override
  void instance(long position, long id, long classId, int at, int length) throws IOException {}

  @Override
  void objectArray(long position, long id, long classId, int at, int count) throws IOException {}

  @Override
  void largeArray(long position, long id, long classId, int count) throws IOException {
    window.skip((long) count * idSize);
  }

  @Override
  void primitiveArray(long position, long id, int type, int count) throws IOException {}
}
