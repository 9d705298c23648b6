package lipsanon.cli;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.Arrays;
import java.util.BitSet;
import lipsanon.array.Space;
import lipsanon.format.elfcore.ElfCoreReader;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;

/**
 * A core dump without the pages that its reader does not look at (but for those that it searches
 * through): small enough to be damaged and read many times.
 */
final class SlimDump {
  private static final int HEADER = 64;
  private static final int SEGMENT = 56;
  private static final int BLOCK = 1 << 16;

  private SlimDump() {}

  /** Bytes in memory as a file. */
  record Bytes(byte[] bytes, int length) implements ByteSource {
    @Override
    public String name() {
      return "slim.core";
    }

    @Override
    public long size() {
      return length;
    }

    @Override
    public int read(long position, byte[] target, int offset, int wanted) {
      int got = (int) Math.max(0, Math.min(wanted, length - position));
      if (got > 0) {
        System.arraycopy(bytes, (int) position, target, offset, got);
      }
      return got;
    }

    @Override
    public void close() {}
  }

  static byte[] of(byte[] whole) throws Exception {
    BitSet read = new BitSet();
    boolean[] notes = {true};
    ByteSource watched =
        new ByteSource() {
          private final Bytes all = new Bytes(whole, whole.length);

          @Override
          public String name() {
            return "whole.core";
          }

          @Override
          public long size() {
            return whole.length;
          }

          @Override
          public int read(long position, byte[] target, int offset, int length) throws IOException {
            if (notes[0]) {
              read.set((int) (position / BLOCK), (int) ((position + length + BLOCK - 1) / BLOCK));
            }
            return all.read(position, target, offset, length);
          }

          @Override
          public void close() {}
        };
    Progress progress =
        new Progress() {
          @Override
          public void phase(String what, long total) {
            notes[0] = !what.equals("finding all types");
          }

          @Override
          public void at(long done) {}
        };
    ElfCoreReader.read(watched, Space.heap(), progress);
    return keep(whole, read);
  }

  /** Writes each segment's blocks that were read as segments of their own. */
  private static byte[] keep(byte[] whole, BitSet read) {
    ByteBuffer in = ByteBuffer.wrap(whole).order(ByteOrder.LITTLE_ENDIAN);
    int count = in.getShort(56) & 0xffff;
    int table = (int) in.getLong(32);
    ByteBuffer out = ByteBuffer.allocate(whole.length + (1 << 20)).order(ByteOrder.LITTLE_ENDIAN);
    ByteBuffer heads = ByteBuffer.allocate(1 << 20).order(ByteOrder.LITTLE_ENDIAN);
    int body = 1 << 19;
    int kept = 0;
    for (int i = 0; i < count; i++) {
      int at = table + i * SEGMENT;
      long place = in.getLong(at + 8);
      long size = in.getLong(at + 32);
      boolean load = in.getInt(at) == 1;
      for (long from = place; from < place + size; ) {
        long to = load ? Math.min(place + size, from / BLOCK * BLOCK + BLOCK) : place + size;
        if (!load || read.get((int) (from / BLOCK))) {
          byte[] head = Arrays.copyOfRange(whole, at, at + SEGMENT);
          ByteBuffer one = ByteBuffer.wrap(head).order(ByteOrder.LITTLE_ENDIAN);
          one.putLong(8, body);
          one.putLong(16, in.getLong(at + 16) + (from - place));
          one.putLong(32, to - from);
          one.putLong(40, to - from);
          heads.put(head);
          out.put(body, whole, (int) from, (int) (to - from));
          body += (int) (to - from);
          kept++;
        }
        from = to;
      }
    }
    out.put(0, whole, 0, HEADER);
    out.putLong(32, HEADER);
    out.putShort(56, (short) kept);
    out.put(HEADER, heads.array(), 0, heads.position());
    return Arrays.copyOf(out.array(), body);
  }
}
