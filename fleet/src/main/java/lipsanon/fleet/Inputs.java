package lipsanon.fleet;

import java.io.IOException;
import java.io.Reader;
import java.nio.file.FileSystems;
import java.nio.file.FileVisitOption;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.PathMatcher;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * Finds the snapshots of a fleet: files, folders with all below them, patterns, lists, which are
 * text files with one of these a line, and manifests, which are CSV files with the columns {@code
 * file}, and {@code service}, {@code build}, {@code host}, {@code time} as far as there are.
 */
public final class Inputs {
  private static final Pattern SNAPSHOT =
      Pattern.compile(".*\\.(hprof|heapsnapshot|nettrace|core|dmp)(\\.gz)?");
  private static final Pattern ADDRESS = Pattern.compile("[a-z][a-z0-9+.-]+://.*");
  private static final Pattern GLOB = Pattern.compile("[*?\\[{]");
  private static final Set<String> COLUMNS = Set.of("file", "service", "build", "host", "time");

  private final LabelPattern pattern;
  private final boolean remote;
  private final Map<String, Item> items = new LinkedHashMap<>();
  private final Set<String> unlabelled = new HashSet<>();

  /**
   * Begins.
   *
   * @param pattern of the labels in paths, or null
   * @param remote whether addresses beyond this machine's files can be opened
   */
  public Inputs(LabelPattern pattern, boolean remote) {
    this.pattern = pattern;
    this.remote = remote;
  }

  /** Whether a text is an address, not a path. */
  public static boolean isAddress(String text) {
    return ADDRESS.matcher(text).matches();
  }

  /**
   * Adds a file, a folder, a pattern, a list, a manifest, or an address.
   *
   * @throws IllegalArgumentException in a sentence, if it is none of these
   */
  public void add(String text) throws IOException {
    if (isAddress(text) && !text.startsWith("file:")) {
      address(text);
      return;
    }
    Path path = text.startsWith("file:") ? Path.of(java.net.URI.create(text)) : Path.of(text);
    if (Files.isDirectory(path)) {
      try (Stream<Path> files = Files.walk(path, FileVisitOption.FOLLOW_LINKS)) {
        for (Path file : files.filter(Inputs::isSnapshot).sorted().toList()) {
          file(file);
        }
      }
    } else if (!Files.exists(path) && GLOB.matcher(text).find()) {
      glob(text);
    } else if (!Files.exists(path)) {
      throw new IllegalArgumentException(text + ": there is no such file or folder");
    } else if (text.endsWith(".csv")) {
      manifest(path);
    } else if (text.endsWith(".txt")) {
      for (String line : Files.readAllLines(path)) {
        if (!line.isBlank()) {
          add(isAddress(line) ? line : path.resolveSibling(line.strip()).toString());
        }
      }
    } else {
      file(path);
    }
  }

  /** A pattern that the shell did not expand. */
  private void glob(String text) throws IOException {
    Path whole = Path.of(text).toAbsolutePath().normalize();
    Path base = whole;
    while (GLOB.matcher(base.toString()).find()) {
      base = base.getParent();
    }
    PathMatcher matcher = FileSystems.getDefault().getPathMatcher("glob:" + whole);
    int before = items.size();
    if (Files.isDirectory(base)) {
      try (Stream<Path> files = Files.walk(base, FileVisitOption.FOLLOW_LINKS)) {
        for (Path file :
            files.filter(matcher::matches).filter(Files::isRegularFile).sorted().toList()) {
          file(file);
        }
      }
    }
    if (items.size() == before) {
      throw new IllegalArgumentException(text + ": no file fits");
    }
  }

  private static boolean isSnapshot(Path file) {
    return SNAPSHOT.matcher(file.getFileName().toString()).matches() && Files.isRegularFile(file);
  }

  private void address(String address) {
    if (!remote) {
      throw new IllegalArgumentException(
          address
              + ": such addresses are opened on a cluster only (--on); here give files and folders");
    }
    put(address, labels(address, new Labels(Labels.UNNAMED, "", "", Instant.EPOCH)), -1);
  }

  private void file(Path file) throws IOException {
    Instant modified = Files.getLastModifiedTime(file).toInstant();
    String address = file.toAbsolutePath().normalize().toString();
    put(address, labels(address, LabelPattern.plain(file, modified)), Files.size(file));
  }

  private Labels labels(String address, Labels otherwise) {
    Labels labels = pattern == null ? null : pattern.of(address, otherwise);
    if (pattern != null && labels == null) {
      unlabelled.add(address);
    }
    return labels == null ? otherwise : labels;
  }

  private void put(String address, Labels labels, long bytes) {
    items.put(address, new Item(address, labels, bytes));
  }

  private void manifest(Path manifest) throws IOException {
    CSVFormat format =
        CSVFormat.DEFAULT.builder().setHeader().setSkipHeaderRecord(true).setTrim(true).build();
    try (Reader reader = Files.newBufferedReader(manifest);
        CSVParser rows = CSVParser.parse(reader, format)) {
      List<String> names = rows.getHeaderNames();
      if (!names.contains("file")) {
        throw new IllegalArgumentException(
            manifest + ": a manifest needs a column `file` in its first line; it has " + names);
      }
      for (String name : names) {
        if (!COLUMNS.contains(name)) {
          throw new IllegalArgumentException(
              manifest + ": the column `" + name + "` is none of file, service, build, host, time");
        }
      }
      for (CSVRecord row : rows) {
        row(manifest, row, names);
      }
    } catch (java.io.UncheckedIOException | IllegalStateException e) {
      throw new IllegalArgumentException(manifest + ": is no CSV: " + e.getMessage(), e);
    }
  }

  private void row(Path manifest, CSVRecord row, List<String> names) throws IOException {
    String name = row.get("file");
    Labels labels;
    String address = name;
    long bytes = -1;
    if (isAddress(name)) {
      address(name);
      labels = items.get(name).labels();
    } else {
      Path file = manifest.toAbsolutePath().resolveSibling(name).normalize();
      address = file.toString();
      boolean there = Files.isRegularFile(file);
      // a file that is not there is a failed row, not the end of all
      bytes = there ? Files.size(file) : -1;
      Instant modified = there ? Files.getLastModifiedTime(file).toInstant() : Instant.EPOCH;
      labels = labels(address, LabelPattern.plain(file, modified));
    }
    Instant taken = labels.taken();
    String time = value(row, names, "time", "");
    if (!time.isEmpty()) {
      taken = LabelPattern.parse(time);
      if (taken == null) {
        throw new IllegalArgumentException(
            manifest + ":" + row.getParser().getCurrentLineNumber() + ": not a time: " + time);
      }
    }
    put(
        address,
        new Labels(
            value(row, names, "service", labels.service()),
            value(row, names, "build", labels.build()),
            value(row, names, "host", labels.host()),
            taken),
        bytes);
  }

  private static String value(CSVRecord row, List<String> names, String name, String otherwise) {
    boolean there = names.contains(name) && row.isSet(name) && !row.get(name).isEmpty();
    return there ? row.get(name) : otherwise;
  }

  /** All that were found, each once. */
  public List<Item> items() {
    return new ArrayList<>(items.values());
  }

  /** How many did not fit the pattern of labels. */
  public int unlabelled() {
    return unlabelled.size();
  }
}
