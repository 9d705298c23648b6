package lipsanon.fleet;

import java.io.Closeable;
import java.io.IOException;
import java.nio.channels.FileChannel;
import java.nio.channels.FileLock;
import java.nio.channels.OverlappingFileLockException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.StandardOpenOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Properties;
import java.util.Set;
import java.util.stream.Stream;

/**
 * The folder of a fleet's tables, as {@link FleetSchema} has them, and what is not in them yet:
 *
 * <pre>
 * TABLE/day=DAY/service=SERVICE/*.parquet   the tables, zstd
 * tasks/KEY.jsonl                           rows of tasks that ended, until they are in the tables
 * .lipsanon-fleet-N/                        what tasks need while they run
 * .staged/, .replaced/                      partitions while they are exchanged
 * .cluster-RUN/                             what a run on a cluster writes, until it is complete
 * </pre>
 *
 * A partition is exchanged as a whole: the new one is written beside, the old one moved away, the
 * new one moved in. What a crash leaves behind is put right when the folder is opened. One process
 * at a time writes.
 */
public final class FleetTables implements Closeable {
  /** Memory for which the engine gets one thread more. */
  private static final long THREAD_BYTES = 128L << 20;

  private static final String TASKS = "tasks";
  private static final String STAGED = ".staged";
  private static final String REPLACED = ".replaced";
  private static final String CLUSTER = ".cluster-";
  private static final String WORK = ".lipsanon-fleet-";
  private static final String LOCK = ".lock";

  private final Path folder;
  private final FileChannel channel;
  private final Connection connection;

  private FleetTables(Path folder, FileChannel channel, Connection connection) {
    this.folder = folder;
    this.channel = channel;
    this.connection = connection;
  }

  /** Whether a folder has tables of a fleet. */
  public static boolean isFleet(Path folder) {
    return Files.isDirectory(folder.resolve(FleetSchema.SNAPSHOTS.table()));
  }

  /** Whether a folder is there for tables: it has some, is empty, or can be made. */
  public static boolean mayHold(Path folder) throws IOException {
    if (!Files.exists(folder) || isFleet(folder)) {
      return true;
    }
    if (!Files.isDirectory(folder)) {
      return false;
    }
    try (Stream<Path> inside = Files.list(folder)) {
      return inside.findAny().isEmpty();
    }
  }

  /**
   * Opens a folder for writing; makes it if it is not there.
   *
   * @param memoryBytes that the engine's buffers may take
   * @throws IllegalStateException in a sentence, if another process writes to it
   */
  public static FleetTables open(Path folder, long memoryBytes) throws IOException, SQLException {
    make(folder);
    Files.createDirectories(folder.resolve(TASKS));
    FileChannel channel =
        FileChannel.open(folder.resolve(LOCK), StandardOpenOption.CREATE, StandardOpenOption.WRITE);
    FileLock lock;
    try {
      lock = channel.tryLock();
    } catch (OverlappingFileLockException e) {
      lock = null;
    }
    if (lock == null) {
      channel.close();
      throw new IllegalStateException(folder + ": another run is writing to these tables");
    }
    try {
      FleetTables tables =
          new FleetTables(folder, channel, connect(folder.resolve(".spill"), memoryBytes));
      tables.recover();
      return tables;
    } catch (IOException | SQLException | RuntimeException e) {
      channel.close();
      throw e;
    }
  }

  /**
   * Opens tables for questions only: nothing is written to their folder.
   *
   * @param memoryBytes that the engine's buffers may take
   */
  public static FleetTables read(Path folder, long memoryBytes) throws SQLException {
    Path spill =
        Path.of(
            System.getProperty("java.io.tmpdir"),
            "lipsanon-fleet-spill-" + ProcessHandle.current().pid());
    return new FleetTables(folder, null, connect(spill, memoryBytes));
  }

  /** Makes the folder if it is not there: like all that is taken out of heaps, for its owner. */
  private static void make(Path folder) throws IOException {
    if (Files.isDirectory(folder)) {
      return;
    }
    Path parent = folder.toAbsolutePath().getParent();
    if (parent != null) {
      Files.createDirectories(parent);
    }
    Files.createDirectory(folder);
    if (Files.getFileStore(folder).supportsFileAttributeView("posix")) {
      Files.setPosixFilePermissions(folder, PosixFilePermissions.fromString("rwx------"));
    }
  }

