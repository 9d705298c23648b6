package lipsanon.index;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFileAttributes;
import java.nio.file.attribute.PosixFilePermission;

/**
 * Tells whether a folder may hold an index: what it holds is believed, so nobody else must be able
 * to write there. A link is never followed.
 */
public final class TrustedFolder {
  private TrustedFolder() {}

  /**
   * Why a folder cannot be trusted.
   *
   * @return "" if it can, or does not exist yet
   */
  public static String distrust(Path folder) throws IOException {
    if (!Files.exists(folder, LinkOption.NOFOLLOW_LINKS)) {
      return "";
    }
    if (Files.isSymbolicLink(folder)) {
      return "is a link";
    }
    if (!Files.isDirectory(folder, LinkOption.NOFOLLOW_LINKS)) {
      return "is no folder";
    }
    if (!folder.getFileSystem().supportedFileAttributeViews().contains("unix")) {
      return "";
    }
    PosixFileAttributes attributes =
        Files.readAttributes(folder, PosixFileAttributes.class, LinkOption.NOFOLLOW_LINKS);
    if (!Files.getAttribute(folder, "unix:uid", LinkOption.NOFOLLOW_LINKS).equals(ownUser())) {
      return "belongs to another user (" + attributes.owner().getName() + ")";
    }
    if (attributes.permissions().contains(PosixFilePermission.GROUP_WRITE)
        || attributes.permissions().contains(PosixFilePermission.OTHERS_WRITE)) {
      return "can be written to by others";
    }
    return "";
  }

  /** The user that this process runs as; null where that cannot be told. */
  private static Object ownUser() throws IOException {
    Path self = Path.of("/proc/self");
    return Files.exists(self) ? Files.getAttribute(self, "unix:uid") : null;
  }
}
