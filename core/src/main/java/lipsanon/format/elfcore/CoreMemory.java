package lipsanon.format.elfcore;

import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import lipsanon.io.ByteSource;
import lipsanon.io.CorruptInputException;
import lipsanon.io.TruncatedInputException;

/**
 * The memory of a process as its dump holds it, by address. What the dump does not hold is an error
 * in every reading call, never a read elsewhere; {@link #holds} asks before. Reads go through a
 * small cache of blocks. One thread.
 */
final class CoreMemory {
  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.LITTLE_ENDIAN);
  private static final VarHandle INT =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.LITTLE_ENDIAN);
  private static final int BLOCK_SHIFT = 16;
  private static final int BLOCK = 1 << BLOCK_SHIFT;

  /** 8 MB of blocks. */
  private static final int SLOTS = 128;

  private final ByteSource source;
  private final Part[] parts;
  private final long[] starts;
  private final List<Overlay> overlays;
  private int lastPart;

  /** Told each place that is read; null: nobody wants to know. */
  private Touched touched;

  private final byte[][] blocks = new byte[SLOTS][];
  private final long[] blockNumbers = new long[SLOTS];

  /**
   * A stretch of memory.
   *
   * @param start its first address
   * @param end behind its last one
   * @param place where it stands in the file
   * @param flags of its pages
   */
  record Part(long start, long end, long place, int flags) {
    boolean writable() {
      return (flags & ElfFormat.WRITABLE) != 0;
    }
  }

  /** Memory that the dump leaves out since it stands in a file: used where there is no part. */
  record Overlay(long start, byte[] bytes) {}

  /** The parts in any order. Where they overlap the first of them counts. */
  CoreMemory(ByteSource source, List<Part> all) {
    this.source = source;
    List<Part> sorted = new ArrayList<>();
    for (Part part : all.stream().sorted(Comparator.comparingLong(Part::start)).toList()) {
      long from = sorted.isEmpty() ? part.start() : sorted.get(sorted.size() - 1).end();
      if (part.start() >= from) {
        sorted.add(part);
      } else if (part.end() > from) {
        long skip = from - part.start();
        sorted.add(new Part(from, part.end(), part.place() + skip, part.flags()));
      }
    }
    this.parts = sorted.toArray(new Part[0]);
    this.starts = sorted.stream().mapToLong(Part::start).toArray();
    this.overlays = new ArrayList<>();
    Arrays.fill(blockNumbers, -1);
  }

  void tell(Touched all) {
    touched = all;
  }

  /** Takes back that some memory was looked at. */
  void forget(long address, long length) {
    for (long at = address; touched != null && at < address + length; ) {
      Part part = part(at);
      if (part == null) {
        return;
      }
      long some = Math.min(address + length, part.end) - at;
      touched.forget(part.place + (at - part.start), some);
      at += some;
    }
  }

  void overlay(Overlay more) {
    overlays.add(more);
  }

  ByteSource source() {
    return source;
  }

  /** All stretches, ascending. */
  List<Part> parts() {
    return List.of(parts);
  }

  private Part part(long address) {
    if (parts.length == 0) {
      return null;
    }
    Part last = parts[lastPart];
    if (address >= last.start && address < last.end) {
      return last;
    }
    int at = Arrays.binarySearch(starts, address);
    at = at < 0 ? -at - 2 : at;
    if (at < 0 || address >= parts[at].end) {
      return null;
    }
    lastPart = at;
    return parts[at];
  }

  /** Whether all of it is there. */
  boolean holds(long address, long length) {
    if (address < 0 || length < 0 || address + length < 0) {
      return false;
    }
    long at = address;
    while (at < address + length) {
      Part part = part(at);
      if (part != null) {
        at = part.end;
      } else {
        Overlay overlay = overlayAt(at);
        if (overlay == null) {
          return false;
        }
        // pages of the dump may lie within an overlay
        at = Math.min(overlay.start + overlay.bytes.length, (at | 0xfff) + 1);
      }
    }
    return true;
  }

  private Overlay overlayAt(long address) {
    for (Overlay overlay : overlays) {
      if (address >= overlay.start && address - overlay.start < overlay.bytes.length) {
        return overlay;
      }
    }
    return null;
  }

  /** Where an address stands in the file, or -1. */
  long place(long address) {
    Part part = part(address);
    return part == null ? -1 : part.place + (address - part.start);
  }

  CorruptInputException absent(long address) {
    return new CorruptInputException(
        source.name(),
        0,
        "a pointer to 0x" + Long.toHexString(address),
        "an address that the dump holds");
  }

  private byte[] block(long number) throws IOException {
    int slot = (int) (number & SLOTS - 1);
    if (blockNumbers[slot] != number) {
      if (blocks[slot] == null) {
        blocks[slot] = new byte[BLOCK];
      }
      blockNumbers[slot] = -1;
      int got = source.read(number << BLOCK_SHIFT, blocks[slot], 0, BLOCK);
      if (got < BLOCK) {
        Arrays.fill(blocks[slot], Math.max(0, got), BLOCK, (byte) 0);
      }
      blockNumbers[slot] = number;
    }
    return blocks[slot];
  }

  /** Eight bytes of what was read. */
  static long longAt(byte[] bytes, int at) {
    return (long) LONG.get(bytes, at);
  }

  long u8(long address) throws IOException {
    Part part = part(address);
    if (part != null && address + Long.BYTES <= part.end) {
      long place = part.place + (address - part.start);
      int at = (int) place & BLOCK - 1;
      if (at <= BLOCK - Long.BYTES) {
        if (touched != null) {
          touched.mark(place, Long.BYTES);
        }
        return (long) LONG.get(block(place >>> BLOCK_SHIFT), at);
      }
    }
    return (long) LONG.get(bytes(address, Long.BYTES), 0);
  }

  /** The same in a search through all memory: of what is passed over nobody is told. */
  long glance(long address) throws IOException {
    Touched told = touched;
    touched = null;
    try {
      return u8(address);
    } finally {
      touched = told;
    }
  }

  int i4(long address) throws IOException {
    Part part = part(address);
    if (part != null && address + Integer.BYTES <= part.end) {
      long place = part.place + (address - part.start);
      int at = (int) place & BLOCK - 1;
      if (at <= BLOCK - Integer.BYTES) {
        if (touched != null) {
          touched.mark(place, Integer.BYTES);
        }
        return (int) INT.get(block(place >>> BLOCK_SHIFT), at);
      }
    }
    return (int) INT.get(bytes(address, Integer.BYTES), 0);
  }

  long u4(long address) throws IOException {
    return i4(address) & 0xffff_ffffL;
  }

  int u2(long address) throws IOException {
    byte[] two = bytes(address, Short.BYTES);
    return two[0] & 0xff | (two[1] & 0xff) << Byte.SIZE;
  }

  int u1(long address) throws IOException {
    return bytes(address, 1)[0] & 0xff;
  }

  /** Some bytes; few, or checked before. */
  byte[] bytes(long address, int length) throws IOException {
    byte[] target = new byte[length];
    read(address, target, 0, length);
    return target;
  }

  /** Reads so many bytes. */
  void read(long address, byte[] target, int offset, int length) throws IOException {
    long at = address;
    int to = offset;
    int left = length;
    while (left > 0) {
      Part part = part(at);
      int some;
      if (part != null) {
        some = (int) Math.min(left, part.end - at);
        copy(part.place + (at - part.start), target, to, some);
      } else {
        Overlay overlay = overlayAt(at);
        if (overlay == null) {
          throw absent(at);
        }
        int from = (int) (at - overlay.start);
        int room = Math.min(overlay.bytes.length - from, (int) ((at | 0xfff) + 1 - at));
        some = Math.min(left, room);
        System.arraycopy(overlay.bytes, from, target, to, some);
      }
      at += some;
      to += some;
      left -= some;
    }
  }

  private void copy(long place, byte[] target, int offset, int length) throws IOException {
    if (touched != null) {
      touched.mark(place, length);
    }
    if (length > BLOCK) {
      int got = source.read(place, target, offset, length);
      if (got < length) {
        throw new TruncatedInputException(source.name(), place, length + " bytes of memory");
      }
      return;
    }
    long at = place;
    int to = offset;
    int left = length;
    while (left > 0) {
      byte[] block = block(at >>> BLOCK_SHIFT);
      int from = (int) at & BLOCK - 1;
      int some = Math.min(left, BLOCK - from);
      System.arraycopy(block, from, target, to, some);
      at += some;
      to += some;
      left -= some;
    }
  }

  /** A text of UTF-16 units that ends with a zero. */
  String text16(long address, int atMost) throws IOException {
    StringBuilder text = new StringBuilder();
    for (int i = 0; i < atMost && holds(address + 2L * i, Short.BYTES); i++) {
      int unit = u2(address + 2L * i);
      if (unit == 0) {
        break;
      }
      text.append((char) unit);
    }
    return text.toString();
  }
}
