package lipsanon.cli.settings;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.HexFormat;
import lipsanon.redact.SipHash;

/** The user's key for hidden contents: in a file that nobody else can read. */
final class HidingKey {
  private static final String NAME = "hiding-key";

  private HidingKey() {}

  static byte[] of(Path folder) throws IOException {
    Path file = folder.resolve(NAME);
    if (Files.isRegularFile(file)) {
      byte[] known = parsed(Files.readString(file).strip());
      if (known != null) {
        return known;
      }
    }
    byte[] key = new byte[SipHash.KEY_BYTES];
    new SecureRandom().nextBytes(key);
    Files.createDirectories(folder);
    Path temporary = Files.createTempFile(folder, ".key-", ".tmp");
    try {
      if (Files.getFileStore(folder).supportsFileAttributeView("posix")) {
        Files.setPosixFilePermissions(temporary, PosixFilePermissions.fromString("rw-------"));
      }
      Files.writeString(temporary, HexFormat.of().formatHex(key) + "\n");
      Files.move(temporary, file, StandardCopyOption.REPLACE_EXISTING);
    } finally {
      Files.deleteIfExists(temporary);
    }
    return key;
  }

  private static byte[] parsed(String text) {
    try {
      byte[] key = HexFormat.of().parseHex(text);
      return key.length == SipHash.KEY_BYTES ? key : null;
    } catch (IllegalArgumentException e) {
      return null;
    }
  }
}
