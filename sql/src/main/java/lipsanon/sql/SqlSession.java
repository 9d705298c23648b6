package lipsanon.sql;

import java.io.Closeable;
import java.io.IOException;
import java.math.BigDecimal;
import java.math.BigInteger;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Properties;
import java.util.regex.Pattern;
import lipsanon.graph.Workers;
import lipsanon.holder.Finding;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.index.TypeInfo;
import lipsanon.label.TypeFilter;
import lipsanon.question.SurveyQuestion;
import org.duckdb.DuckDBColumnType;
import org.duckdb.DuckDBFunctions;
import org.duckdb.DuckDBTableFunctionBuilder;

/**
 * Questions in SQL about one or several open snapshots. The tables are {@code objects}, {@code
 * types}, {@code refs}, {@code roots} and {@code findings}, each with a column {@code snapshot};
 * the functions {@code path_to_root(id)}, {@code children(id)} and {@code referrers(id)} answer for
 * one object from the index, where a search through the tables would go through all rows. Read
 * only: no file, network or extension is to be had from within a question. One thread.
 */
public final class SqlSession implements Closeable {
  private static final int FINDINGS = 20;

  /** Says whether a text is anything but questions, and what kind of error that is. */
  private static final String IS_QUESTION =
      "SELECT (j->>'$.error')::BOOLEAN, j->>'$.error_type', j->>'$.error_message'"
          + " FROM (SELECT json_serialize_sql(?::VARCHAR)::JSON AS j)";

  private static final Pattern DESCRIBING =
      Pattern.compile("(?is)\\s*(describe|show|summarize)\\s+[^;]*;?\\s*");
  private final List<Snapshot> snapshots;
  private final TypeFilter mine;
  private final Connection connection;

  /**
   * How to ask.
   *
   * @param mine what counts as the user's own
   * @param memoryBytes the engine's own buffers at most; beyond it spills to disk
   * @param scratch a folder for that
   * @param parquet the only file that a result may be written to, or null
   */
  public record Options(TypeFilter mine, long memoryBytes, Path scratch, Path parquet) {}

  /** Makes the views of tables that lie in files. */
  public interface Views {
    /** Makes them. */
    void create(Statement statement) throws SQLException, IOException;
  }

  /** Whether files are within reach, so that what a question does must be looked at first. */
  private final boolean files;

  private SqlSession(
      List<Snapshot> snapshots, TypeFilter mine, Connection connection, boolean files) {
    this.snapshots = snapshots;
    this.mine = mine;
    this.connection = connection;
    this.files = files;
  }

  /**
   * Opens a session over open snapshots, which stay the caller's.
   *
   * @throws SQLException if the engine cannot be started here
   */
  public static SqlSession open(List<Snapshot> snapshots, Options options) throws SQLException {
    Connection connection = connect(options);
    SqlSession session = new SqlSession(snapshots, options.mine(), connection, false);
    try {
      session.tables();
      for (Map.Entry<String, RowsTable> function :
          new ObjectFunctions(snapshots).all().entrySet()) {
        session.register(function.getKey(), function.getValue(), String.class);
      }
      session.lock(options, null);
      return session;
    } catch (SQLException | RuntimeException e) {
      connection.close();
      throw e;
    }
  }

  /**
   * Opens a session over tables that lie in files of a folder. Only questions are let through,
   * since the engine could write where it may read.
   *
   * @param folder the only one that is within reach
   */
  public static SqlSession open(Views views, Path folder, Options options)
      throws SQLException, IOException {
    Connection connection = connect(options);
    SqlSession session = new SqlSession(List.of(), options.mine(), connection, true);
    try {
      try (Statement statement = connection.createStatement()) {
        views.create(statement);
      }
      session.lock(options, folder.toAbsolutePath());
      return session;
    } catch (SQLException | IOException | RuntimeException e) {
      connection.close();
      throw e;
    }
  }

  private static Connection connect(Options options) throws SQLException {
    Properties properties = new Properties();
    properties.setProperty("autoinstall_known_extensions", "false");
    properties.setProperty("autoload_known_extensions", "false");
    properties.setProperty("threads", Integer.toString(Workers.threads()));
    properties.setProperty("memory_limit", (options.memoryBytes() >> 20) + "MiB");
    properties.setProperty("temp_directory", options.scratch().toString());
    return DriverManager.getConnection("jdbc:duckdb:", properties);
  }

