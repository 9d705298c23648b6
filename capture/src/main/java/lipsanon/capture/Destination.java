package lipsanon.capture;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.file.AtomicMoveNotSupportedException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * Where a snapshot goes: written under another name, made readable by its owner only, and renamed
 * once it is whole. Whatever happens, nothing half-written stays.
 */
public final class Destination {
  /** The name of an unfinished capture, with the process that makes it. */
  private static final Pattern PART = Pattern.compile("\\..*\\.([0-9]{1,9})\\.part(\\.hprof)?");

  private final Path file;
  private final boolean force;

  private Destination(Path file, boolean force) {
    this.file = file;
    this.force = force;
  }

  /**
   * Checks a place.
   *
   * @throws CaptureException if something is there already, or nothing can be written there
   */
  public static Destination of(CaptureOptions options) throws CaptureException {
    Path file = options.file().toAbsolutePath();
    if (Files.exists(file, LinkOption.NOFOLLOW_LINKS)) {
      if (!Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
        throw new PlaceException(
            file
                + " is "
                + (Files.isSymbolicLink(file)
                    ? "a link"
                    : Files.isDirectory(file) ? "a folder" : "a device or a pipe")
                + ", which is never replaced; give the name of a file");
      }
      if (!options.force()) {
        throw new PlaceException(file + " is there already; give another name or --force");
      }
    }
    Path parent = file.getParent();
    if (!Files.isDirectory(parent) || !Files.isWritable(parent)) {
      throw new PlaceException(parent + " is no folder that can be written to");
    }
    sweep(parent);
    return new Destination(file, options.force());
  }

  /** Removes what captures left in a folder that were killed: their processes are gone. */
  private static void sweep(Path folder) {
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file : (Iterable<Path>) files::iterator) {
        Matcher part = PART.matcher(file.getFileName().toString());
        if (part.matches()
            && Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)
            && ProcessHandle.of(Long.parseLong(part.group(1))).isEmpty()) {
          Files.deleteIfExists(file);
        }
      }
    } catch (IOException e) {
      // what cannot be removed is in nobody's way
      return;
    }
  }

  /** The file, absolute. */
  public Path file() {
    return file;
  }

  /** Refuses if fewer bytes than that are free. */
  public void needRoom(long wanted) throws CaptureException {
    long free;
    try {
      free = Files.getFileStore(file.getParent()).getUsableSpace();
    } catch (IOException e) {
      throw new CaptureException("the free space of " + file.getParent() + " cannot be told", e);
    }
    if (free < wanted) {
      throw new CaptureException(
          "the disk of "
              + file
              + " has "
              + (free >> 20)
              + " MB free, and the snapshot may take "
              + (wanted >> 20)
              + " MB; choose another place with -o");
    }
  }

  /** A name beside the file for what is not finished yet. */
  public Path partName() {
    return file.resolveSibling(
        "." + file.getFileName() + "." + ProcessHandle.current().pid() + ".part");
  }

  /** A new file that its owner only can read, where the file system knows modes. */
  public static FileChannel create(Path path) throws IOException {
    Set<StandardOpenOption> options =
        Set.of(StandardOpenOption.CREATE_NEW, StandardOpenOption.WRITE);
    if (path.getFileSystem().supportedFileAttributeViews().contains("posix")) {
      return FileChannel.open(
          path,
          options,
          PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
    }
    return FileChannel.open(path, options);
  }

  /** What is being written; closing it removes what was not finished. */
  public Part part(Path temporary) {
    return new Part(temporary);
  }

  /** An unfinished file. */
  public final class Part implements AutoCloseable {
    private final Path temporary;
    private final Thread hook;

    private Part(Path temporary) {
      this.temporary = temporary;
      this.hook = new Thread(() -> temporary.toFile().delete());
      Runtime.getRuntime().addShutdownHook(hook);
    }

    /** It is whole: gives it its name. */
    public void finish() throws IOException {
      restrict(temporary);
      if (Files.exists(file, LinkOption.NOFOLLOW_LINKS) && !force) {
        throw new CaptureException(file + " appeared meanwhile; give another name or --force");
      }
      try {
        Files.move(temporary, file, StandardCopyOption.ATOMIC_MOVE);
      } catch (AtomicMoveNotSupportedException e) {
        // another file system: copy beside, then rename
        Path beside = partName();
        try {
          Files.copy(temporary, beside, StandardCopyOption.REPLACE_EXISTING);
          restrict(beside);
          Files.move(beside, file, StandardCopyOption.ATOMIC_MOVE);
        } finally {
          Files.deleteIfExists(beside);
        }
      }
    }

    @Override
    public void close() {
      try {
        Files.deleteIfExists(temporary);
      } catch (IOException e) {
        // nothing that could still be done
      }
      try {
        Runtime.getRuntime().removeShutdownHook(hook);
      } catch (IllegalStateException e) {
        // the process is going down, and the hook does its work
      }
    }
  }

  private static void restrict(Path file) throws IOException {
    try {
      Files.setPosixFilePermissions(file, PosixFilePermissions.fromString("rw-------"));
    } catch (UnsupportedOperationException e) {
      // a file system without modes has nothing to restrict
    }
  }
}