  private static Connection connect(Path spill, long memoryBytes) throws SQLException {
    Properties properties = new Properties();
    properties.setProperty("autoinstall_known_extensions", "false");
    properties.setProperty("autoload_known_extensions", "false");
    properties.setProperty("memory_limit", (memoryBytes >> 20) + "MiB");
    // each takes buffers of 32 MB to read rows, however few there are
    long threads = Math.min(Runtime.getRuntime().availableProcessors(), memoryBytes / THREAD_BYTES);
    properties.setProperty("threads", Long.toString(Math.max(1, threads)));
    properties.setProperty("temp_directory", spill.toString());
    return DriverManager.getConnection("jdbc:duckdb:", properties);
  }

  /** Partitions that were moved away and never replaced come back; unfinished ones go. */
  private void recover() throws IOException {
    Path replaced = folder.resolve(REPLACED);
    if (Files.exists(replaced)) {
      try (Stream<Path> tables = Files.walk(replaced, 3)) {
        for (Path partition : tables.filter(p -> depth(replaced, p) == 3).toList()) {
          Path home = folder.resolve(replaced.relativize(partition));
          if (!Files.exists(home)) {
            Files.createDirectories(home.getParent());
            Files.move(partition, home);
          }
        }
      }
      ChildTask.delete(replaced);
    }
    if (Files.exists(folder.resolve(STAGED))) {
      ChildTask.delete(folder.resolve(STAGED));
    }
    List<Path> left;
    try (Stream<Path> files = Files.list(folder)) {
      left = files.toList();
    }
    for (Path path : left) {
      if (isClusterRun(path)) {
        finish(path);
      } else if (path.getFileName().toString().startsWith(WORK)) {
        // of a run that was killed
        ChildTask.delete(path);
      }
    }
  }

  private static boolean isClusterRun(Path path) {
    return path.getFileName().toString().startsWith(CLUSTER);
  }

  /** A cluster's run that ended while its files were moved in: as the job itself would go on. */
  private void finish(Path run) throws IOException {
    if (Files.exists(run.resolve("complete"))) {
      if (Files.exists(run.resolve("replaces"))) {
        // files that were joined: theirs go first
        for (String file : Files.readAllLines(run.resolve("replaces"))) {
          if (FleetSchema.isFile(file)) {
            Files.deleteIfExists(folder.resolve(file));
          }
        }
      }
      String name = run.getFileName().toString().substring(CLUSTER.length());
      for (FleetSchema table : FleetSchema.inOrderOfWriting()) {
        Path from = run.resolve(table.table());
        if (Files.isDirectory(from)) {
          try (Stream<Path> files = Files.walk(from)) {
            for (Path file : files.filter(f -> f.toString().endsWith(".parquet")).toList()) {
              Path home = folder.resolve(run.relativize(file.getParent()));
              Files.createDirectories(home);
              Files.move(file, home.resolve(name + "-" + file.getFileName()));
            }
          }
        }
      }
    }
    ChildTask.delete(run);
  }

  private static int depth(Path above, Path path) {
    return above.relativize(path).getNameCount();
  }

  /** The keys of tasks that need not be done again: they succeeded. */
  public Set<String> done() throws IOException, SQLException {
    Set<String> done = new HashSet<>();
    try (Statement statement = connection.createStatement()) {
      TableViews.create(statement, folder);
      try (ResultSet keys =
          statement.executeQuery("SELECT task FROM snapshots WHERE status = 'ok'")) {
        while (keys.next()) {
          done.add(keys.getString(1));
        }
      }
    }
    for (Path file : journal()) {
      String name = file.getFileName().toString();
      if (!ChildTask.isFailed(Files.readAllBytes(file))) {
        done.add(name.substring(0, name.length() - ".jsonl".length()));
      }
    }
    return done;
  }

  private List<Path> journal() throws IOException {
    try (Stream<Path> files = Files.list(folder.resolve(TASKS))) {
      return files.filter(file -> file.toString().endsWith(".jsonl")).sorted().toList();
    }
  }

  /** Keeps the rows of a task that ended; they are in the tables after {@link #merge}. */
  public void keep(Item item, byte[] rows) throws IOException {
    Path temporary = folder.resolve(TASKS).resolve(item.key() + ".tmp");
    Files.write(temporary, rows);
    Files.move(
        temporary,
        folder.resolve(TASKS).resolve(item.key() + ".jsonl"),
        StandardCopyOption.ATOMIC_MOVE);
  }

