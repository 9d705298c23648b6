package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.HexFormat;
import lipsanon.io.UnsupportedInputException;

/**
 * The runtime's own library (or the program that it is linked into) as it lies in the memory of a
 * dump: finds its symbols, and completes pages that the dump leaves out from the file that was
 * mapped, where that is still there and has the same build id.
 */
final class RuntimeImage {
  private static final String LIBRARY = "/libcoreclr.so";
  private static final int LARGEST_FILE = 256 << 20;
  private static final int PROGRAM_OFFSET = ElfFormat.PHOFF_OFFSET;
  private static final long DT_STRTAB = 5;
  private static final long DT_SYMTAB = 6;
  private static final long DT_RELA = 7;
  private static final long DT_RELASZ = 8;
  private static final long DT_GNU_HASH = 0x6ffffef5L;
  private static final int SYMBOL_BYTES = 24;
  private static final int RELOCATION_BYTES = 24;
  private static final int RELATIVE = 8;
  private static final int LONGEST_CHAIN = 1 << 16;

  private final CoreMemory memory;
  private final long base;

  private RuntimeImage(CoreMemory memory, long base) {
    this.memory = memory;
    this.base = base;
  }

  /** Finds it. */
  static RuntimeImage find(CoreFile core) throws IOException {
    String name = core.memory().source().name();
    CoreFile.MappedFile library = null;
    for (CoreFile.MappedFile file : core.files()) {
      if (file.name().contains("/ld-musl")) {
        throw new UnsupportedInputException(
            name, "is of a process on musl (Alpine): dumps of glibc's systems can be read");
      }
      if (file.name().endsWith(LIBRARY) && file.offset() == 0 && library == null) {
        library = file;
      }
    }
    Long headers = core.auxiliary().get((long) ElfFormat.AT_PHDR);
    long base =
        library != null ? library.start() : headers == null ? -1 : headers - ElfFormat.HEADER_BYTES;
    CoreMemory memory = core.memory();
    if (base < 0
        || !memory.holds(base, ElfFormat.HEADER_BYTES)
        || memory.i4(base) != ElfFormat.MAGIC) {
      throw notDotnet(name);
    }
    RuntimeImage image = new RuntimeImage(memory, base);
    CoreFile.MappedFile file = library == null ? program(core, base) : library;
    if (file != null) {
      image.complete(file.name());
    }
    return image;
  }

  private static UnsupportedInputException notDotnet(String name) {
    return new UnsupportedInputException(
        name,
        "is the dump of a process without a .NET runtime; of a JVM, `lipsanon capture` takes a heap"
            + " dump");
  }

  private static CoreFile.MappedFile program(CoreFile core, long base) {
    for (CoreFile.MappedFile file : core.files()) {
      if (file.start() == base) {
        return file;
      }
    }
    return null;
  }

  /** The address of a symbol, or 0. */
  long symbol(String name) throws IOException {
    long dynamic = dynamic(memory);
    if (dynamic == 0) {
      return 0;
    }
    long hash = entry(dynamic, DT_GNU_HASH);
    long symbols = entry(dynamic, DT_SYMTAB);
    long strings = entry(dynamic, DT_STRTAB);
    if (hash == 0 || symbols == 0 || strings == 0 || !memory.holds(hash, 16)) {
      return 0;
    }
    long buckets = memory.u4(hash);
    long first = memory.u4(hash + 4);
    long bloom = memory.u4(hash + 8);
    if (buckets == 0) {
      return 0;
    }
    byte[] wanted = name.getBytes(StandardCharsets.US_ASCII);
    int code = 5381;
    for (byte b : wanted) {
      code = code * 33 + b;
    }
    long bucketsAt = hash + 16 + bloom * Long.BYTES;
    long chainsAt = bucketsAt + buckets * Integer.BYTES;
    long index = memory.u4(bucketsAt + Integer.BYTES * ((code & 0xffff_ffffL) % buckets));
    for (int tries = 0; index >= first && tries < LONGEST_CHAIN; index++, tries++) {
      int chain = memory.i4(chainsAt + Integer.BYTES * (index - first));
      if ((chain | 1) == (code | 1)) {
        long at = symbols + index * SYMBOL_BYTES;
        long text = strings + memory.u4(at);
        if (memory.holds(text, wanted.length + 1)) {
          byte[] found = memory.bytes(text, wanted.length + 1);
          if (found[wanted.length] == 0
              && Arrays.equals(Arrays.copyOf(found, wanted.length), wanted)) {
            return base + memory.u8(at + 8);
          }
        }
      }
      if ((chain & 1) != 0) {
        return 0;
      }
    }
    return 0;
  }

