package lipsanon.index;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.channels.FileChannel;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;

/**
 * What tells a snapshot file from a changed or replaced one: size, time of change, and a hash of
 * its head, its tail and samples between them.
 *
 * @param size in bytes
 * @param modifiedMillis milliseconds since 1970
 * @param hash of the contents looked at
 */
public record Identity(long size, long modifiedMillis, byte[] hash) {
  private static final int PIECE = 4096;
  private static final int SAMPLES = 30;

  /** That of a file as it is now. */
  public static Identity of(Path file) throws IOException {
    try (FileChannel channel = FileChannel.open(file, StandardOpenOption.READ)) {
      long size = channel.size();
      MessageDigest digest = MessageDigest.getInstance("SHA-256");
      ByteBuffer buffer = ByteBuffer.allocate(PIECE);
      for (int i = 0; i <= SAMPLES + 1; i++) {
        long at = size <= PIECE ? 0 : (size - PIECE) / (SAMPLES + 1) * i;
        if (i == SAMPLES + 1) {
          at = Math.max(0, size - PIECE);
        }
        buffer.clear();
        channel.read(buffer, at);
        digest.update(buffer.flip());
      }
      return new Identity(size, Files.getLastModifiedTime(file).toMillis(), digest.digest());
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  /** Whether both are of the same contents. A copy or a touched file is the same snapshot. */
  public boolean sameContents(Identity other) {
    return size == other.size && Arrays.equals(hash, other.hash);
  }

  @Override
  public boolean equals(Object other) {
    return other instanceof Identity i && sameContents(i) && modifiedMillis == i.modifiedMillis;
  }

  @Override
  public int hashCode() {
    return Arrays.hashCode(hash);
  }
}