  private void lock(Options options, Path folder) throws SQLException {
    try (Statement statement = connection.createStatement()) {
      if (options.parquet() != null) {
        statement.execute("SET allowed_paths=['" + quoted(options.parquet().toString()) + "']");
      }
      if (folder != null) {
        statement.execute("SET allowed_directories=['" + quoted(folder.toString()) + "']");
      }
      statement.execute("SET enable_external_access=false");
      statement.execute("SET lock_configuration=true");
    }
  }

  /** Refuses all but questions where files are within reach. */
  private void check(String question) throws SQLException {
    if (!files || DESCRIBING.matcher(question).matches()) {
      return;
    }
    try (PreparedStatement parse = connection.prepareStatement(IS_QUESTION)) {
      parse.setString(1, question);
      try (ResultSet result = parse.executeQuery()) {
        result.next();
        if (result.getBoolean(1)) {
          throw new SQLException(
              "parser".equals(result.getString(2))
                  ? result.getString(3)
                  : "only questions (SELECT) can be asked of tables in files");
        }
      }
    }
  }

  private static String quoted(String text) {
    return text.replace("'", "''");
  }

  private void register(String name, Table<?> table, Class<?>... parameters) throws SQLException {
    try (DuckDBTableFunctionBuilder builder = DuckDBFunctions.tableFunction()) {
      builder.withName(name).withParameters(parameters).withProjectionPushdown();
      builder.withFunction(table).register(connection);
    }
  }

  private static RowsTable rows(List<Table.Column> columns, List<Object[]> all) {
    return new RowsTable(columns, all.size(), info -> "", given -> all.iterator());
  }

  private void tables() throws SQLException {
    for (int i = 0; i < snapshots.size(); i++) {
      Snapshot snapshot = snapshots.get(i);
      register("snap_objects_" + i, new ObjectsTable(snapshot));
      register(
          "snap_types_" + i,
          rows(
              List.of(
                  new Table.Column("type_id", DuckDBColumnType.INTEGER),
                  Columns.TYPE,
                  Columns.text("loader"),
                  new Table.Column("own", DuckDBColumnType.BOOLEAN),
                  Columns.number("count"),
                  Columns.SHALLOW,
                  Columns.RETAINED),
              types(snapshot)));
      register(
          "snap_refs_" + i,
          new RowsTable(
              List.of(
                  new Table.Column("from_node", DuckDBColumnType.INTEGER),
                  new Table.Column("to_node", DuckDBColumnType.INTEGER),
                  Columns.text("kind"),
                  Columns.text("via"),
                  Columns.text("from_id"),
                  Columns.text("to_id")),
              -1,
              info -> "",
              given -> new References(snapshot)));
      register(
          "snap_roots_" + i,
          rows(
              List.of(
                  Columns.NODE,
                  Columns.ID,
                  Columns.text("kind"),
                  Columns.text("detail"),
                  Columns.text("thread")),
              roots(snapshot)));
      register(
          "snap_findings_" + i,
          new RowsTable(
              List.of(
                  Columns.text("what"),
                  Columns.text("held_by"),
                  Columns.number("count"),
                  Columns.number("bytes"),
                  Columns.text("sentence")),
              -1,
              info -> "",
              given -> findings(snapshot).iterator()));
    }
    try (Statement statement = connection.createStatement()) {
      for (String table : List.of("types", "refs", "roots", "findings")) {
        statement.execute("CREATE VIEW " + table + " AS " + union("snap_" + table + "_", "t.*"));
      }
      List<String> parts = new ArrayList<>();
      for (int i = 0; i < snapshots.size(); i++) {
        parts.add(
            "SELECT '"
                + quoted(snapshots.get(i).file().toString())
                + "' AS snapshot, o.* EXCLUDE (type_id), t.type FROM snap_objects_"
                + i
                + "() o JOIN snap_types_"
                + i
                + "() t USING (type_id)");
      }
      statement.execute("CREATE VIEW objects AS " + String.join(" UNION ALL ", parts));
    }
  }

  private String union(String function, String columns) {
    List<String> parts = new ArrayList<>();
    for (int i = 0; i < snapshots.size(); i++) {
      parts.add(
          "SELECT '"
              + quoted(snapshots.get(i).file().toString())
              + "' AS snapshot, "
              + columns
              + " FROM "
              + function
              + i
              + "() t");
    }
    return String.join(" UNION ALL ", parts);
  }

