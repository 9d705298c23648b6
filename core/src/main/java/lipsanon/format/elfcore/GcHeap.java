package lipsanon.format.elfcore;

import java.io.IOException;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import lipsanon.format.dotnet.HeapParts;
import lipsanon.io.CorruptInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * The collected heap of a dump: its segments or regions, and what the collector says of itself in
 * the variables that it keeps for tools ("GcDacVars").
 *
 * <pre>
 * Variables --> major u1, minor u1, 0 (6), generation bytes u8, generations u8, ...
 * </pre>
 *
 * In what follows a star means: the word is the address of the variable.
 */
final class GcHeap {
  static final int GENERATION_BYTES_OFFSET = 8;
  static final int GENERATIONS_OFFSET = 16;
  static final int TABLE_OFFSET = 48; // of generations; 0: several heaps
  static final int BACKGROUND_OFFSET = 72; // * state of a background collection
  static final int EPHEMERAL_OFFSET = 80; // * segment in which objects are made
  static final int ALLOCATED_OFFSET = 120; // * its end
  static final int FINALIZE_OFFSET = 144; // * queue of the finalizer
  static final int HEAP_COUNT_OFFSET = 176; // * number of heaps
  static final int HEAPS_OFFSET = 184; // * array of heaps
  static final int INVALID_OFFSET = 192; // * above 0: objects are being moved
  static final int HANDLES_OFFSET = 232; // map of the tables of handles
  static final int HEAP_FIELDS_OFFSET = 240; // * offsets in a heap
  static final int GENERATION_FIELDS_OFFSET = 248; // * offsets in a generation

  private static final int SEGMENT_COMMITTED = 8;
  private static final int SEGMENT_RESERVED = 16;
  private static final int SEGMENT_MEMORY = 32;
  private static final int SEGMENT_FLAGS = 40;
  private static final int SEGMENT_NEXT = 48;
  private static final int SEGMENT_BYTES = 56;
  private static final int FLAG_FROZEN = 1;
  private static final int BACKGROUND_NONE = 2;
  private static final int MOST_SEGMENTS = 1 << 20;
  private static final int MOST_HEAPS = 1024;

  private final CoreMemory memory;
  private final long variables;
  private final int place;
  private final List<Segment> segments = new ArrayList<>();
  private final List<long[]> contexts = new ArrayList<>();
  private final List<long[]> finalizing = new ArrayList<>();
  private boolean background;

  /**
   * A segment or region.
   *
   * @param generation 0 to 2, 3 large objects, 4 pinned, 5 frozen
   * @param start of its first object
   * @param end behind its last one
   * @param reserved its end as far as addresses are kept for it
   * @param youngOne in a heap of segments: where generation 1 begins in the youngest; else 0
   * @param youngZero the same of generation 0
   */
  record Segment(
      int generation, long start, long end, long reserved, long youngOne, long youngZero) {
    int generation(long address) {
      if (youngZero != 0 && Long.compareUnsigned(address, youngZero) >= 0) {
        return 0;
      }
      return youngOne != 0 && Long.compareUnsigned(address, youngOne) >= 0 ? 1 : generation;
    }
  }

  private GcHeap(CoreMemory memory, long variables, int place) {
    this.memory = memory;
    this.variables = variables;
    this.place = place;
  }

  /** Finds the collector's variables by the table of those that tools may read. */
  static GcHeap find(CoreMemory memory, long table) throws IOException {
    for (int i = 0; i < 64 && memory.holds(table + 8L * i, 8); i++) {
      long word = memory.u8(table + 8L * i);
      if (hasShape(memory, word)) {
        return new GcHeap(memory, word, i);
      }
      if (memory.holds(word, 8) && hasShape(memory, memory.u8(word))) {
        return new GcHeap(memory, memory.u8(word), i);
      }
    }
    return null;
  }

  private static boolean hasShape(CoreMemory memory, long at) throws IOException {
    if ((at & 7) != 0 || !memory.holds(at, GENERATION_FIELDS_OFFSET + 8)) {
      return false;
    }
    long version = memory.u8(at);
    long major = version & 0xff;
    long size = memory.u8(at + GENERATION_BYTES_OFFSET);
    return major >= 1
        && major <= 15
        && version >>> 16 == 0
        && size >= 64
        && size <= 4096
        && memory.u8(at + GENERATIONS_OFFSET) == 5;
  }

  private long word(int offset) throws IOException {
    return memory.u8(variables + offset);
  }

  private long variable(int offset) throws IOException {
    long at = word(offset);
    return at == 0 ? 0 : memory.u8(at);
  }

