package lipsanon.snapshot;

import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HexFormat;
import java.util.List;
import java.util.Optional;
import lipsanon.array.Space;
import lipsanon.format.elfcore.ElfCoreDetail;
import lipsanon.format.elfcore.ElfCoreReader;
import lipsanon.format.hprof.HprofDetail;
import lipsanon.format.hprof.HprofReader;
import lipsanon.format.jfr.FlightFormat;
import lipsanon.format.jfr.FlightReader;
import lipsanon.format.light.LightFormat;
import lipsanon.format.light.LightReader;
import lipsanon.format.light.SeriesFormat;
import lipsanon.format.light.SeriesReader;
import lipsanon.format.nettrace.AllocationTicks;
import lipsanon.format.nettrace.NettraceDetail;
import lipsanon.format.nettrace.NettraceReader;
import lipsanon.format.v8.SampledProfile;
import lipsanon.format.v8.V8Detail;
import lipsanon.format.v8.V8Reader;
import lipsanon.index.IndexStore;
import lipsanon.index.ObjectReader;
import lipsanon.index.Recording;
import lipsanon.index.Snapshot;
import lipsanon.index.SnapshotContent;
import lipsanon.index.TrustedFolder;
import lipsanon.io.ByteSource;
import lipsanon.io.FileSource;
import lipsanon.io.GzipSource;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;

/**
 * Opens snapshot files of every format that is known: finds the reader, finds or builds the index.
 */
public final class Snapshots {
  private static final String META = "meta";

  private static final int HEAD = 64;

  /** Ints of a band: more of them hardly spare another pass. */
  private static final long MOST_BAND = 1L << 28;

  private Snapshots() {}

  /**
   * How to open.
   *
   * @param indexFolder where indexes go, or null: beside the snapshot, or else in {@code cache}
   * @param cache the user's cache folder
   * @param strict refuse a snapshot that is cut off
   * @param memoryBytes how much memory indexing may take; beyond it works in scratch files
   * @param hidingKey contents are told as hashes with this key (16 bytes); null: as they are
   */
  public record Options(
      Path indexFolder,
      Path cache,
      boolean strict,
      long memoryBytes,
      byte[] hidingKey,
      Path sourceMaps) {
    /** With contents as they are. */
    public Options(Path indexFolder, Path cache, boolean strict, long memoryBytes) {
      this(indexFolder, cache, strict, memoryBytes, null, null);
    }

    /** The same with other memory. */
    public Options withMemory(long bytes) {
      return new Options(indexFolder, cache, strict, bytes, hidingKey, sourceMaps);
    }

    /** The same without contents. */
    public Options hiding(byte[] key) {
      return new Options(indexFolder, cache, strict, memoryBytes, key, sourceMaps);
    }

    /** The same with the folder of built scripts and their source maps. */
    public Options withSourceMaps(Path folder) {
      return new Options(indexFolder, cache, strict, memoryBytes, hidingKey, folder);
    }
  }

  /** Whether a snapshot has no index yet, and can be given one with so much memory. */
  public static boolean fitsBeside(Path file, Options options) throws IOException {
    checkFile(file);
    return !Files.exists(folder(file, options).resolve(META))
        && needBytes(unpackedBytes(file)) <= options.memoryBytes();
  }

  /** Opens a snapshot, building its index if there is none that fits. */
  public static Snapshot open(Path file, Options options, Progress progress) throws Exception {
    checkFile(file);
    Path beside = beside(file);
    String distrust = options.indexFolder() == null ? TrustedFolder.distrust(beside) : "";
    if (!distrust.isEmpty()) {
      progress.phase(beside + " " + distrust + ": not used; the index goes to the cache folder", 0);
    }
    IndexStore store = store(file, options);
    if (options.sourceMaps() != null && !hasMapsOf(file, options)) {
      Files.deleteIfExists(store.folder().resolve(META));
    }
    boolean mapped = needBytes(unpackedBytes(file)) > options.memoryBytes();
    IndexStore.Source reader =
        (space, hears) -> {
          if (mapped) {
            hears.phase(onDisk(file, store.folder()), 0);
          }
          return read(file, store.folder(), space, options, hears);
        };
    Snapshot snapshot =
        store.openOrBuild(
            reader, mapped, spare(options.memoryBytes(), unpackedBytes(file)), progress);
    if (options.strict() && snapshot.facts().partial()) {
      snapshot.close();
      throw new UnsupportedInputException(
          file.toString(), "is cut off or damaged, and --strict refuses what is not whole");
    }
    return snapshot;
  }