  private List<Object[]> types(Snapshot snapshot) {
    List<Object[]> rows = new ArrayList<>();
    for (int t = 0; t < snapshot.types().size(); t++) {
      TypeInfo info = snapshot.types().get(t);
      rows.add(
          new Object[] {
            t,
            info.name(),
            info.loader(),
            mine.isMine(info),
            snapshot.counts(t).count(),
            snapshot.counts(t).shallowBytes(),
            snapshot.counts(t).retainedBytes()
          });
    }
    return rows;
  }

  private static List<Object[]> roots(Snapshot snapshot) {
    List<Object[]> rows = new ArrayList<>();
    for (RootInfo root : snapshot.roots()) {
      String thread = root.thread() < 0 ? null : snapshot.id(root.thread());
      rows.add(
          new Object[] {root.node(), snapshot.id(root.node()), root.kind(), root.detail(), thread});
    }
    return rows;
  }

  private List<Object[]> findings(Snapshot snapshot) throws IOException {
    List<Object[]> rows = new ArrayList<>();
    for (Finding finding : SurveyQuestion.ask(snapshot, mine, FINDINGS).findings()) {
      rows.add(
          new Object[] {
            finding.what(),
            finding.heldBy(),
            finding.counts().isEmpty() ? null : finding.counts().get(finding.counts().size() - 1),
            finding.bytes().isEmpty() ? null : finding.bytes().get(finding.bytes().size() - 1),
            finding.sentence()
          });
    }
    return rows;
  }

  /** Hears a result. */
  public interface Sink {
    /** The columns, before any row; whether each holds numbers. */
    void columns(List<String> names, List<Boolean> numbers) throws IOException;

    /**
     * A row: whole numbers as longs, others as doubles, all else as text; null.
     *
     * @return whether more are wanted
     */
    boolean row(List<Object> values) throws IOException;
  }

  /**
   * Asks.
   *
   * @throws SQLException with what is wrong with the question
   */
  public void ask(String question, Sink sink) throws SQLException, IOException {
    check(question);
    try (Statement statement = connection.createStatement()) {
      if (!statement.execute(question)) {
        return;
      }
      try (ResultSet result = statement.getResultSet()) {
        int width = result.getMetaData().getColumnCount();
        List<String> names = new ArrayList<>();
        List<Boolean> numbers = new ArrayList<>();
        for (int c = 1; c <= width; c++) {
          names.add(result.getMetaData().getColumnLabel(c));
          String type = result.getMetaData().getColumnTypeName(c).toUpperCase(Locale.ROOT);
          numbers.add(type.matches("U?(TINY|SMALL|BIG|HUGE)?INT(EGER)?|DOUBLE|FLOAT|DECIMAL.*"));
        }
        sink.columns(names, numbers);
        boolean more = true;
        while (more && result.next()) {
          List<Object> row = new ArrayList<>();
          for (int c = 1; c <= width; c++) {
            row.add(value(result.getObject(c), numbers.get(c - 1)));
          }
          more = sink.row(row);
        }
      }
    }
  }

  private static Object value(Object value, boolean number) {
    if (value == null || !number) {
      return value == null ? null : value.toString();
    }
    if (value instanceof Double || value instanceof Float) {
      return ((Number) value).doubleValue();
    }
    if (value instanceof BigDecimal decimal && decimal.scale() > 0) {
      return decimal.doubleValue();
    }
    return value instanceof BigInteger large && large.bitLength() > 63
        ? (Object) large.doubleValue()
        : (Object) ((Number) value).longValue();
  }

  /** Writes a question's result as Parquet to the file that the session was given; its rows. */
  public long parquet(String question, Path file) throws SQLException {
    String plain = question.strip().replaceAll(";+$", "");
    check(plain);
    try (Statement statement = connection.createStatement()) {
      return statement.executeUpdate(
          "COPY ("
              + plain
              + "\n) TO '"
              + quoted(file.toString())
              + "' (FORMAT parquet, COMPRESSION zstd)");
    }
  }

  /** Words for completion: tables, functions and their columns. */
  public List<String> words() throws SQLException {
    List<String> words = new ArrayList<>();
    if (!files) {
      words.addAll(ObjectFunctions.NAMES);
    }
    try (Statement statement = connection.createStatement();
        ResultSet result =
            statement.executeQuery(
                "SELECT DISTINCT table_name FROM duckdb_columns() WHERE NOT internal UNION SELECT"
                    + " DISTINCT column_name FROM duckdb_columns() WHERE NOT internal")) {
      while (result.next()) {
        words.add(result.getString(1));
      }
    }
    return words;
  }

  @Override
  public void close() throws IOException {
    try {
      connection.close();
    } catch (SQLException e) {
      throw new IOException(e);
    }
  }
}
