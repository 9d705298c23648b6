package lipsanon.io;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;

/** A plain file. */
public final class FileSource implements ByteSource {
  private final String name;
  private final FileChannel channel;
  private final long size;

  /** Opens a file for reading. */
  public FileSource(Path path) throws IOException {
    this.name = path.toString();
    this.channel = FileChannel.open(path, StandardOpenOption.READ);
    this.size = channel.size();
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public long size() {
    return size;
  }

  @Override
  public int read(long position, byte[] target, int offset, int length) throws IOException {
    return read(position, ByteBuffer.wrap(target, offset, length));
  }

  @Override
  public int read(long position, ByteBuffer target) throws IOException {
    int done = 0;
    while (target.hasRemaining()) {
      int got = channel.read(target, position + done);
      if (got < 0) {
        break;
      }
      done += got;
    }
    return done;
  }

  @Override
  public void close() throws IOException {
    channel.close();
  }
}