  /** Whether an index has been made with the source maps that are asked for, or needs none. */
  private static boolean hasMapsOf(Path file, Options options) throws IOException {
    IndexStore store = new IndexStore(file, folder(file, options), Snapshots::reader);
    Optional<Snapshot> index = store.open();
    if (index.isEmpty()) {
      return true;
    }
    try (Snapshot snapshot = index.get()) {
      String folder = options.sourceMaps().toString();
      return !(snapshot.objects() instanceof V8Detail v8) || v8.sourceMaps().equals(folder);
    }
  }

  /**
   * What of the memory is spared for arrays where scratch files take the place of most. Two threads
   * sort at the same time, and get a sixth; what else is needed grows with the file.
   */
  private static Space.Spare spare(long memoryBytes, long fileBytes) {
    int band = (int) Math.min(MOST_BAND, memoryBytes / 12 / Integer.BYTES);
    long left = memoryBytes - fileBytes / 12 - (200L << 20);
    return new Space.Spare(band, Math.max(0, left * 19 / 20));
  }

  /** What is said before scratch files take the place of memory. */
  private static String onDisk(Path file, Path folder) throws IOException {
    long needs = needBytes(unpackedBytes(file)) >> 20;
    long free = Files.getFileStore(folder).getUsableSpace() >> 20;
    return "indexing "
        + file
        + " wants about "
        + needs
        + " MB of memory; working on disk, which is slower: scratch files take about as much in "
        + folder
        + ", where "
        + free
        + " MB are free";
  }

  /**
   * Reads a recording of sampled allocations, which is no snapshot.
   *
   * @return null if the file is none
   */
  public static Recording samples(Path file) throws IOException {
    checkFile(file);
    return SampledProfile.matches(head(file)) ? SampledProfile.read(file) : null;
  }

  /**
   * Reads a light snapshot.
   *
   * @return null if the file is none
   */
  public static LightSnapshot light(Path file) throws IOException {
    checkFile(file);
    return LightFormat.matches(head(file)) ? LightReader.read(file) : null;
  }

  /**
   * Whether snapshots can be compared object by object. Where one is a light one, or a runtime's
   * objects are told in two formats that name them differently, only their types can.
   */
  public static boolean sameGrain(List<Path> files) throws IOException {
    boolean stream = false;
    boolean dump = false;
    for (Path file : files) {
      checkFile(file);
      byte[] head = head(file);
      if (LightFormat.matches(head)) {
        return false;
      }
      stream |= NettraceReader.matches(head);
      dump |= ElfCoreReader.matches(head);
    }
    return !(stream && dump);
  }

  /**
   * Reads a recording of a Java VM's own event recorder, or of a .NET runtime's event stream.
   *
   * @return null if the file is none
   */
  public static Flight flight(Path file) throws IOException {
    checkFile(file);
    if (NettraceReader.matches(head(file))) {
      try (ByteSource source = new FileSource(file)) {
        return AllocationTicks.read(source);
      }
    }
    return FlightFormat.matches(head(file)) ? FlightReader.read(file) : null;
  }

  /**
   * Reads the series of a watched heap.
   *
   * @return null if the file is none
   */
  public static HeapSeries series(Path file) throws IOException {
    checkFile(file);
    return SeriesFormat.matches(head(file)) ? SeriesReader.read(file) : null;
  }

  /**
   * What a snapshot that was just taken lacks, told without an index.
   *
   * @return in words; "" if it is whole, as far as its format tells
   */
  public static String missing(Path file) throws IOException {
    checkFile(file);
    if (ElfCoreReader.matches(head(file))) {
      try (ByteSource source = new FileSource(file)) {
        return ElfCoreReader.missing(source);
      }
    }
    if (!NettraceReader.matches(head(file))) {
      return "";
    }
    try (ByteSource source = Sources.open(file, file.toAbsolutePath().getParent(), Progress.NONE)) {
      return NettraceReader.missing(source);
    }
  }

  /** How long the program stood still for a snapshot, in milliseconds; -1 if it does not tell. */
  public static long pauseMillis(Path file) throws IOException {
    checkFile(file);
    if (!NettraceReader.matches(head(file))) {
      return -1;
    }
    try (ByteSource source = new FileSource(file)) {
      return NettraceReader.pauseMillis(source);
    }
  }

