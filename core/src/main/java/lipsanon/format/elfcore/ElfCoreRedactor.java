package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.util.Arrays;
import java.util.function.Predicate;
import lipsanon.array.Space;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.redact.PathMask;
import lipsanon.redact.Pseudonyms;
import lipsanon.redact.TextTraces;

/**
 * Copies a .NET core dump without its contents. A dump is the memory of a whole process, so the
 * copy is made the other way round: it holds what reading the dump looks at (the runtime's own
 * structures, names, handles, references) and zeros in place of all else. Objects of the heap keep
 * their types, lengths and references; their texts and values are replaced. On stacks and in
 * registers only what refers to the heap stays; of the notes the registers, the mapped files
 * (without their folders) and the auxiliary vector.
 */
public final class ElfCoreRedactor {
  private static final int CHUNK = 1 << 20;
  private static final int LARGEST_NOTES = 64 << 20;
  private static final String RUNTIME_FOLDER = "/Microsoft.NETCore.App/";

  private final ByteSource source;
  private final Touched touched;
  private final FileChannel out;

  private ElfCoreRedactor(ByteSource source, Touched touched, FileChannel out) {
    this.source = source;
    this.touched = touched;
    this.out = out;
  }

  /**
   * Copies.
   *
   * @param target a file that is there and empty
   * @param flags names of fields whose booleans stay, since they say an object is done with
   */
  public static void copy(
      ByteSource source,
      Path target,
      Pseudonyms pseudonyms,
      Predicate<String> flags,
      Space space,
      Progress progress)
      throws Exception {
    Touched touched = new Touched(source.size());
    ElfCoreReader.LookedAt all = ElfCoreReader.lookAt(source, space, progress, touched);
    try (FileChannel out = FileChannel.open(target, StandardOpenOption.WRITE)) {
      ElfCoreRedactor redactor = new ElfCoreRedactor(source, touched, out);
      redactor.stacks(all.runtime());
      redactor.frame();
      progress.phase("copying", source.size());
      redactor.masked(progress);
      redactor.notes(all.runtime());
      all.runtime().memory.tell(null);
      progress.phase("copying objects", 0);
      HeapImages images = new HeapImages(all.runtime(), touched, pseudonyms, flags, redactor::put);
      all.walk()
          .walk((address, of, bytes, segment) -> images.object(address, of, bytes), Progress.NONE);
      images.flush();
    }
  }

  /** Notes the texts of the heap. */
  public static void collect(ByteSource source, TextTraces texts) throws Exception {
    DumpedRuntime runtime = DumpedRuntime.open(source);
    HeapWalk walk = new HeapWalk(runtime.memory, runtime.types, runtime.freeTable, runtime.heap);
    walk.walk(
        (address, of, bytes, segment) -> {
          boolean text = of.name.equals(HeapImages.STRING);
          if (text || of.name.equals("System.Byte[]") || of.name.equals("System.Char[]")) {
            long begin = text ? 12 : 16;
            long length = runtime.memory.u4(address + 8) * of.componentBytes;
            // as bytes: two for a character
            if (length >= 2L * TextTraces.SHORTEST && length <= CHUNK) {
              byte[] some = runtime.memory.bytes(address + begin, (int) length);
              texts.add(some, 0, some.length);
            }
          }
        },
        Progress.NONE);
  }

  /** The place of the first of some texts anywhere in the heap or on a stack of a copy, or -1. */
  public static long find(ByteSource source, TextTraces texts) throws Exception {
    DumpedRuntime runtime = DumpedRuntime.open(source);
    for (GcHeap.Segment segment : runtime.heap.segments()) {
      long found = find(runtime.memory, segment.start(), segment.end(), texts);
      if (found >= 0) {
        return found;
      }
    }
    for (RuntimeThreads.One thread : runtime.threads) {
      long found = find(runtime.memory, thread.stackFrom(), thread.stackTo(), texts);
      if (found >= 0) {
        return found;
      }
    }
    return -1;
  }

  private static long find(CoreMemory memory, long from, long to, TextTraces texts)
      throws IOException {
    byte[] some = new byte[CHUNK];
    for (long at = from; at < to; at += CHUNK / 2) {
      int length = (int) Math.min(CHUNK, to - at);
      if (memory.holds(at, length)) {
        memory.read(at, some, 0, length);
        int found = texts.find(some, 0, length);
        if (found >= 0) {
          return memory.place(at + found);
        }
      }
    }
    return -1;
  }

  /** Of stacks only words stay that refer to the heap. */
  private void stacks(DumpedRuntime runtime) throws IOException {
    for (RuntimeThreads.One thread : runtime.threads) {
      for (long at = thread.stackFrom(); at + 8 <= thread.stackTo(); at += 8) {
        if (!runtime.memory.holds(at, 8)) {
          at = (at | 0xfff) + 1 - 8;
        } else if (!inHeap(runtime, runtime.memory.u8(at))) {
          runtime.memory.forget(at, 8);
        }
      }
    }
  }

  private static boolean inHeap(DumpedRuntime runtime, long word) {
    for (GcHeap.Segment segment : runtime.heap.segments()) {
      if (Long.compareUnsigned(word, segment.start()) >= 0
          && Long.compareUnsigned(word, segment.end()) < 0) {
        return true;
      }
    }
    return false;
  }

