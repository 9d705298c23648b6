package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import lipsanon.array.LongIntMap;
import lipsanon.io.InputException;
import lipsanon.io.Progress;

/**
 * Goes through all objects of a heap in the order of their addresses in each segment. Between what
 * a thread has been given for its objects and what it has made of it stands nothing; free blocks
 * are objects of a type of their own.
 */
final class HeapWalk {
  private static final int LEAST_OBJECT = 24;
  private static final int SURE = 3;

  /** From how many bytes on free blocks are told together. */
  static final long[] SIZES = {0, 1_000, 16_000, 256_000, 4_000_000};

  private final CoreMemory memory;
  private final RuntimeTypes types;
  private final long freeTable;
  private final long[] contextStarts;
  private final long[] contextEnds;
  private final LongIntMap numbers = new LongIntMap();
  private final List<RuntimeType> found = new ArrayList<>();
  private long lastTable = -1;
  private RuntimeType lastType;

  /** Bytes that could be no objects. */
  long gapBytes;

  /** Whether a segment's memory is not all in the dump. */
  boolean cut;

  /** Free blocks by segment, in the order of the segments: count, bytes, largest. */
  final long[][] free;

  /** Free blocks by size: count, bytes; see {@link #SIZES}. */
  final long[][] sizes = new long[SIZES.length][2];

  /** Objects of a segment that ends exactly where the collector says. */
  private final List<GcHeap.Segment> segments;

  /** Hears objects. */
  interface Visitor {
    /** One object; free blocks are not told. */
    void object(long address, RuntimeType type, long bytes, GcHeap.Segment segment)
        throws IOException;
  }

  HeapWalk(CoreMemory memory, RuntimeTypes types, long freeTable, GcHeap heap) {
    this.memory = memory;
    this.types = types;
    this.freeTable = freeTable;
    this.segments = heap.segments();
    this.free = new long[segments.size()][3];
    long[][] sorted =
        heap.contexts().stream()
            .sorted((a, b) -> Long.compareUnsigned(a[0], b[0]))
            .toArray(long[][]::new);
    contextStarts = Arrays.stream(sorted).mapToLong(one -> one[0]).toArray();
    contextEnds = Arrays.stream(sorted).mapToLong(one -> one[1]).toArray();
  }

  /** Bytes of an object, not rounded. */
  long bytes(long address, RuntimeType type) throws IOException {
    return type.componentBytes == 0
        ? type.baseBytes
        : type.baseBytes + type.componentBytes * memory.u4(address + 8);
  }

  private RuntimeType type(long address) throws IOException {
    long table = memory.u8(address) & ~7L;
    if (table != lastTable) {
      lastType = table == 0 ? null : known(table);
      lastTable = table;
    }
    return lastType;
  }

  /** Objects of two types often stand in turn: no boxes on this way. */
  private RuntimeType known(long table) throws IOException {
    int at = numbers.get(table);
    if (at >= 0) {
      return found.get(at);
    }
    RuntimeType type = types.at(table);
    if (type != null) {
      numbers.put(table, found.size());
      found.add(type);
    }
    return type;
  }

  void walk(Visitor visitor, Progress progress) throws IOException {
    gapBytes = 0;
    for (long[] size : sizes) {
      Arrays.fill(size, 0);
    }
    long done = 0;
    for (int i = 0; i < segments.size(); i++) {
      GcHeap.Segment segment = segments.get(i);
      Arrays.fill(free[i], 0);
      try {
        walk(segment, free[i], visitor, progress, done);
      } catch (InputException e) {
        // the memory of this segment breaks off
        cut = true;
      }
      done += segment.end() - segment.start();
      progress.at(done);
    }
  }

  private void walk(
      GcHeap.Segment segment, long[] gaps, Visitor visitor, Progress progress, long done)
      throws IOException {
    long end = segment.end();
    int context = firstContext(segment.start());
    long told = 0;
    for (long at = segment.start(); at + LEAST_OBJECT <= end; ) {
      while (context < contextStarts.length && contextStarts[context] < at) {
        context++;
      }
      if (context < contextStarts.length && contextStarts[context] == at) {
        at = contextEnds[context] + LEAST_OBJECT;
        continue;
      }
      RuntimeType type = type(at);
      long bytes = type == null ? 0 : bytes(at, type) + 7 & ~7L;
      if (type == null || bytes < LEAST_OBJECT || bytes > end - at) {
        long next = resume(at + 8, end);
        gapBytes += next - at;
        at = next;
        continue;
      }
      if (type.address == freeTable) {
        gaps[0]++;
        gaps[1] += bytes;
        gaps[2] = Math.max(gaps[2], bytes);
        int size = SIZES.length - 1;
        while (bytes < SIZES[size]) {
          size--;
        }
        sizes[size][0]++;
        sizes[size][1] += bytes;
      } else {
        visitor.object(at, type, bytes, segment);
      }
      at += bytes;
      if (at - told > 1 << 20) {
        told = at;
        progress.at(done + at - segment.start());
      }
    }
  }

  private int firstContext(long start) {
    int at = Arrays.binarySearch(contextStarts, start);
    return at < 0 ? -at - 1 : at;
  }

  /** Where several objects in a row look like objects again. */
  private long resume(long from, long end) throws IOException {
    for (long at = from; at + LEAST_OBJECT <= end; at += 8) {
      long next = at;
      int good = 0;
      while (good < SURE && next + LEAST_OBJECT <= end) {
        RuntimeType type = type(next);
        long bytes = type == null ? 0 : bytes(next, type) + 7 & ~7L;
        if (type == null || bytes < LEAST_OBJECT || bytes > end - next) {
          break;
        }
        next += bytes;
        good++;
      }
      if (good == SURE || good > 0 && next + LEAST_OBJECT > end) {
        return at;
      }
    }
    return end;
  }
}
