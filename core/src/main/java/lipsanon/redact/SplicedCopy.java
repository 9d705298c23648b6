package lipsanon.redact;

import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;

/** Copies a source from front to back, leaving out parts and putting others in their place. */
public final class SplicedCopy implements Closeable {
  private static final int BUFFER = 1 << 18;

  private final ByteSource source;
  private final OutputStream out;
  private final Progress progress;
  private final byte[] buffer = new byte[BUFFER];
  private long position;

  /** Closes {@code out} in the end, which should be buffered. */
  public SplicedCopy(ByteSource source, OutputStream out, Progress progress) {
    this.source = source;
    this.out = out;
    this.progress = progress;
  }

  /** Copies what stands before a position. */
  public void copyTo(long until) throws IOException {
    while (position < until) {
      int wanted = (int) Math.min(BUFFER, until - position);
      int got = source.read(position, buffer, 0, wanted);
      if (got <= 0) {
        return;
      }
      out.write(buffer, 0, got);
      position += got;
      progress.at(position);
    }
  }

  /** Leaves out what stands before a position. */
  public void skipTo(long until) {
    position = Math.max(position, until);
  }

  /** Writes something of its own. */
  public void write(byte[] bytes) throws IOException {
    out.write(bytes);
  }

  /** Copies what is left. */
  public void finish() throws IOException {
    copyTo(source.size());
    out.flush();
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