  /** Reads all. */
  void read() throws IOException {
    String name = memory.source().name();
    if ((memory.u8(variables) & 0xff) != 2) {
      throw new UnsupportedInputException(
          name,
          "is of a .NET version whose collector is not known here ("
              + (memory.u8(variables) & 0xff)
              + "): dumps of .NET 9 and 10 can be read");
    }
    long invalid = word(INVALID_OFFSET);
    if (invalid != 0 && memory.holds(invalid, 4) && memory.i4(invalid) > 0) {
      throw new UnsupportedInputException(
          name,
          "was taken in the middle of a collection, so that its objects cannot be told apart; take"
              + " it again (`lipsanon capture PID --dump` forces a collection first)");
    }
    background = (int) variable(BACKGROUND_OFFSET) != BACKGROUND_NONE;
    long generations = word(GENERATION_FIELDS_OFFSET);
    int context = memory.i4(generations);
    int start = memory.i4(generations + 4);
    int allocation = memory.i4(generations + 8);
    Set<Long> seen = new HashSet<>();
    if (word(TABLE_OFFSET) != 0) {
      long ephemeral = variable(EPHEMERAL_OFFSET);
      heap(
          word(TABLE_OFFSET),
          ephemeral,
          variable(ALLOCATED_OFFSET),
          new int[] {context, start, allocation},
          seen);
      queue(variable(FINALIZE_OFFSET));
      return;
    }
    long count = variable(HEAP_COUNT_OFFSET) & 0xffff_ffffL;
    if (count < 1 || count > MOST_HEAPS) {
      throw new CorruptInputException(name, 0, count + " heaps", "1 to " + MOST_HEAPS);
    }
    long array = variable(HEAPS_OFFSET);
    long fields = word(HEAP_FIELDS_OFFSET);
    for (int i = 0; i < count; i++) {
      long heap = memory.u8(array + 8L * i);
      heap(
          heap + memory.i4(fields + 4 * 18),
          memory.u8(heap + memory.i4(fields + 4)),
          memory.u8(heap + memory.i4(fields)),
          new int[] {context, start, allocation},
          seen);
      queue(memory.u8(heap + memory.i4(fields + 8)));
    }
  }

  private void heap(long table, long ephemeral, long allocated, int[] fields, Set<Long> seen)
      throws IOException {
    long size = word(GENERATION_BYTES_OFFSET);
    boolean regions = fields[2] < 0;
    long youngOne = regions ? 0 : memory.u8(table + size + fields[2]);
    long youngZero = regions ? 0 : memory.u8(table + fields[2]);
    for (int generation = 0; generation < 5; generation++) {
      long at = table + generation * size;
      context(at + fields[0]);
      for (long segment = memory.u8(at + fields[1]);
          segment != 0 && seen.add(segment) && seen.size() < MOST_SEGMENTS;
          segment = memory.u8(segment + SEGMENT_NEXT)) {
        if (!memory.holds(segment, SEGMENT_BYTES)) {
          throw memory.absent(segment);
        }
        long flags = memory.u8(segment + SEGMENT_FLAGS);
        long begin = memory.u8(segment + SEGMENT_MEMORY);
        boolean young = segment == ephemeral;
        long end = young ? allocated : memory.u8(segment);
        long reserved =
            Math.max(memory.u8(segment + SEGMENT_COMMITTED), memory.u8(segment + SEGMENT_RESERVED));
        boolean frozen = (flags & FLAG_FROZEN) != 0;
        boolean parted = !regions && young;
        segments.add(
            new Segment(
                frozen ? HeapParts.FROZEN : parted ? 2 : generation,
                begin,
                Math.max(begin, end),
                reserved,
                parted ? youngOne : 0,
                parted ? youngZero : 0));
      }
    }
  }

  /** Where the next object would go: between there and the limit stands none. */
  void context(long at) throws IOException {
    if (memory.holds(at, 16)) {
      long pointer = memory.u8(at);
      long limit = memory.u8(at + 8);
      if (pointer != 0 && Long.compareUnsigned(limit, pointer) >= 0) {
        contexts.add(new long[] {pointer, limit});
      }
    }
  }

  /** Seven pointers that part an array of objects: the last two parts are to be finalized. */
  private void queue(long at) throws IOException {
    if (at == 0 || !memory.holds(at, 64)) {
      return;
    }
    long from = memory.u8(at + 8 * 4);
    long to = memory.u8(at + 8 * 6);
    if (from < to && memory.holds(from, to - from)) {
      finalizing.add(new long[] {from, to});
    }
  }

  /** At which word of the table of what tools may read the collector's variables were found. */
  int place() {
    return place;
  }

  List<Segment> segments() {
    return segments;
  }

  List<long[]> contexts() {
    return contexts;
  }

  /** Stretches of words that refer to objects which wait for their finalizers. */
  List<long[]> finalizing() {
    return finalizing;
  }

  /** Whether a background collection runs: then dead objects may refer to nothing. */
  boolean background() {
    return background;
  }

  /** Where the map of the handles' tables is. */
  long handles() throws IOException {
    return word(HANDLES_OFFSET);
  }
}
