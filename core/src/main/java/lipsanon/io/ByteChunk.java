package lipsanon.io;

import java.io.IOException;

/** Bytes as they are: the optimising compiler makes one instruction of each value that is read. */
final class ByteChunk extends Chunk {
  private byte[] bytes = new byte[CAPACITY];

  ByteChunk(ByteSource source) {
    super(source);
  }

  @Override
  int read(long position, int wanted) throws IOException {
    if (wanted > bytes.length) {
      bytes = new byte[wanted];
    }
    return source.read(position, bytes, 0, wanted);
  }

  @Override
  public long longAt(int place) {
    return Window.longAt(bytes, place);
  }

  @Override
  public int intAt(int place) {
    return Window.intAt(bytes, place);
  }

  @Override
  public byte byteAt(int place) {
    return bytes[place];
  }
}
