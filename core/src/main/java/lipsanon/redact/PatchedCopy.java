package lipsanon.redact;

import java.io.Closeable;
import java.io.IOException;
import java.io.OutputStream;
import java.util.Arrays;
import lipsanon.io.ByteSource;
import lipsanon.io.Progress;
import lipsanon.io.TruncatedInputException;

/**
 * Copies a source, changing bytes on the way; changes come in the order of their places, and {@link
 * #finish} in the end.
 */
public final class PatchedCopy implements Closeable {
  private static final int BUFFER = 1 << 20;

  private final ByteSource source;
  private final OutputStream out;
  private final Progress progress;
  private final byte[] buffer = new byte[BUFFER];
  private long base;
  private int limit;

  /** Closes {@code out} in the end. */
  public PatchedCopy(ByteSource source, OutputStream out, Progress progress) {
    this.source = source;
    this.out = out;
    this.progress = progress;
  }

  /** Changes bytes that are in memory. */
  public interface Change {
    /** From a place to another in the array. */
    void apply(byte[] bytes, int from, int to);
  }

  /** Puts other bytes in place of those at a position, which must not lie before the last one. */
  public void put(long position, byte[] bytes) throws IOException {
    int done = 0;
    while (done < bytes.length) {
      int at = reach(position + done);
      int some = Math.min(bytes.length - done, limit - at);
      System.arraycopy(bytes, done, buffer, at, some);
      done += some;
    }
  }

  /** Changes bytes piece by piece, each as long as may be. */
  public void pieces(long position, long length, Change change) throws IOException {
    for (long done = 0; done < length; ) {
      int at = reach(position + done);
      int some = (int) Math.min(length - done, limit - at);
      change.apply(buffer, at, at + some);
      done += some;
    }
  }

  /** Changes bytes as one: they are gathered where they lie in two pieces. */
  public void whole(long position, int length, Change change) throws IOException {
    if (length == 0) {
      return;
    }
    int at = reach(position);
    if (limit - at >= length) {
      change.apply(buffer, at, at + length);
      return;
    }
    byte[] all = new byte[length];
    int got = source.read(position, all, 0, length);
    change.apply(all, 0, got);
    put(position, got == length ? all : Arrays.copyOf(all, got));
  }

  private int reach(long position) throws IOException {
    while (position >= base + limit) {
      out.write(buffer, 0, limit);
      base += limit;
      limit = source.read(base, buffer, 0, BUFFER);
      progress.at(base);
      if (limit <= 0) {
        throw new TruncatedInputException(source.name(), base, "what is to be copied");
      }
    }
    return (int) (position - base);
  }

  /** Copies what is left. */
  public void finish() throws IOException {
    do {
      out.write(buffer, 0, limit);
      base += limit;
      limit = Math.max(0, source.read(base, buffer, 0, BUFFER));
      progress.at(base);
    } while (limit > 0);
    out.flush();
  }

  @Override
  public void close() throws IOException {
    out.close();
  }
}
