package lipsanon.io;

import java.io.IOException;
import java.nio.ByteBuffer;

/**
 * Bytes as big-endian words, all turned in one go when they are read. A value at any place is two
 * words, shifted: under the quick compiler a third of what a value of a byte array costs, which
 * takes three calls and is put together from single bytes at odd places.
 */
final class WordChunk extends Chunk {
  private ByteBuffer buffer = ByteBuffer.allocateDirect(CAPACITY);

  /** Two more than are read, so that a value may reach behind the last one. */
  private long[] words = new long[CAPACITY / Long.BYTES + 2];

  WordChunk(ByteSource source) {
    super(source);
  }

  @Override
  int read(long position, int wanted) throws IOException {
    if (wanted > buffer.capacity()) {
      int whole = Math.toIntExact((long) wanted + Long.BYTES - 1 & -Long.BYTES);
      // seldom, and to be counted with all else that is on the heap
      buffer = ByteBuffer.allocate(whole);
      words = new long[whole / Long.BYTES + 2];
    }
    buffer.clear().limit(wanted);
    int got = source.read(position, buffer);
    int count = (got + Long.BYTES - 1) / Long.BYTES;
    buffer.clear();
    buffer.asLongBuffer().get(words, 0, count);
    return got;
  }

  /**
   * A shift uses the lowest six bits of its count, and ~s is 63 - s in these. With 31 bytes of code
   * this is just small enough for the quick compiler to put it into a loop.
   */
  @Override
  public long longAt(int place) {
    final long[] all = words;
    final int i = place >>> 3;
    place <<= 3;
    return all[i] << place | all[i + 1] >>> 1 >>> ~place;
  }

  @Override
  public int intAt(int place) {
    return (int) (longAt(place) >>> 32);
  }

  @Override
  public byte byteAt(int place) {
    return (byte) (words[place >>> 3] << (place << 3) >>> 56);
  }
}
