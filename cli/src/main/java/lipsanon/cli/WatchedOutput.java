package lipsanon.cli;

import java.io.BufferedOutputStream;
import java.io.FilterOutputStream;
import java.io.IOException;
import java.io.OutputStream;

/** An output that remembers the first error, which a {@link java.io.PrintWriter} would swallow. */
final class WatchedOutput extends FilterOutputStream {
  private IOException failure;

  WatchedOutput(OutputStream out) {
    super(new BufferedOutputStream(out, 1 << 14));
  }

  /** The first error, or null. */
  IOException failure() {
    return failure;
  }

  /** Whether it was the reader who wanted no more: {@code | head} is no fault. */
  boolean closedByReader() {
    String message = failure == null ? "" : String.valueOf(failure.getMessage());
    return message.contains("Broken pipe");
  }

  @Override
  public void write(int b) throws IOException {
    try {
      out.write(b);
    } catch (IOException e) {
      throw noted(e);
    }
  }

  @Override
  public void write(byte[] bytes, int offset, int length) throws IOException {
    try {
      out.write(bytes, offset, length);
    } catch (IOException e) {
      throw noted(e);
    }
  }

  @Override
  public void flush() throws IOException {
    try {
      out.flush();
    } catch (IOException e) {
      throw noted(e);
    }
  }

  private IOException noted(IOException e) {
    failure = failure == null ? e : failure;
    return e;
  }
}
