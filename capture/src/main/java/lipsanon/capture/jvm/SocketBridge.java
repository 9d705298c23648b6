package lipsanon.capture.jvm;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;

/**
 * Makes the attach socket of a JVM in another mount namespace visible in our own /tmp, where the
 * JDK's attach mechanism looks for it: a link to the socket through the target's /proc entry, for
 * as long as attaching takes.
 */
final class SocketBridge implements AutoCloseable {
  private final Path link;

  private SocketBridge(Path link) {
    this.link = link;
  }

  /** A link if the target sees another /tmp than we do, else nothing. */
  static SocketBridge to(long pid) {
    Path theirs = Path.of("/proc/" + pid + "/root/tmp");
    Path ours = Path.of("/tmp");
    long inner = JvmTargets.innerPid(Path.of("/proc/" + pid), pid);
    try {
      // in another process namespace the JDK finds the way itself
      if (inner != pid || Files.isSameFile(theirs, ours)) {
        return new SocketBridge(null);
      }
      String name = ".java_pid" + pid;
      Path link = ours.resolve(name);
      Files.deleteIfExists(link);
      Files.createSymbolicLink(link, theirs.resolve(name));
      return new SocketBridge(link);
    } catch (IOException e) {
      // without the link attaching fails with a message of its own
      return new SocketBridge(null);
    }
  }

  @Override
  public void close() {
    if (link != null) {
      link.toFile().delete();
    }
  }
}
