package lipsanon.format.elfcore;

import java.io.IOException;
import lipsanon.format.metadata.Metadata;

/**
 * An assembly's module as the runtime has loaded it.
 *
 * @param address of the runtime's own structure
 * @param path of its file, or ""
 * @param metadata its types and fields, or null where the dump does not hold them
 */
record RuntimeModule(long address, String path, Metadata metadata) {
  private static final int LARGEST_METADATA = 256 << 20;
  private static final int CLI_HEADER_BYTES = 72;
  private static final int PE_OFFSET = 0x3c;
  private static final int OPTIONAL_HEADER = 24;
  private static final int MAGIC_64 = 0x20b;
  private static final int CLI_DIRECTORY = 14;
  private static final int SECTION_BYTES = 40;
  private static final int MOST_SECTIONS = 96;

  /** Whether something that may be a module is one: it has metadata. */
  static RuntimeModule at(CoreMemory memory, RuntimeContract contract, long address)
      throws IOException {
    if ((address & 7) != 0 || !memory.holds(address, 1200)) {
      return null;
    }
    String path = "";
    int pathOffset = contract.offset("Module.Path", -1);
    if (pathOffset >= 0 && memory.holds(memory.u8(address + pathOffset), 2)) {
      path = memory.text16(memory.u8(address + pathOffset), 4096);
    }
    Metadata metadata = null;
    try {
      metadata = metadata(memory, contract, address);
    } catch (lipsanon.io.InputException e) {
      // what only looked like a module, or a dump that lacks its pages
      metadata = null;
    }
    return metadata == null ? null : new RuntimeModule(address, path, metadata);
  }

  private static Metadata metadata(CoreMemory memory, RuntimeContract contract, long address)
      throws IOException {
    String name = memory.source().name();
    int dynamicOffset = contract.offset("Module.DynamicMetadata", -1);
    if (dynamicOffset >= 0) {
      long dynamic = memory.u8(address + dynamicOffset);
      if (dynamic != 0 && memory.holds(dynamic, 16)) {
        long size = memory.u4(dynamic);
        if (size > 16 && size < LARGEST_METADATA && memory.holds(dynamic + 4, size)) {
          return named(
              memory, dynamic + 4, new Metadata(name, memory.bytes(dynamic + 4, (int) size)));
        }
      }
    }
    long base = memory.u8(address + contract.offset("Module.Base"));
    if (base == 0 || !memory.holds(base, 64)) {
      return null;
    }
    long pe = base + memory.u4(base + PE_OFFSET);
    if (!memory.holds(pe, 0x108)) {
      return null;
    }
    int directories = memory.u2(pe + OPTIONAL_HEADER) == MAGIC_64 ? 112 : 96;
    long entry = pe + OPTIONAL_HEADER + directories + 8 * CLI_DIRECTORY;
    long cli = memory.u4(entry);
    if (cli == 0) {
      return null;
    }
    // as the loader lays it out, or flat as the file is
    for (boolean flat : new boolean[] {false, true}) {
      long at = flat ? flat(memory, base, pe, cli) : base + cli;
      if (at > 0 && memory.holds(at, CLI_HEADER_BYTES) && memory.u4(at) == CLI_HEADER_BYTES) {
        long where = memory.u4(at + 8);
        long size = memory.u4(at + 12);
        long begin = flat ? flat(memory, base, pe, where) : base + where;
        if (begin > 0 && size > 16 && size < LARGEST_METADATA && memory.holds(begin, size)) {
          byte[] bytes = memory.bytes(begin, (int) size);
          if (bytes[0] == 'B' && bytes[1] == 'S' && bytes[2] == 'J' && bytes[3] == 'B') {
            return named(memory, begin, new Metadata(name, bytes));
          }
        }
      }
    }
    return null;
  }

  /** Names are what it is read for; its literals and constants of texts are not. */
  private static Metadata named(CoreMemory memory, long begin, Metadata metadata)
      throws IOException {
    for (int[] text : metadata.texts()) {
      memory.forget(begin + text[0], text[1]);
    }
    return metadata;
  }

  /** The address of what has a relative address, by the table of sections; 0: in none. */
  private static long flat(CoreMemory memory, long base, long pe, long relative)
      throws IOException {
    int count = Math.min(MOST_SECTIONS, memory.u2(pe + 6));
    long table = pe + OPTIONAL_HEADER + memory.u2(pe + 20);
    for (int i = 0; i < count; i++) {
      long at = table + (long) i * SECTION_BYTES;
      if (!memory.holds(at, SECTION_BYTES)) {
        return 0;
      }
      long bytes = Math.max(memory.u4(at + 8), memory.u4(at + 16));
      long begin = memory.u4(at + 12);
      if (relative >= begin && relative < begin + bytes) {
        return base + memory.u4(at + 20) + (relative - begin);
      }
    }
    return 0;
  }
}