  /** Brings what tasks left into the tables, each partition that it touches written anew. */
  public void merge() throws IOException, SQLException {
    List<Path> journal = journal();
    if (journal.isEmpty()) {
      return;
    }
    try (Statement statement = connection.createStatement()) {
      statement.execute(
          "CREATE OR REPLACE TEMP VIEW fresh AS SELECT * FROM read_json("
              + list(journal)
              + ", format='newline_delimited', maximum_object_size=1048576, columns={"
              + allColumns()
              + "})");
      List<String[]> partitions = new ArrayList<>();
      try (ResultSet found =
          statement.executeQuery("SELECT DISTINCT day, service FROM fresh ORDER BY 1, 2")) {
        while (found.next()) {
          partitions.add(new String[] {found.getString(1), found.getString(2)});
        }
      }
      for (FleetSchema table : FleetSchema.inOrderOfWriting()) {
        for (String[] partition : partitions) {
          replace(statement, table, partition[0], partition[1]);
        }
      }
    }
    for (Path file : journal) {
      Files.delete(file);
    }
  }

  private static String allColumns() {
    Set<String> columns = new java.util.LinkedHashSet<>();
    columns.add("'table': 'VARCHAR'");
    for (FleetSchema table : FleetSchema.values()) {
      for (String column : table.columns().split(", ")) {
        String[] parts = column.split(" ");
        columns.add("'" + parts[0] + "': '" + parts[1] + "'");
      }
    }
    return String.join(", ", columns);
  }

  private static String list(List<Path> files) {
    return "[" + String.join(", ", files.stream().map(FleetTables::literal).toList()) + "]";
  }

  static String literal(Object text) {
    return "'" + text.toString().replace("'", "''") + "'";
  }

  /** The folder of a partition below that of its table. */
  static Path partition(FleetSchema table, String day, String service) {
    return Path.of(table.table(), "day=" + escaped(day), "service=" + escaped(service));
  }

  /** As names of partitions are written: what is no letter, number, dot, hyphen is a code. */
  private static String escaped(String text) {
    StringBuilder out = new StringBuilder();
    for (byte b : text.getBytes(StandardCharsets.UTF_8)) {
      char c = (char) (b & 0xff);
      boolean plain = c < 0x80 && (Character.isLetterOrDigit(c) || "._-".indexOf(c) >= 0);
      out.append(plain ? String.valueOf(c) : String.format("%%%02X", b & 0xff));
    }
    return out.toString();
  }

  private void replace(Statement statement, FleetSchema table, String day, String service)
      throws IOException, SQLException {
    Path partition = partition(table, day, service);
    Path home = folder.resolve(partition);
    Path staged = folder.resolve(STAGED).resolve(partition);
    List<String> kept =
        table.names().stream().filter(c -> !c.equals("day") && !c.equals("service")).toList();
    String columns = String.join(", ", kept);
    String rows =
        "SELECT "
            + columns
            + " FROM fresh WHERE \"table\" = "
            + literal(table.table())
            + " AND day = "
            + literal(day)
            + " AND service = "
            + literal(service);
    if (Files.isDirectory(home)) {
      rows +=
          " UNION ALL SELECT "
              + columns
              + " FROM read_parquet("
              + literal(home.resolve("*.parquet"))
              + ", hive_partitioning=false) WHERE task NOT IN (SELECT task FROM fresh)";
    }
    try (ResultSet any = statement.executeQuery("SELECT count(*) FROM (" + rows + ")")) {
      any.next();
      if (any.getLong(1) == 0) {
        return;
      }
    }
    Files.createDirectories(staged);
    statement.execute(
        "COPY ("
            + rows
            + " ORDER BY "
            + (kept.contains("what") ? "what, held_by, " : kept.contains("type") ? "type, " : "")
            + "host, taken) TO "
            + literal(staged.resolve("part-0.parquet"))
            + " (FORMAT parquet, COMPRESSION zstd)");
    if (Files.isDirectory(home)) {
      Path replaced = folder.resolve(REPLACED).resolve(partition);
      Files.createDirectories(replaced.getParent());
      Files.move(home, replaced);
      Files.move(staged, home);
      ChildTask.delete(replaced);
    } else {
      Files.createDirectories(home.getParent());
      Files.move(staged, home);
    }
  }

  /** For questions about the tables: views of their names. */
  Connection connection() throws SQLException, IOException {
    try (Statement statement = connection.createStatement()) {
      TableViews.create(statement, folder);
    }
    return connection;
  }

  /** The folder. */
  public Path folder() {
    return folder;
  }

  @Override
  public void close() throws IOException {
    try {
      connection.close();
    } catch (SQLException e) {
      throw new IOException(e);
    } finally {
      if (channel != null) {
        tidy();
      }
    }
  }

  private void tidy() throws IOException {
    try {
      for (String name : List.of(STAGED, REPLACED)) {
        if (Files.exists(folder.resolve(name))) {
          ChildTask.delete(folder.resolve(name));
        }
      }
    } finally {
      channel.close();
    }
  }
}
