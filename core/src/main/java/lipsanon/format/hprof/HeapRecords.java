package lipsanon.format.hprof;

import java.io.IOException;
import lipsanon.io.ByteSource;
import lipsanon.io.Chunk;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.Window;

/** Walks the sub-records of heap segments and tells what stands there. One thread. */
abstract class HeapRecords {
  final ByteSource source;
  final int idSize;

  /** Whether identifiers take eight bytes. */
  final boolean wide;

  /** At the records that are neither objects nor short arrays, and there only. */
  final Window window;

  /** At the objects. */
  final Chunk chunk;

  /** The size of the object that is not whole in the chunk, if that is known. */
  private long wanted;

  HeapRecords(ByteSource source, int idSize) {
    this.source = source;
    this.idSize = idSize;
    this.wide = idSize == 8;
    this.window = new Window(source);
    this.chunk = Chunk.of(source);
  }

  /** A root; serial and frame are -1 where the record has none. */
  abstract void root(int kind, long id, int threadSerial, int number) throws IOException;

  /** A class; the window stands behind the record's identifier and must be left at its end. */
  abstract void classDump(long position, long id) throws IOException;

  /** An instance; its {@code length} field bytes stand in the chunk from {@code at} on. */
  abstract void instance(long position, long id, long classId, int at, int length)
      throws IOException;

  /** An array whose elements stand in the chunk from {@code at} on. */
  abstract void objectArray(long position, long id, long classId, int at, int count)
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
    long end = Math.min(segment.end(), source.size());
    long at = segment.begin();
    try {
      while (at < end) {
        at = objects(at, end);
        if (at < end) {
          window.seek(at, segment.end());
          one(at);
          at = window.position();
        }
      }
    } catch (TruncatedInputException e) {
      if (cut) {
        return at;
      }
      throw new CorruptInputException(
          source.name(), at, "a record that runs past its heap segment", "one that ends inside it");
    }
    return cut ? at : -1;
  }

  /**
   * Takes objects, one after another: nearly all of a heap.
   *
   * @return where the first record stands that is something else, or not whole
   */
  private long objects(long position, long end) throws IOException {
    long at = position;
    while (at < end) {
      if (at < chunk.base() || at >= chunk.base() + chunk.limit()) {
        chunk.load(at, 0, end);
      }
      boolean fresh = at == chunk.base();
      wanted = 0;
      at = chunk.base() + inMemory(place(at), end);
      boolean other = at < chunk.base() + chunk.limit() && !isObject(chunk.byteAt(place(at)));
      if (other || wanted > Chunk.CAPACITY || fresh && at == chunk.base()) {
        break;
      }
      if (at < end) {
        // what follows may be whole in memory once it stands at the beginning
        chunk.load(at, 0, end);
      }
    }
    return at;
  }

  private int place(long position) {
    return (int) (position - chunk.base());
  }

  private static boolean isObject(int tag) {
    return tag == HprofFormat.INSTANCE
        || tag == HprofFormat.PRIMITIVE_ARRAY
        || tag == HprofFormat.OBJECT_ARRAY;
  }

  /**
   * Takes objects that stand wholly in memory.
   *
   * @return the place of the first record that is something else, or not whole
   */
  private int inMemory(int from, long end) throws IOException {
    final Chunk chunk = this.chunk;
    final long base = chunk.base();
    final int limit = (int) Math.min(chunk.limit(), end - base);
    final int idSize = this.idSize;
    final boolean wide = this.wide;
    final int header = 9 + 2 * idSize;
    int at = from;
    while (limit - at >= header + 1) {
      // written out, so that the quick compiler puts the reading here: not two calls deep
      long id = wide ? chunk.longAt(at + 1) : chunk.intAt(at + 1) & 0xffffffffL;
      long next;
      int tag = chunk.byteAt(at);
      if (tag == HprofFormat.INSTANCE) {
        // four bytes are the lower half of eight
        int length = (int) chunk.longAt(at + 1 + 2 * idSize);
        next = (long) at + header + length;
        if (length < 0 || isBeyond(next, at, limit)) {
          break;
        }
        int place = at + 5 + idSize;
        long classId = wide ? chunk.longAt(place) : chunk.intAt(place) & 0xffffffffL;
        instance(base + at, id, classId, at + header, length);
      } else if (tag == HprofFormat.PRIMITIVE_ARRAY) {
        int count = (int) chunk.longAt(at + 1 + idSize);
        int type = chunk.byteAt(at + header - idSize);
        next = (long) at + header + 1 - idSize + ((long) count << HprofFormat.shift(type));
        if (count < 0
            || type < HprofFormat.BOOLEAN
            || type > HprofFormat.LONG
            || isBeyond(next, at, limit)) {
          break;
        }
        primitiveArray(base + at, id, type, count);
      } else if (tag == HprofFormat.OBJECT_ARRAY) {
        int count = (int) chunk.longAt(at + 1 + idSize);
        next = at + header + (long) count * idSize;
        if (count < 0 || isBeyond(next, at, limit)) {
          break;
        }
        objectArray(base + at, id, idAt(at + 9 + idSize), at + header, count);
      } else {
        break;
      }
      at = (int) next;
    }
    return at;
  }

  private boolean isBeyond(long next, int at, int limit) {
    if (next > limit) {
      wanted = next - at;
      return true;
    }
    return false;
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
        chunk.load(w.position(), length, w.end());
        if (chunk.limit() < length) {
          throw new TruncatedInputException(source.name(), w.end(), "the rest of a record");
        }
        instance(at, id, classId, 0, length);
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

  /** An identifier at a place of the chunk. */
  final long idAt(int place) {
    return wide ? chunk.longAt(place) : chunk.intAt(place) & 0xffffffffL;
  }
}
