package lipsanon.io;

/** Bytes in memory as a source. */
public record Bytes(String name, byte[] all) implements ByteSource {
  @Override
  public long size() {
    return all.length;
  }

  @Override
  public int read(long position, byte[] target, int offset, int length) {
    int count = (int) Math.max(0, Math.min(length, all.length - position));
    System.arraycopy(all, (int) Math.min(position, all.length), target, offset, count);
    return count;
  }

  @Override
  public void close() {}
}
