package lipsanon.format.elfcore;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;
import lipsanon.io.UnsupportedInputException;

/**
 * A core dump's frame: its stretches of memory and its notes.
 *
 * @param memory by address
 * @param files files that were mapped, in the order of their addresses
 * @param threads registers by the number of the thread
 * @param auxiliary the words that the system gave the process, by their number
 * @param cutOff whether the file ends before its last segment does
 */
record CoreFile(
    CoreMemory memory,
    List<MappedFile> files,
    Map<Integer, long[]> threads,
    Map<Long, Long> auxiliary,
    boolean cutOff) {
  private static final int LARGEST_NOTES = 64 << 20;
  private static final int MOST_SEGMENTS = 1 << 20;

  /** A mapped part of a file. */
  record MappedFile(long start, long end, long offset, String name) {}

  /** Reads the frame of a dump. */
  static CoreFile read(ByteSource source) throws IOException {
    ByteBuffer head = at(source, 0, ElfFormat.HEADER_BYTES, "the header of an ELF file");
    if (head.get(ElfFormat.CLASS_OFFSET) != ElfFormat.CLASS_64
        || head.get(ElfFormat.DATA_OFFSET) != ElfFormat.DATA_LITTLE
        || head.getShort(ElfFormat.MACHINE_OFFSET) != ElfFormat.MACHINE_X86_64) {
      throw new UnsupportedInputException(
          source.name(),
          "is of another processor (ELF machine "
              + (head.getShort(ElfFormat.MACHINE_OFFSET) & 0xffff)
              + "): dumps of Linux on x86-64 can be read");
    }
    if (head.getShort(ElfFormat.TYPE_OFFSET) != ElfFormat.TYPE_CORE) {
      throw new UnsupportedInputException(
          source.name(), "is a program or library, not the dump of a process's memory");
    }
    int count = head.getShort(ElfFormat.PHNUM_OFFSET) & 0xffff;
    if (count == ElfFormat.PHNUM_ELSEWHERE) {
      long section = head.getLong(ElfFormat.SHOFF_OFFSET);
      count = at(source, section + ElfFormat.SECTION_INFO_OFFSET, 4, "a section's header").getInt();
    }
    if (count < 1 || count > MOST_SEGMENTS) {
      throw new CorruptInputException(
          source.name(), ElfFormat.PHNUM_OFFSET, count + " segments", "1 to " + MOST_SEGMENTS);
    }
    long table = head.getLong(ElfFormat.PHOFF_OFFSET);
    ByteBuffer segments =
        at(source, table, count * ElfFormat.SEGMENT_BYTES, "a table of " + count + " segments");
    return segments(source, segments, count);
  }

  private static CoreFile segments(ByteSource source, ByteBuffer table, int count)
      throws IOException {
    List<CoreMemory.Part> parts = new ArrayList<>();
    Notes notes = new Notes();
    boolean cutOff = false;
    for (int i = 0; i < count; i++) {
      int at = i * ElfFormat.SEGMENT_BYTES;
      int type = table.getInt(at);
      long place = table.getLong(at + ElfFormat.SEGMENT_PLACE_OFFSET);
      long address = table.getLong(at + ElfFormat.SEGMENT_ADDRESS_OFFSET);
      long bytes = table.getLong(at + ElfFormat.SEGMENT_FILE_BYTES_OFFSET);
      if (bytes == 0 || type != ElfFormat.LOAD && type != ElfFormat.NOTE) {
        continue;
      }
      if (place < 0 || bytes < 0 || place + bytes < 0 || address < 0 || address + bytes < 0) {
        // the kernel's own page of calls stands above all others
        continue;
      }
      cutOff |= place + bytes > source.size();
      long there = Math.min(bytes, source.size() - place);
      if (there <= 0) {
        continue;
      }
      if (type == ElfFormat.LOAD) {
        int flags = table.getInt(at + ElfFormat.SEGMENT_FLAGS_OFFSET);
        parts.add(new CoreMemory.Part(address, address + there, place, flags));
      } else if (there <= LARGEST_NOTES) {
        notes.read(at(source, place, (int) there, "the notes"));
      }
    }
    return new CoreFile(
        new CoreMemory(source, parts), notes.files, notes.threads, notes.auxiliary, cutOff);
  }

  private static ByteBuffer at(ByteSource source, long place, int length, String what)
      throws IOException {
    if (place < 0 || place + length > source.size()) {
      throw new TruncatedInputException(source.name(), source.size(), what);
    }
    byte[] bytes = new byte[length];
    if (source.read(place, bytes, 0, length) < length) {
      throw new TruncatedInputException(source.name(), place, what);
    }
    return ByteBuffer.wrap(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  private static final class Notes {
    private final List<MappedFile> files = new ArrayList<>();
    private final Map<Integer, long[]> threads = new HashMap<>();
    private final Map<Long, Long> auxiliary = new HashMap<>();

    void read(ByteBuffer in) {
      int at = 0;
      while (at + ElfFormat.NOTE_HEAD_BYTES <= in.limit()) {
        long name = in.getInt(at) + 3L & ~3L;
        long data = in.getInt(at + 4) & 0xffff_ffffL;
        long begin = at + ElfFormat.NOTE_HEAD_BYTES + name;
        if (name < 0 || begin + data > in.limit()) {
          return;
        }
        ByteBuffer one = in.slice((int) begin, (int) data).order(ByteOrder.LITTLE_ENDIAN);
        switch (in.getInt(at + 8)) {
          case ElfFormat.NT_PRSTATUS -> thread(one);
          case ElfFormat.NT_AUXV -> auxiliary(one);
          case ElfFormat.NT_FILE -> files(one);
          default -> {}
        }
        at = (int) Math.min(in.limit(), begin + (data + 3 & ~3L));
      }
    }

    private void thread(ByteBuffer in) {
      if (in.limit() < ElfFormat.REGISTERS_OFFSET + Long.BYTES * ElfFormat.REGISTERS) {
        return;
      }
      long[] registers = new long[ElfFormat.REGISTERS];
      for (int i = 0; i < registers.length; i++) {
        registers[i] = in.getLong(ElfFormat.REGISTERS_OFFSET + i * Long.BYTES);
      }
      threads.put(in.getInt(ElfFormat.THREAD_ID_OFFSET), registers);
    }

    private void auxiliary(ByteBuffer in) {
      for (int at = 0; at + 16 <= in.limit(); at += 16) {
        auxiliary.put(in.getLong(at), in.getLong(at + Long.BYTES));
      }
    }

    private void files(ByteBuffer in) {
      long count = in.limit() < 16 ? 0 : in.getLong(0);
      if (count < 0 || count > (in.limit() - 16) / 24) {
        return;
      }
      long page = in.getLong(8);
      int name = (int) (16 + 24 * count);
      for (int i = 0; i < count && name < in.limit(); i++) {
        int end = name;
        while (end < in.limit() && in.get(end) != 0) {
          end++;
        }
        byte[] text = new byte[end - name];
        in.get(name, text);
        int at = 16 + 24 * i;
        files.add(
            new MappedFile(
                in.getLong(at),
                in.getLong(at + 8),
                in.getLong(at + 16) * page,
                new String(text, StandardCharsets.UTF_8)));
        name = end + 1;
      }
    }
  }
}
