package lipsanon.io;

import java.io.IOException;

/**
 * A piece of a {@link ByteSource} in memory, of which big-endian values are read by place: for
 * loops that go through a whole file. Places count from the beginning of the piece. One chunk
 * serves one thread.
 *
 * <p>There are two of them, since the two compilers of the VM are good at different things. Within
 * one run nearly always one of the two is loaded, so that the calls cost nothing.
 */
public abstract class Chunk {
  /** Bytes of a chunk, unless one record asks for more. */
  public static final int CAPACITY = 1 << 18;

  /** Where the optimising compiler is put to work: see {@code tools/launch.sh}. */
  private static final long LARGE = 1_000_000_000;

  final ByteSource source;
  private long base;
  private int limit;

  Chunk(ByteSource source) {
    this.source = source;
  }

  /** A chunk that suits the size of the source; empty. */
  public static Chunk of(ByteSource source) {
    return source.size() > LARGE ? new ByteChunk(source) : new WordChunk(source);
  }

  /**
   * Takes the bytes from a position on into memory: as many as there is room for, or {@code least}
   * if that is more.
   *
   * @param end nothing from there on is read
   */
  public void load(long position, int least, long end) throws IOException {
    long wanted = Math.max(0, Math.min(Math.max(CAPACITY, least), end - position));
    base = position;
    limit = 0;
    limit = read(position, (int) wanted);
  }

  /** Reads some bytes to the beginning of the memory; how many there were. */
  abstract int read(long position, int wanted) throws IOException;

  /** The position of the first byte. */
  public long base() {
    return base;
  }

  /** How many bytes are in memory. */
  public int limit() {
    return limit;
  }

  /** Eight bytes at a place; they must lie below the limit. */
  public abstract long longAt(int place);

  /** Four bytes at a place. */
  public abstract int intAt(int place);

  /** The byte at a place. */
  public abstract byte byteAt(int place);
}
