package lipsanon.format.metadata;

import java.io.IOException;
import lipsanon.io.ByteSource;

/**
 * Finds the metadata in an assembly's file (ECMA-335, partition II.25; the format of executables
 * around it is "PE").
 *
 * <pre>
 * File    --> ..., at 0x3c: where Head stands u4, ...
 * Head    --> "PE\0\0", u2, sections u2, u4 × 3, size of Options u2, u2, Options, Section*
 * Options --> magic u2 (0x20b: 64 bits), ..., 15th directory: address u4 and size u4 of Cli
 * Section --> name 8 bytes, size u4, address u4, size in the file u4, place in the file u4, ...
 * Cli     --> 72 u4, u2, u2, address u4 and size u4 of the metadata, ...
 * </pre>
 */
public final class AssemblyFile {
  private static final int HEAD_PLACE = 0x3c;
  private static final int HEAD_BYTES = 24;
  private static final int SIGNATURE = 0x4550;
  private static final int MAGIC_64 = 0x20b;
  private static final int DIRECTORIES = 96;
  private static final int DIRECTORIES_64 = 112;
  private static final int CLI_DIRECTORY = 14;
  private static final int SECTION_BYTES = 40;
  private static final int MOST_SECTIONS = 96;
  private static final int CLI_BYTES = 72;
  private static final int LARGEST_METADATA = 64 << 20;

  private final ByteSource source;

  private AssemblyFile(ByteSource source) {
    this.source = source;
  }

  /**
   * Reads the metadata; null if the file is no assembly.
   *
   * @throws lipsanon.io.CorruptInputException if it is damaged
   */
  public static Metadata metadata(ByteSource source) throws IOException {
    return new AssemblyFile(source).metadata();
  }

  private Metadata metadata() throws IOException {
    long head = u4(HEAD_PLACE);
    if (source.size() < head + HEAD_BYTES || u4(head) != SIGNATURE) {
      return null;
    }
    long options = head + HEAD_BYTES;
    int directories = u2(options) == MAGIC_64 ? DIRECTORIES_64 : DIRECTORIES;
    long cli = place(head, u4(options + directories + 8 * CLI_DIRECTORY));
    if (cli < 0 || u4(cli) != CLI_BYTES) {
      return null;
    }
    long begin = place(head, u4(cli + 8));
    long size = u4(cli + 12);
    if (begin < 0 || size > LARGEST_METADATA || begin + size > source.size()) {
      return null;
    }
    byte[] bytes = new byte[(int) size];
    read(begin, bytes);
    return new Metadata(source.name(), bytes);
  }

  /** Where in the file something stands that has an address; -1: nowhere. */
  private long place(long head, long address) throws IOException {
    int count = Math.min(MOST_SECTIONS, u2(head + 6));
    long table = head + HEAD_BYTES + u2(head + 20);
    for (int i = 0; address != 0 && i < count; i++) {
      long at = table + (long) i * SECTION_BYTES;
      long begin = u4(at + 12);
      if (address >= begin && address < begin + u4(at + 16)) {
        return u4(at + 20) + address - begin;
      }
    }
    return -1;
  }

  private int u2(long at) throws IOException {
    byte[] two = new byte[2];
    read(at, two);
    return two[0] & 0xff | (two[1] & 0xff) << Byte.SIZE;
  }

  private long u4(long at) throws IOException {
    return u2(at) | (long) u2(at + 2) << Short.SIZE;
  }

  /** What stands beyond the end reads as zeros. */
  private void read(long at, byte[] into) throws IOException {
    for (int got = 0, some; got < into.length; got += some) {
      some = source.read(at + got, into, got, into.length - got);
      if (some <= 0) {
        return;
      }
    }
  }
}
