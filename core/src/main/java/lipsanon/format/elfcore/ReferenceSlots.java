package lipsanon.format.elfcore;

import java.io.IOException;

/** Goes through the places of an object that refer to others, as the collector would. */
final class ReferenceSlots {
  private ReferenceSlots() {}

  /** Hears places. */
  interface Sink {
    /**
     * One that is not null.
     *
     * @param offset from the object's begin
     * @param target the address it refers to
     * @return false: no more
     */
    boolean slot(long offset, long target) throws IOException;
  }

  /**
   * Tells all places of an object.
   *
   * @param bytes its size, not rounded
   * @return false if the sink wanted no more
   */
  static boolean each(CoreMemory memory, long address, RuntimeType type, long bytes, Sink sink)
      throws IOException {
    for (int i = 0; i < type.runStart.length; i++) {
      long from = type.runStart[i];
      long to = Math.min(bytes, from + type.runBytes[i] + bytes);
      for (long at = Math.max(8, from); at + 8 <= to; at += 8) {
        long target = memory.u8(address + at);
        if (target != 0 && !sink.slot(at, target)) {
          return false;
        }
      }
    }
    if (type.structCounts.length == 0) {
      return true;
    }
    long at = Math.max(8, type.structStart);
    long end = bytes - 8;
    while (at < end) {
      long before = at;
      for (int i = 0; i < type.structCounts.length && at < end; i++) {
        long to = at + 8L * Math.max(0, type.structCounts[i]);
        for (; at < to && at + 8 <= end; at += 8) {
          long target = memory.u8(address + at);
          if (target != 0 && !sink.slot(at, target)) {
            return false;
          }
        }
        at += Math.max(0, type.structSkips[i]);
      }
      if (at <= before) {
        return true;
      }
    }
    return true;
  }
}
