package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/**
 * The handles through which native code and the program itself hold objects.
 *
 * <pre>
 * Map     --> buckets u8, next map u8, count u4
 * Bucket  --> tables u8 (one for each heap or processor), index u4
 * Segment --> ..., at 600 masks of free handles u4 (240), at 1560 kinds of blocks u1 (120),
 *             at 1680 blocks of their second values u1 (120), ..., next u8, table u8 at 2000,
 *             at 4096 handles u8, 64 a block
 * </pre>
 */
final class RuntimeHandles {
  static final int STRONG = 2;
  static final int PINNED = 3;
  static final int COUNTED = 5;
  static final int DEPENDENT = 6;
  static final int ASYNC_PINNED = 7;
  static final int SIZED = 8;

  private static final int MASKS = 600;
  private static final int KINDS = 1560;
  private static final int DATA = 1680;
  private static final int[] BACK = {2000, 2006};
  private static final int[] FIRST_SEGMENT = {48, 56};
  private static final int HANDLES = 4096;
  private static final int BLOCKS = 120;
  private static final int BLOCK = 64;
  private static final int SEGMENT_BYTES = 1 << 16;
  private static final int MOST_SEGMENTS = 1 << 16;
  private static final int MOST_TABLES = 1 << 12;
  private static final int MOST_BUCKETS = 1 << 16;

  private RuntimeHandles() {}

  /**
   * A handle that holds something.
   *
   * @param kind as above
   * @param slot its address
   * @param object what it refers to
   * @param value for a dependent one: what the object keeps by it; else 0
   */
  record Handle(int kind, long slot, long object, long value) {}

  /** Reads all handles. */
  static List<Handle> read(CoreMemory memory, long map) throws IOException {
    List<Handle> handles = new ArrayList<>();
    Set<Long> seen = new HashSet<>();
    for (long at = map; at != 0 && memory.holds(at, 20) && seen.add(at); at = memory.u8(at + 8)) {
      long buckets = memory.u8(at);
      long count = memory.u4(at + 16);
      if (count > MOST_BUCKETS) {
        return handles;
      }
      for (int i = 0; i < count && memory.holds(buckets + 8L * i, 8); i++) {
        long bucket = memory.u8(buckets + 8L * i);
        if (bucket == 0 || !memory.holds(bucket, 8)) {
          continue;
        }
        long tables = memory.u8(bucket);
        // one for each processor: more than heaps, where the collector makes these as needed
        for (int h = 0; h < MOST_TABLES && memory.holds(tables + 8L * h, 8); h++) {
          if (!table(memory, memory.u8(tables + 8L * h), handles, seen)) {
            break;
          }
        }
      }
    }
    return handles;
  }

  /** Reads a table; false if it is none. */
  private static boolean table(CoreMemory memory, long table, List<Handle> handles, Set<Long> seen)
      throws IOException {
    boolean any = false;
    for (int first : FIRST_SEGMENT) {
      if (!memory.holds(table + first, 8)) {
        continue;
      }
      long segment = memory.u8(table + first);
      int back = back(memory, segment, table);
      while (back > 0 && seen.add(segment) && seen.size() < MOST_SEGMENTS) {
        segment(memory, segment, handles);
        any = true;
        segment = memory.u8(segment + back - 8);
        back = back(memory, segment, table);
      }
    }
    return any;
  }

  /** Where a segment says which table it belongs to; 0: it is none of this table. */
  private static int back(CoreMemory memory, long segment, long table) throws IOException {
    if (segment == 0 || (segment & SEGMENT_BYTES - 1) != 0 || !memory.holds(segment, HANDLES)) {
      return 0;
    }
    for (int back : BACK) {
      if (memory.u8(segment + back) == table) {
        return back;
      }
    }
    return 0;
  }

  private static void segment(CoreMemory memory, long segment, List<Handle> handles)
      throws IOException {
    for (int block = 0; block < BLOCKS; block++) {
      int kind = memory.u1(segment + KINDS + block);
      if (kind > SIZED || !memory.holds(at(segment, block, 0), 8L * BLOCK)) {
        continue;
      }
      for (int i = 0; i < BLOCK; i++) {
        int mask = memory.i4(segment + MASKS + 8L * block + 4 * (i / 32));
        long slot = at(segment, block, i);
        long object = (mask >>> i % 32 & 1) != 0 ? 0 : memory.u8(slot);
        if (object == 0) {
          continue;
        }
        long value = 0;
        if (kind == DEPENDENT) {
          int data = memory.u1(segment + DATA + block);
          value = data < BLOCKS ? memory.u8(at(segment, data, i)) : 0;
        }
        handles.add(new Handle(kind, slot, object, value));
      }
    }
  }

  private static long at(long segment, int block, int i) {
    return segment + HANDLES + 8L * (block * BLOCK + i);
  }
}
