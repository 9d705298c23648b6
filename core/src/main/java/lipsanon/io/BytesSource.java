package lipsanon.io;

/** Bytes in memory. */
public final class BytesSource implements ByteSource {
  private final String name;
  private final byte[] bytes;

  /** The array is not copied: it must not change from now on. */
  public BytesSource(String name, byte[] bytes) {
    this.name = name;
    this.bytes = bytes;
  }

  @Override
  public String name() {
    return name;
  }

  @Override
  public long size() {
    return bytes.length;
  }

  @Override
  public int read(long position, byte[] target, int offset, int length) {
    if (position < 0 || position >= bytes.length) {
      return 0;
    }
    int got = (int) Math.min(length, bytes.length - position);
    System.arraycopy(bytes, (int) position, target, offset, got);
    return got;
  }

  @Override
  public void close() {
    // nothing to give back
  }
}
