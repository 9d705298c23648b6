package lipsanon.index;

import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.file.Files;
import java.nio.file.LinkOption;
import java.nio.file.NoSuchFileException;
import java.nio.file.OpenOption;
import java.nio.file.Path;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import lipsanon.array.Space;
import lipsanon.io.Progress;

/**
 * The index folder of one snapshot: opens the index that is there, or has one built. A lock file
 * keeps two processes from building side by side; the second waits and then uses what the first one
 * built.
 */
public final class IndexStore {
  private static final String LOCK = "lock";

  /** What an index is made of, unfinished parts included: nothing else is ever deleted. */
  private static final Pattern OWN_FILE =
      Pattern.compile("[a-z]+(-[a-z]+)*-[0-9a-f]+\\.col|(meta|scratch|members)-[0-9a-f]+\\.tmp");

  private final Path snapshot;
  private final Path folder;
  private final ObjectReaders readers;

  /** For a snapshot file and the folder of its index, which need not exist yet. */
  public IndexStore(Path snapshot, Path folder, ObjectReaders readers) {
    this.snapshot = snapshot;
    this.folder = folder;
    this.readers = readers;
  }

  /** Reads a snapshot's file. */
  public interface Source {
    /** Reads all; called only if there is no index that fits. */
    SnapshotContent read(Space space, Progress progress) throws Exception;
  }

  /** The folder of the index. */
  public Path folder() {
    return folder;
  }

  /** The index if there is one and it fits the snapshot as it is now. */
  public Optional<Snapshot> open() throws IOException {
    if (!Files.exists(folder.resolve(Meta.NAME))) {
      return Optional.empty();
    }
    try {
      Meta meta = Meta.read(folder);
      Identity now = Identity.of(snapshot);
      // a new time may mean new contents, which samples of the file cannot tell
      if (!meta.identity().equals(now)) {
        return Optional.empty();
      }
      return Optional.of(new Snapshot(snapshot, folder, meta, readers));
    } catch (BrokenIndexException | NoSuchFileException | IndexOutOfBoundsException e) {
      return Optional.empty();
    }
  }

  /**
   * Opens the index, or builds it first.
   *
   * @param mapped whether working memory is to live in scratch files below the folder
   * @param spare what may be in memory all the same
   */
  public Snapshot openOrBuild(Source source, boolean mapped, Space.Spare spare, Progress progress)
      throws Exception {
    Optional<Snapshot> ready = open();
    if (ready.isPresent()) {
      return ready.get();
    }
    createFolder(folder);
    String distrust = TrustedFolder.distrust(folder);
    if (!distrust.isEmpty()) {
      throw new BrokenIndexException(
          folder + " " + distrust + ": it is not used; give another place with --index-dir");
    }
    try (FileChannel channel = lockFile()) {
      // closing the channel releases the lock
      lock(channel, progress);
      ready = open();
      if (ready.isPresent()) {
        return ready.get();
      }
      cleanUp();
      try {
        build(source, mapped, spare, progress);
      } catch (OutOfMemoryError e) {
        if (!mapped || spare.hotBytes() == 0) {
          throw e;
        }
        progress.phase(
            "more memory is needed than was thought: beginning again with less of it", 0);
        build(source, true, new Space.Spare(spare.bandInts(), 0), progress);
      }
    }
    return open()
        .orElseThrow(
            () -> new BrokenIndexException(snapshot + " changed while it was being indexed"));
  }

  /** Nobody else may hold the lock, nor learn from it. */
  private FileChannel lockFile() throws IOException {
    Set<OpenOption> options =
        Set.of(StandardOpenOption.CREATE, StandardOpenOption.WRITE, LinkOption.NOFOLLOW_LINKS);
    return folder.getFileSystem().supportedFileAttributeViews().contains("posix")
        ? FileChannel.open(
            folder.resolve(LOCK),
            options,
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")))
        : FileChannel.open(folder.resolve(LOCK), options);
  }

  /** Forgets an index that turned out to be damaged: it is built anew when it is opened next. */
  public static void forget(Path folder) throws IOException {
    if (TrustedFolder.distrust(folder).isEmpty()) {
      Files.deleteIfExists(folder.resolve(Meta.NAME));
    }
  }

  private void build(Source source, boolean mapped, Space.Spare spare, Progress progress)
      throws Exception {
    Files.deleteIfExists(folder.resolve(Meta.NAME));
    boolean whole = false;
    try (Space space = mapped ? Space.mapped(folder, spare) : Space.heap()) {
      Identity identity = Identity.of(snapshot);
      SnapshotContent content = source.read(space, progress);
      IndexBuilder.build(content, identity, space, folder, progress);
      whole = true;
    } finally {
      if (!whole) {
        cleanUp();
      }
    }
  }

  private static void lock(FileChannel channel, Progress progress)
      throws IOException, InterruptedException {
    boolean told = false;
    while (true) {
      try {
        FileLock lock = channel.tryLock();
        if (lock != null) {
          return;
        }
      } catch (OverlappingFileLockException e) {
        // another thread of this process builds it
      }
      if (!told) {
        progress.phase("waiting for another process that is indexing this snapshot", 0);
        told = true;
      }
      progress.at(0);
      Thread.sleep(50);
    }
  }

  /** Removes what an unfinished build left, or what an older index no longer needs. */
  private void cleanUp() throws IOException {
    try (Stream<Path> files = Files.list(folder)) {
      for (Path file : (Iterable<Path>) files::iterator) {
        String name = file.getFileName().toString();
        if (OWN_FILE.matcher(name).matches()
            && Files.isRegularFile(file, LinkOption.NOFOLLOW_LINKS)) {
          Files.deleteIfExists(file);
        }
      }
    }
  }

  private static void createFolder(Path folder) throws IOException {
    if (Files.isDirectory(folder)) {
      return;
    }
    Files.createDirectories(folder.toAbsolutePath().getParent());
    try {
      if (folder.getFileSystem().supportedFileAttributeViews().contains("posix")) {
        Files.createDirectory(
            folder,
            PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rwx------")));
      } else {
        Files.createDirectory(folder);
      }
    } catch (java.nio.file.FileAlreadyExistsException e) {
      // another process was quicker
    }
  }

  /**
   * Verifies all checksums.
   *
   * @return what is wrong, empty if nothing is
   */
  public List<String> check() throws IOException {
    if (!Files.exists(folder.resolve(Meta.NAME))) {
      return List.of("there is no index in " + folder);
    }
    try {
      Meta meta = Meta.read(folder);
      if (!meta.identity().equals(Identity.of(snapshot))) {
        return List.of("the index is of another snapshot than " + snapshot + " is now");
      }
      try (Snapshot opened = new Snapshot(snapshot, folder, meta, readers)) {
        opened.check();
      }
      return List.of();
    } catch (BrokenIndexException | NoSuchFileException e) {
      return List.of(e.getMessage());
    }
  }
}
