package lipsanon.fleet;

import java.io.Serializable;
import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/**
 * A snapshot that is to be looked at.
 *
 * @param address a path, or an address that a cluster's file systems open
 * @param labels whence it is
 * @param bytes its size, or -1 if that is not known
 */
public record Item(String address, Labels labels, long bytes) implements Serializable {
  /** What tells this snapshot from all others: its address, its time and its size. */
  public String key() {
    try {
      String text = address + "\n" + labels.taken().toEpochMilli() + "\n" + bytes;
      byte[] digest =
          MessageDigest.getInstance("SHA-256").digest(text.getBytes(StandardCharsets.UTF_8));
      return HexFormat.of().formatHex(digest, 0, 16);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }
}
