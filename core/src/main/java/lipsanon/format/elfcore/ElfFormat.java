package lipsanon.format.elfcore;

/**
 * The open ELF format, 64 bits, little-endian, as core dumps use it.
 *
 * <pre>
 * File    --> Header, Segment* at PHOFF, the bytes of the segments
 * Header  --> 0x7f "ELF", class u1 (2), data u1 (1), ..., type u2 (4 = core), machine u2 (62 = x86-64)
 * Segment --> type u4 (1 = load, 2 = dynamic, 4 = notes), flags u4, offset u8, address u8, u8,
 *             bytes in the file u8, bytes in memory u8, alignment u8
 * Notes   --> (name length u4, data length u4, kind u4, name, data; each to a multiple of 4)*
 * </pre>
 *
 * A count of segments of 0xffff means that the first section's header holds it.
 */
final class ElfFormat {
  static final int MAGIC = 0x464c457f;
  static final int HEADER_BYTES = 64;
  static final int CLASS_OFFSET = 4;
  static final int CLASS_64 = 2;
  static final int DATA_OFFSET = CLASS_OFFSET + 1;
  static final int DATA_LITTLE = 1;
  static final int TYPE_OFFSET = 16;
  static final int TYPE_CORE = 4;
  static final int MACHINE_OFFSET = TYPE_OFFSET + Short.BYTES;
  static final int MACHINE_X86_64 = 62;
  static final int PHOFF_OFFSET = 32;
  static final int SHOFF_OFFSET = PHOFF_OFFSET + Long.BYTES;
  static final int PHNUM_OFFSET = 56;
  static final int PHNUM_ELSEWHERE = 0xffff;
  static final int SECTION_INFO_OFFSET = 44;

  static final int SEGMENT_BYTES = 56;
  static final int SEGMENT_FLAGS_OFFSET = 4;
  static final int SEGMENT_PLACE_OFFSET = 8;
  static final int SEGMENT_ADDRESS_OFFSET = 16;
  static final int SEGMENT_FILE_BYTES_OFFSET = 32;
  static final int SEGMENT_MEMORY_BYTES_OFFSET = 40;
  static final int LOAD = 1;
  static final int DYNAMIC = 2;
  static final int NOTE = 4;
  static final int WRITABLE = 2;

  static final int NOTE_HEAD_BYTES = 12;
  static final int NT_PRSTATUS = 1;
  static final int NT_AUXV = 6;
  static final int NT_FILE = 0x46494c45;
  static final int NT_BUILD_ID = 3;
  static final int AT_PHDR = 3;

  /** In a note of a thread: its number, and its general registers. */
  static final int THREAD_ID_OFFSET = 32;

  static final int REGISTERS_OFFSET = 112;
  static final int REGISTERS = 27;
  static final int REGISTER_RSP = 19;

  private ElfFormat() {}

  /** Whether a file that begins so is a 64-bit little-endian ELF file of any kind. */
  static boolean matches(byte[] head) {
    return head.length >= 6
        && head[0] == 0x7f
        && head[1] == 'E'
        && head[2] == 'L'
        && head[3] == 'F';
  }
}