  private long dynamic(CoreMemory from) throws IOException {
    long table = base + from.u8(base + PROGRAM_OFFSET);
    int count = from.u2(base + ElfFormat.PHNUM_OFFSET);
    for (int i = 0; i < count; i++) {
      long at = table + (long) i * ElfFormat.SEGMENT_BYTES;
      if (!from.holds(at, ElfFormat.SEGMENT_BYTES)) {
        return 0;
      }
      if (from.i4(at) == ElfFormat.DYNAMIC) {
        return base + from.u8(at + ElfFormat.SEGMENT_ADDRESS_OFFSET);
      }
    }
    return 0;
  }

  /** An entry of the dynamic section: an address, which the loader may have made absolute. */
  private long entry(long dynamic, long tag) throws IOException {
    for (int i = 0; i < 200 && memory.holds(dynamic + 16L * i, 16); i++) {
      long found = memory.u8(dynamic + 16L * i);
      if (found == 0) {
        return 0;
      }
      if (found == tag) {
        long value = memory.u8(dynamic + 16L * i + 8);
        return Long.compareUnsigned(value, base) < 0 ? base + value : value;
      }
    }
    return 0;
  }

  /** Lays the file's segments under the dump's pages. */
  private void complete(String file) throws IOException {
    byte[] bytes;
    try {
      Path path = Path.of(file);
      // a dump may name anything as a file
      if (!Files.isRegularFile(path, LinkOption.NOFOLLOW_LINKS)
          || Files.size(path) > LARGEST_FILE) {
        return;
      }
      bytes = Files.readAllBytes(path);
    } catch (IOException | RuntimeException e) {
      // without the file the dump must do
      return;
    }
    try {
      ByteBuffer in = ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
      if (in.getInt(0) == ElfFormat.MAGIC && sameBuild(in)) {
        overlay(in);
      }
    } catch (IndexOutOfBoundsException e) {
      // no whole ELF file
      return;
    }
  }

  private boolean sameBuild(ByteBuffer file) throws IOException {
    String there = "";
    int table = (int) file.getLong(PROGRAM_OFFSET);
    int count = file.getShort(ElfFormat.PHNUM_OFFSET);
    for (int i = 0; i < count; i++) {
      int at = table + i * ElfFormat.SEGMENT_BYTES;
      if (file.getInt(at) == ElfFormat.NOTE) {
        int place = (int) file.getLong(at + ElfFormat.SEGMENT_PLACE_OFFSET);
        int size = (int) file.getLong(at + ElfFormat.SEGMENT_FILE_BYTES_OFFSET);
        there += buildId(file.slice(place, size).order(ByteOrder.LITTLE_ENDIAN));
      }
    }
    String here = "";
    long headers = base + memory.u8(base + PROGRAM_OFFSET);
    for (int i = 0; i < memory.u2(base + ElfFormat.PHNUM_OFFSET); i++) {
      long at = headers + (long) i * ElfFormat.SEGMENT_BYTES;
      if (memory.holds(at, ElfFormat.SEGMENT_BYTES) && memory.i4(at) == ElfFormat.NOTE) {
        long address = base + memory.u8(at + ElfFormat.SEGMENT_ADDRESS_OFFSET);
        long size = memory.u8(at + ElfFormat.SEGMENT_MEMORY_BYTES_OFFSET);
        if (size > 0 && size < 4096 && memory.holds(address, size)) {
          byte[] note = memory.bytes(address, (int) size);
          here += buildId(ByteBuffer.wrap(note).order(ByteOrder.LITTLE_ENDIAN));
        }
      }
    }
    return !here.isEmpty() && here.equals(there);
  }

