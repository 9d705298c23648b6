package lipsanon.cli.command.share;

import java.io.BufferedWriter;
import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.Writer;
import java.nio.channels.Channels;
import java.nio.channels.FileChannel;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.security.SecureRandom;
import java.util.HexFormat;
import java.util.Set;
import lipsanon.cli.UsageException;

/**
 * A file that a table goes to: readable by its owner only, written under a name that nobody can
 * foresee, and renamed once it is whole. Devices and pipes are written to, never replaced.
 */
final class ExportTarget implements AutoCloseable {
  private final Path target;
  private final Path temporary;
  private final Writer writer;

  private ExportTarget(Path target, Path temporary, Writer writer) {
    this.target = target;
    this.temporary = temporary;
    this.writer = writer;
  }

  /** Refuses what must not be replaced. */
  static void check(Path target, boolean force) {
    if (Files.isDirectory(target)) {
      throw new UsageException(target + " is a folder; give a file's name");
    }
    boolean there = Files.exists(target, LinkOption.NOFOLLOW_LINKS);
    if (there && Files.isSymbolicLink(target)) {
      throw new UsageException(target + " is a link, which is not replaced; give another name");
    }
    if (there && !force && Files.isRegularFile(target)) {
      throw new UsageException(target + " is there already; give another name or --force");
    }
  }

  static ExportTarget open(Path target) throws IOException {
    if (Files.exists(target) && !Files.isRegularFile(target)) {
      OutputStream out = Files.newOutputStream(target, StandardOpenOption.WRITE);
      return new ExportTarget(target, null, writer(out));
    }
    byte[] random = new byte[8];
    new SecureRandom().nextBytes(random);
    Path temporary =
        target.resolveSibling(
            "." + target.getFileName() + "." + HexFormat.of().formatHex(random) + ".part");
    Set<StandardOpenOption> fresh = Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
    boolean posix = target.getFileSystem().supportedFileAttributeViews().contains("posix");
    FileChannel channel =
        posix
            ? FileChannel.open(
                temporary,
                fresh,
                PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")))
            : FileChannel.open(temporary, fresh);
    return new ExportTarget(target, temporary, writer(Channels.newOutputStream(channel)));
  }

  private static Writer writer(OutputStream out) {
    return new BufferedWriter(new OutputStreamWriter(out, StandardCharsets.UTF_8), 1 << 16);
  }

  Writer writer() {
    return writer;
  }

  /** It is whole: gives it its name. */
  void finish() throws IOException {
    writer.close();
    if (temporary != null) {
      Files.move(temporary, target, StandardCopyOption.REPLACE_EXISTING);
    }
  }

  @Override
  public void close() throws IOException {
    try {
      writer.close();
    } finally {
      if (temporary != null) {
        Files.deleteIfExists(temporary);
      }
    }
  }
}
