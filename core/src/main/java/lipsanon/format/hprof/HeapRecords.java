package lipsanon.format.hprof;

import java.io.IOException;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.Window;

/** Walks the sub-records of heap segments and tells what stands there. One thread. */
abstract class HeapRecords {
  final ByteSource source;
  final int idSize;
  final Window window;

  HeapRecords(ByteSource source, int idSize) {
    this.source = source;
    this.idSize = idSize;
    this.window = new Window(source);
  }

  /** A root; serial and frame are -1 where the record has none. */
  abstract void root(int kind, long id, int threadSerial, int number) throws IOException;

  /** A class; the window stands behind the record's identifier and must be left at its end. */
  abstract void classDump(long position, long id) throws IOException;

  /** An instance; its {@code length} field bytes stand in memory from {@code at} on. */
  abstract void instance(long position, long id, long classId, byte[] bytes, int at, int length)
      throws IOException;

  /** An array whose elements stand in memory from {@code at} on. */
  abstract void objectArray(long position, long id, long classId, byte[] bytes, int at, int count)
      throws IOException;

  /** An array; the window stands at its elements and must be left at their end. */
  abstract void largeArray(long position, long id, long classId, int count) throws IOException;

  /** An array of primitives. */
  abstract void primitiveArray(long position, long id, int type, int count) throws IOException;

  /**
   * Walks a segment.
   *
   * @return -1, or where the last whole record ends if the file is cut off in this segment
   */
  long walk(HprofFile.Segment segment) throws IOException {
    boolean cut = segment.end() > source.size();
    window.seek(segment.begin(), segment.end());
    long at = segment.begin();
    try {
      while (window.remaining() > 0) {
        window.goTo(inMemory(window.bytes(), window.begin(), window.limit()));
        at = window.position();
        if (window.remaining() > 0) {
          one(at);
        }
      }
    } catch (TruncatedInputException e) {
      if (cut) {
        return at;
      }
      throw new CorruptInputException(
          source.name(), at, "a record that runs past its heap segment", "one that ends inside it");
    }
    return cut ? window.position() : -1;
  }

  /**
   * Takes objects that stand wholly in memory, one after another, without a look at the window:
   * nearly all of a heap.
   *
   * @return where the first record stands that is something else, or not whole
   */
  private int inMemory(byte[] bytes, int from, int limit) throws IOException {
    final long base = window.position() - from;
    final int idSize = this.idSize;
    final int header = 9 + 2 * idSize;
    int at = from;
    while (limit - at >= header + 1) {
      long id = idAt(bytes, at + 1);
      long next;
      int tag = bytes[at];
      if (tag == HprofFormat.INSTANCE) {
        int length = Window.intAt(bytes, at + 5 + 2 * idSize);
        next = (long) at + header + length;
        if (length < 0 || next > limit) {
          break;
        }
        long classId = idAt(bytes, at + 5 + idSize);
        instance(base + at, id, classId, bytes, at + header, length);
      } else if (tag == HprofFormat.PRIMITIVE_ARRAY) {
        int count = Window.intAt(bytes, at + 5 + idSize);
        int type = bytes[at + header - idSize];
        next = (long) at + header + 1 - idSize + (long) count * HprofFormat.bytes(type, idSize);
        if (count < 0 || next > limit || type < HprofFormat.BOOLEAN || type > HprofFormat.LONG) {
          break;
        }
        primitiveArray(base + at, id, type, count);
      } else if (tag == HprofFormat.OBJECT_ARRAY) {
        int count = Window.intAt(bytes, at + 5 + idSize);
        next = at + header + (long) count * idSize;
        if (count < 0 || next > limit) {
          break;
        }
        long classId = idAt(bytes, at + 9 + idSize);
        objectArray(base + at, id, classId, bytes, at + header, count);
      } else {
        break;
      }
      at = (int) next;
    }
    return at;
  }

  /** Any record. */
  private void one(long at) throws IOException {
    final Window w = window;
    w.need(1);
    int tag = w.u1();
    switch (tag) {
      case HprofFormat.INSTANCE -> {
        w.need(8 + 2 * idSize);
        long id = id();
        w.i4();
        long classId = id();
        int length = w.i4();
        if (length < 0 || length > w.remaining()) {
          throw tooLong(at, length & 0xffffffffL);
        }
        w.need(length);
        instance(at, id, classId, w.bytes(), w.begin(), length);
        w.skip(length);
      }
      case HprofFormat.OBJECT_ARRAY -> {
        w.need(8 + 2 * idSize);
        long id = id();
        w.i4();
        int count = w.i4();
        long classId = id();
        if (count < 0 || (long) count * idSize > w.remaining()) {
          throw tooLong(at, (count & 0xffffffffL) * idSize);
        }
        largeArray(at, id, classId, count);
      }
      case HprofFormat.PRIMITIVE_ARRAY -> {
        w.need(9 + idSize);
        long id = id();
        w.i4();
        int count = w.i4();
        int type = w.u1();
        int bytes = HprofFormat.bytes(type, idSize);
        if (bytes == 0 || type == HprofFormat.OBJECT) {
          throw corrupt(at, "element type " + type, "a primitive type (4 to 11)");
        }
        if (count < 0 || (long) count * bytes > w.remaining()) {
          throw tooLong(at, (count & 0xffffffffL) * bytes);
        }
        primitiveArray(at, id, type, count);
        w.skip((long) count * bytes);
      }
      case HprofFormat.CLASS_DUMP -> {
        w.need(idSize);
        classDump(at, id());
      }
      case HprofFormat.ROOT_UNKNOWN, HprofFormat.ROOT_STICKY_CLASS, HprofFormat.ROOT_MONITOR -> {
        w.need(idSize);
        root(tag, id(), -1, -1);
      }
      case HprofFormat.ROOT_JNI_GLOBAL -> {
        w.need(2 * idSize);
        root(tag, id(), -1, -1);
        id();
      }
      case HprofFormat.ROOT_JNI_LOCAL,
          HprofFormat.ROOT_JAVA_FRAME,
          HprofFormat.ROOT_THREAD_OBJECT -> {
        w.need(8 + idSize);
        root(tag, id(), w.i4(), w.i4());
      }
      case HprofFormat.ROOT_NATIVE_STACK, HprofFormat.ROOT_THREAD_BLOCK -> {
        w.need(4 + idSize);
        root(tag, id(), w.i4(), -1);
      }
      default ->
          throw corrupt(
              at, "heap record tag 0x" + Integer.toHexString(tag), "one that the format knows");
    }
  }

  private IOException tooLong(long at, long bytes) throws IOException {
    // a record that reaches beyond a cut file is the usual last one of it
    if (window.end() == source.size()) {
      return new TruncatedInputException(source.name(), window.end(), "a record's contents");
    }
    return corrupt(at, "a record of " + bytes + " bytes", "at most " + window.remaining());
  }

  final CorruptInputException corrupt(long at, String found, String expected) {
    return new CorruptInputException(source.name(), at, found, expected);
  }

  final long id() {
    return idSize == 8 ? window.i8() : window.u4();
  }

  /** An identifier at a place. */
  final long idAt(byte[] bytes, int place) {
    return idSize == 8
        ? Window.longAt(bytes, place)
        : Integer.toUnsignedLong(Window.intAt(bytes, place));
  }
}
