package lipsanon.io;

import java.io.IOException;
import java.lang.invoke.MethodHandles;
import java.lang.invoke.VarHandle;
import java.nio.ByteOrder;

/** Bytes as they are: the optimising compiler makes one instruction of each value that is read. */
final class ByteChunk extends Chunk {
  private static final VarHandle LONG =
      MethodHandles.byteArrayViewVarHandle(long[].class, ByteOrder.BIG_ENDIAN);
  private static final VarHandle INT =
      MethodHandles.byteArrayViewVarHandle(int[].class, ByteOrder.BIG_ENDIAN);

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
    return (long) LONG.get(bytes, place);
  }

  @Override
  public int intAt(int place) {
    return (int) INT.get(bytes, place);
  }

  @Override
  public byte byteAt(int place) {
    return bytes[place];
  }
}