  private static String buildId(ByteBuffer notes) {
    int at = 0;
    while (at + ElfFormat.NOTE_HEAD_BYTES <= notes.limit()) {
      int name = notes.getInt(at) + 3 & ~3;
      int data = notes.getInt(at + 4);
      int begin = at + ElfFormat.NOTE_HEAD_BYTES + name;
      if (name < 0 || data < 0 || begin + data > notes.limit()) {
        return "";
      }
      if (notes.getInt(at + 8) == ElfFormat.NT_BUILD_ID) {
        byte[] id = new byte[data];
        notes.get(begin, id);
        return HexFormat.of().formatHex(id);
      }
      at = begin + (data + 3 & ~3);
    }
    return "";
  }

  private void overlay(ByteBuffer file) throws IOException {
    long size = 0;
    int table = (int) file.getLong(PROGRAM_OFFSET);
    int count = file.getShort(ElfFormat.PHNUM_OFFSET);
    for (int i = 0; i < count; i++) {
      int at = table + i * ElfFormat.SEGMENT_BYTES;
      if (file.getInt(at) == ElfFormat.LOAD) {
        long address = file.getLong(at + ElfFormat.SEGMENT_ADDRESS_OFFSET);
        size = Math.max(size, address + file.getLong(at + ElfFormat.SEGMENT_FILE_BYTES_OFFSET));
      }
    }
    if (size <= 0 || size > LARGEST_FILE) {
      return;
    }
    ByteBuffer laid = ByteBuffer.allocate((int) size).order(ByteOrder.LITTLE_ENDIAN);
    int dynamic = -1;
    for (int i = 0; i < count; i++) {
      int at = table + i * ElfFormat.SEGMENT_BYTES;
      int type = file.getInt(at);
      int address = (int) file.getLong(at + ElfFormat.SEGMENT_ADDRESS_OFFSET);
      if (type == ElfFormat.LOAD) {
        int place = (int) file.getLong(at + ElfFormat.SEGMENT_PLACE_OFFSET);
        int bytes = (int) file.getLong(at + ElfFormat.SEGMENT_FILE_BYTES_OFFSET);
        laid.put(address, file, place, bytes);
      } else if (type == ElfFormat.DYNAMIC) {
        dynamic = address;
      }
    }
    if (dynamic >= 0) {
      relocate(laid, dynamic);
    }
    memory.overlay(new CoreMemory.Overlay(base, laid.array()));
  }

  private void relocate(ByteBuffer laid, int dynamic) {
    long table = 0;
    long bytes = 0;
    for (int at = dynamic; at + 16 <= laid.limit() && laid.getLong(at) != 0; at += 16) {
      if (laid.getLong(at) == DT_RELA) {
        table = laid.getLong(at + 8);
      } else if (laid.getLong(at) == DT_RELASZ) {
        bytes = laid.getLong(at + 8);
      }
    }
    for (long at = table; at + RELOCATION_BYTES <= table + bytes; at += RELOCATION_BYTES) {
      if (at + RELOCATION_BYTES > laid.limit()) {
        return;
      }
      long target = laid.getLong((int) at);
      if (laid.getInt((int) at + 8) == RELATIVE && target >= 0 && target + 8 <= laid.limit()) {
        laid.putLong((int) target, base + laid.getLong((int) at + 16));
      }
    }
  }
}
