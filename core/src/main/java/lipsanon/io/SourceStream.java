package lipsanon.io;

import java.io.IOException;
import java.io.InputStream;

/** A part of a {@link ByteSource} as a stream. Closing it leaves the source open. */
public final class SourceStream extends InputStream {
  private final ByteSource source;
  private final long end;
  private long position;

  /** From {@code begin} up to {@code end}, or to the end of the source if that is nearer. */
  public SourceStream(ByteSource source, long begin, long end) {
    this.source = source;
    this.position = begin;
    this.end = Math.min(end, source.size());
  }

  @Override
  public int read() throws IOException {
    byte[] one = new byte[1];
    return read(one, 0, 1) < 0 ? -1 : one[0] & 0xff;
  }

  @Override
  public int read(byte[] target, int offset, int length) throws IOException {
    if (length == 0) {
      return 0;
    }
    int wanted = (int) Math.min(length, end - position);
    int got = wanted <= 0 ? 0 : source.read(position, target, offset, wanted);
    position += got;
    return got == 0 ? -1 : got;
  }
}