  /** The headers of the file. */
  private void frame() throws IOException {
    ByteBuffer head = read(0, ElfFormat.HEADER_BYTES);
    touched.mark(0, ElfFormat.HEADER_BYTES);
    int count = head.getShort(ElfFormat.PHNUM_OFFSET) & 0xffff;
    if (count == ElfFormat.PHNUM_ELSEWHERE) {
      long section = head.getLong(ElfFormat.SHOFF_OFFSET);
      touched.mark(section, ElfFormat.SECTION_INFO_OFFSET + 20L);
      count = read(section + ElfFormat.SECTION_INFO_OFFSET, 4).getInt();
    }
    touched.mark(head.getLong(ElfFormat.PHOFF_OFFSET), (long) count * ElfFormat.SEGMENT_BYTES);
  }

  private ByteBuffer read(long place, int length) throws IOException {
    byte[] bytes = new byte[length];
    source.read(place, bytes, 0, length);
    return ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  private void masked(Progress progress) throws IOException {
    byte[] some = new byte[CHUNK];
    for (long at = 0; at < source.size(); at += CHUNK) {
      int got = source.read(at, some, 0, CHUNK);
      touched.mask(at, some, got);
      put(at, some, got);
      progress.at(at);
    }
  }

  private void put(long place, byte[] bytes, int length) throws IOException {
    ByteBuffer buffer = ByteBuffer.wrap(bytes, 0, length);
    for (long at = place; buffer.hasRemaining(); ) {
      at += out.write(buffer, at);
    }
  }

  /** Writes the notes, of which nothing was copied yet. */
  private void notes(DumpedRuntime runtime) throws IOException {
    ByteBuffer head = read(0, ElfFormat.HEADER_BYTES);
    long table = head.getLong(ElfFormat.PHOFF_OFFSET);
    int count = head.getShort(ElfFormat.PHNUM_OFFSET) & 0xffff;
    for (int i = 0; i < count && count != ElfFormat.PHNUM_ELSEWHERE; i++) {
      ByteBuffer segment =
          read(table + (long) i * ElfFormat.SEGMENT_BYTES, ElfFormat.SEGMENT_BYTES);
      long bytes = segment.getLong(ElfFormat.SEGMENT_FILE_BYTES_OFFSET);
      if (segment.getInt(0) == ElfFormat.NOTE && bytes > 0 && bytes <= LARGEST_NOTES) {
        long place = segment.getLong(ElfFormat.SEGMENT_PLACE_OFFSET);
        ByteBuffer notes = read(place, (int) bytes);
        note(runtime, notes);
        put(place, notes.array(), (int) bytes);
      }
    }
  }

  private void note(DumpedRuntime runtime, ByteBuffer in) {
    int at = 0;
    while (at + ElfFormat.NOTE_HEAD_BYTES <= in.limit()) {
      long name = in.getInt(at) + 3L & ~3L;
      long data = in.getInt(at + 4) & 0xffff_ffffL;
      long begin = at + ElfFormat.NOTE_HEAD_BYTES + name;
      if (name < 0 || begin + data > in.limit()) {
        clear(in, at, in.limit());
        return;
      }
      int from = (int) begin;
      int to = (int) (begin + data);
      switch (in.getInt(at + 8)) {
        case ElfFormat.NT_AUXV -> {}
        case ElfFormat.NT_FILE -> files(in, from, to);
        case ElfFormat.NT_PRSTATUS -> registers(runtime, in, from, to);
        default -> clear(in, from, to);
      }
      at = (int) Math.min(in.limit(), begin + (data + 3 & ~3L));
    }
  }

  private static void clear(ByteBuffer in, int from, int to) {
    Arrays.fill(in.array(), from, to, (byte) 0);
  }

  private static void registers(DumpedRuntime runtime, ByteBuffer in, int from, int to) {
    int first = from + ElfFormat.REGISTERS_OFFSET;
    for (int i = 0; i < ElfFormat.REGISTERS && first + 8 * i + 8 <= to; i++) {
      if (i != ElfFormat.REGISTER_RSP && !inHeap(runtime, in.getLong(first + 8 * i))) {
        in.putLong(first + 8 * i, 0);
      }
    }
  }

  /** Paths of mapped files: the runtime's own stay, of others the last part. */
  private static void files(ByteBuffer in, int from, int to) {
    long count = to - from < 16 ? 0 : in.getLong(from);
    if (count < 0 || count > (to - from - 16) / 24) {
      clear(in, from, to);
      return;
    }
    int at = from + 16 + (int) count * 24;
    while (at < to) {
      int end = at;
      while (end < to && in.get(end) != 0) {
        end++;
      }
      String path = new String(in.array(), at, end - at, StandardCharsets.ISO_8859_1);
      if (!path.contains(RUNTIME_FOLDER)) {
        byte[] masked = PathMask.of(path).getBytes(StandardCharsets.ISO_8859_1);
        System.arraycopy(masked, 0, in.array(), at, Math.min(masked.length, end - at));
      }
      at = end + 1;
    }
  }
}