  /** Verifies an index; empty if it is sound. */
  public static List<String> check(Path file, Options options) throws IOException {
    checkFile(file);
    List<String> faults = new ArrayList<>(store(file, options).check());
    String table = GzipSource.tableFault(Sources.table(folder(file, options)));
    if (!table.isEmpty()) {
      faults.add(table);
    }
    return faults;
  }

  /** How large a snapshot is; of a compressed one a figure that errs on the high side. */
  private static long unpackedBytes(Path file) throws IOException {
    // measured: heap dumps are packed to a fourth to an eighth
    return GzipSource.matches(head(file)) ? Files.size(file) * 8 : Files.size(file);
  }

  /** Memory that indexing a file wants: a rough figure that errs on the high side. */
  static long needBytes(long fileBytes) {
    // measured: some 60 bytes an object, with records of about 49 bytes an object
    return (64L << 20) + fileBytes * 3 / 2;
  }

  private static IndexStore store(Path file, Options options) throws IOException {
    byte[] key = options.hidingKey();
    return new IndexStore(
        file,
        folder(file, options),
        key == null
            ? Snapshots::reader
            : (snapshot, format, detail) ->
                new HidingReader(reader(snapshot, format, detail), key));
  }

  private static ObjectReader reader(Snapshot snapshot, String format, byte[] detail)
      throws IOException {
    ByteSource source = Sources.open(snapshot.file(), snapshot.folder(), Progress.NONE);
    return switch (format) {
      case HprofReader.FORMAT -> new HprofDetail(snapshot, source, detail);
      case ElfCoreReader.FORMAT -> new ElfCoreDetail(snapshot, source, detail);
      case NettraceReader.FORMAT -> new NettraceDetail(snapshot, source, detail);
      case V8Reader.FORMAT -> new V8Detail(snapshot, source, detail);
      default -> {
        source.close();
        throw new UnsupportedInputException(
            snapshot.file().toString(), "was indexed as format \"" + format + "\", unknown here");
      }
    };
  }

  private static SnapshotContent read(
      Path file, Path folder, Space space, Options options, Progress progress) throws Exception {
    try (ByteSource source = Sources.open(file, folder, progress)) {
      byte[] head = new byte[HEAD];
      int got = source.read(0, head, 0, head.length);
      if (NettraceReader.matches(Arrays.copyOf(head, got))) {
        return NettraceReader.read(source, space, progress);
      }
      if (ElfCoreReader.matches(Arrays.copyOf(head, got))) {
        return ElfCoreReader.read(source, space, progress);
      }
      return V8Reader.matches(Arrays.copyOf(head, got))
          ? V8Reader.read(source, options.sourceMaps(), space, progress)
          : HprofReader.read(source, space, options.strict(), progress);
    }
  }

  private static void checkFile(Path file) throws IOException {
    if (!Files.exists(file)) {
      throw new UnsupportedInputException(file.toString(), "does not exist");
    }
    if (Files.isDirectory(file)) {
      throw new UnsupportedInputException(file.toString(), "is a folder, not a heap snapshot");
    }
    if (!Files.isReadable(file)) {
      throw new UnsupportedInputException(file.toString(), "cannot be read (permissions?)");
    }
    if (Files.size(file) == 0) {
      throw new UnsupportedInputException(
          file.toString(), "is empty: there is nothing in it from byte 0 on");
    }
  }

  private static Path folder(Path file, Options options) throws IOException {
    String name = file.getFileName() + ".lipsanon";
    if (options.indexFolder() != null) {
      return options.indexFolder().resolve(name);
    }
    Path beside = beside(file);
    boolean writable =
        Files.exists(beside) ? Files.isWritable(beside) : Files.isWritable(beside.getParent());
    if (writable && TrustedFolder.distrust(beside).isEmpty()) {
      return beside;
    }
    return options.cache().resolve(hash(file.toRealPath()) + "-" + name);
  }

  private static Path beside(Path file) {
    return file.toAbsolutePath().resolveSibling(file.getFileName() + ".lipsanon");
  }

  private static String hash(Path path) {
    try {
      byte[] digest =
          MessageDigest.getInstance("SHA-256")
              .digest(path.toString().getBytes(StandardCharsets.UTF_8));
      return HexFormat.of().formatHex(digest, 0, 8);
    } catch (NoSuchAlgorithmException e) {
      throw new IllegalStateException(e);
    }
  }

  /** The first bytes of a file. */
  static byte[] head(Path file) throws IOException {
    try (InputStream in = Files.newInputStream(file)) {
      return in.readNBytes(HEAD);
    }
  }
}
