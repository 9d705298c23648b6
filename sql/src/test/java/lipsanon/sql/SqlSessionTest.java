package lipsanon.sql;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.sun.management.HotSpotDiagnosticMXBean;
import java.lang.management.ManagementFactory;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.ArrayList;
import java.util.List;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Questions about dumps of the test's own VM, against what the columns themselves say. */
class SqlSessionTest {
  private static final TypeFilter MINE = new TypeFilter(null, List.of(), false);

  @TempDir static Path folder;
  private static final List<Snapshot> SNAPSHOTS = new ArrayList<>();

  /** What the test looks for. */
  static final class Berth {
    final byte[] crates = new byte[500];
    Berth next;
  }

  static final List<Berth> BERTHS = new ArrayList<>();

  @BeforeAll
  static void dump() throws Exception {
    SNAPSHOTS.clear(); // where a failed test is run again, the class is begun anew
    BERTHS.clear();
    for (int i = 0; i < 2; i++) {
      for (int k = 0; k < 40; k++) {
        Berth berth = new Berth();
        berth.next = k == 0 ? null : BERTHS.get(BERTHS.size() - 1);
        BERTHS.add(berth);
      }
      Path file = folder.resolve("harbour's " + i + ".hprof");
      ManagementFactory.getPlatformMXBean(HotSpotDiagnosticMXBean.class)
          .dumpHeap(file.toString(), true);
      SNAPSHOTS.add(
          Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
    }
  }

  @AfterAll
  static void close() throws Exception {
    for (Snapshot snapshot : SNAPSHOTS) {
      snapshot.close();
    }
  }

  private static SqlSession open(Path parquet) throws SQLException {
    return SqlSession.open(
        SNAPSHOTS, new SqlSession.Options(MINE, 256L << 20, folder.resolve("scratch"), parquet));
  }

  private static List<List<Object>> ask(SqlSession session, String question) throws Exception {
    List<List<Object>> rows = new ArrayList<>();
    session.ask(
        question,
        new SqlSession.Sink() {
          @Override
          public void columns(List<String> names, List<Boolean> numbers) {
            assertThat(names).hasSameSizeAs(numbers);
          }

          @Override
          public boolean row(List<Object> values) {
            rows.add(values);
            return true;
          }
        });
    return rows;
  }

  @Test
  void everyObjectHasTheFiguresOfTheIndex() throws Exception {
    Snapshot s = SNAPSHOTS.get(1);
    try (SqlSession session = open(null)) {
      List<List<Object>> rows =
          ask(
              session,
              "select node, id, type, shallow_bytes, retained_bytes, dominator, depth, strength,"
                  + " dominator_id from objects where snapshot like '%s 1.hprof' order by node");
      assertThat(rows).hasSize(s.objectCount());
      for (int n = 0; n < rows.size(); n++) {
        List<Object> row = rows.get(n);
        boolean kept = s.depth(n) > 0;
        int dominator = kept ? s.dominator(n) : -1;
        assertThat(row)
            .containsExactly(
                (long) n,
                s.id(n),
                s.typeName(n),
                s.shallowBytes(n),
                kept ? s.retainedBytes(n) : null,
                dominator < 0 ? null : (long) dominator,
                kept ? (long) s.depth(n) : null,
                s.strength(n).name().toLowerCase(java.util.Locale.ROOT),
                dominator < 0 ? null : s.id(dominator));
      }
    }
  }

  @Test
  void tablesOfSeveralSnapshotsAreOne() throws Exception {
    try (SqlSession session = open(null)) {
      String name = Berth.class.getName();
      assertThat(
              ask(
                  session,
                  "select count(*) from objects where type = '"
                      + name
                      + "' group by snapshot order by 1"))
          .isEqualTo(List.of(List.of(40L), List.of(80L)));
      assertThat(ask(session, "select sum(count) from types where type = '" + name + "'"))
          .isEqualTo(List.of(List.of(120L)));
      long all = SNAPSHOTS.get(0).objectCount() + (long) SNAPSHOTS.get(1).objectCount();
      assertThat(ask(session, "select count(*) from objects")).isEqualTo(List.of(List.of(all)));
      long roots = SNAPSHOTS.get(0).roots().size() + (long) SNAPSHOTS.get(1).roots().size();
      assertThat(ask(session, "select count(*) from roots")).isEqualTo(List.of(List.of(roots)));
      assertThat(ask(session, "select what, held_by, sentence from findings")).isNotNull();
    }
  }

  @Test
  void referencesAndFunctionsSayWhatTheReaderSays() throws Exception {
    Snapshot s = SNAPSHOTS.get(1);
    int node = -1;
    for (int n = 0; n < s.objectCount() && node < 0; n++) {
      node = s.typeName(n).equals(Berth.class.getName()) ? n : -1;
    }
    try (SqlSession session = open(null)) {
      List<Long> targets = new ArrayList<>();
      s.objects().references(node, reference -> targets.add((long) reference.target()));
      List<List<Object>> found =
          ask(
              session,
              "select to_node from refs where from_node = "
                  + node
                  + " and snapshot like '%s 1.hprof'");
      assertThat(found.stream().map(row -> (Long) row.get(0))).containsExactlyElementsOf(targets);
      String id = "('" + s.id(node) + "') where snapshot like '%s 1.hprof'";
      List<List<Object>> path = ask(session, "select id from path_to_root" + id);
      assertThat(path).hasSize(s.depth(node));
      assertThat(path.get(path.size() - 1)).isEqualTo(List.of(s.id(node)));
      List<List<Object>> referrers = ask(session, "select node from referrers" + id);
      assertThat(referrers).hasSize(s.inbound(node).size());
      assertThat(ask(session, "select count(*) from children" + id))
          .isEqualTo(List.of(List.of(childrenOf(s, node))));
      assertThatThrownBy(() -> ask(session, "select * from children('0x1')"))
          .hasMessageContaining("there is no object 0x1");
    }
  }

  private static long childrenOf(Snapshot s, int node) {
    long children = 0;
    for (int n = 0; n < s.objectCount(); n++) {
      children += s.depth(n) > 0 && s.dominator(n) == node ? 1 : 0;
    }
    return children;
  }

  /** An address may stand in two snapshots: for the same object, or by chance for another. */
  @Test
  void eachSnapshotThatHasAnIdentifierAnswers() throws Exception {
    Snapshot first = SNAPSHOTS.get(0);
    Snapshot second = SNAPSHOTS.get(1);
    String shared = null;
    for (int n = 0; n < first.objectCount() && shared == null; n++) {
      boolean both = first.depth(n) > 1 && second.nodeOf(first.id(n)) >= 0;
      shared = both && second.depth(second.nodeOf(first.id(n))) > 0 ? first.id(n) : null;
    }
    assertThat(shared).isNotNull();
    try (SqlSession session = open(null)) {
      for (Snapshot s : SNAPSHOTS) {
        String own = "('" + shared + "') where snapshot = '" + quoted(s) + "'";
        int node = s.nodeOf(shared);
        assertThat(ask(session, "select count(*) from path_to_root" + own))
            .isEqualTo(List.of(List.of((long) s.depth(node))));
        assertThat(ask(session, "select count(*) from referrers" + own))
            .isEqualTo(List.of(List.of((long) s.inbound(node).size())));
        assertThat(ask(session, "select count(*) from children" + own))
            .isEqualTo(List.of(List.of(childrenOf(s, node))));
      }
    }
  }

  private static String quoted(Snapshot s) {
    return s.file().toString().replace("'", "''");
  }

  /** A question comes from whoever wrote it down: it reaches nothing but the tables. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "select * from read_csv('/etc/hostname')",
        "select * from read_text('/etc/hostname')",
        "select * from '/etc/hostname'",
        "copy (select 1) to '/tmp/lipsanon-sql-test.csv'",
        "attach '/tmp/lipsanon-sql-test.db'",
        "install httpfs",
        "load httpfs",
        "set enable_external_access=true",
        "set allowed_paths=['/etc/hostname']",
        "select * from read_csv('http://127.0.0.1:1/x.csv')",
        "export database '/tmp/lipsanon-sql-test'"
      })
  void nothingElseIsWithinReach(String question) throws Exception {
    try (SqlSession session = open(folder.resolve("allowed.parquet"))) {
      assertThatThrownBy(() -> ask(session, question)).isInstanceOf(SQLException.class);
      assertThat(ask(session, "select 1")).as("it goes on").isEqualTo(List.of(List.of(1L)));
    }
    for (String left : List.of("/tmp/lipsanon-sql-test.csv", "/tmp/lipsanon-sql-test.db")) {
      assertThat(Path.of(left)).doesNotExist();
    }
  }

  @Test
  void parquetHoldsWhatTheTablesHold() throws Exception {
    Snapshot s = SNAPSHOTS.get(0);
    for (ParquetTables table : ParquetTables.values()) {
      Path file = folder.resolve(table + ".parquet");
      long rows =
          table.write(
              s, file, new SqlSession.Options(MINE, 256L << 20, folder.resolve("scratch"), null));
      assertThat(file).isNotEmptyFile();
      try (Connection other = DriverManager.getConnection("jdbc:duckdb:");
          Statement statement = other.createStatement();
          ResultSet result =
              statement.executeQuery(
                  "select count(*) from read_parquet('"
                      + file.toString().replace("'", "''")
                      + "')")) {
        assertThat(result.next()).isTrue();
        assertThat(result.getLong(1)).isEqualTo(rows);
      }
    }
    try (Connection other = DriverManager.getConnection("jdbc:duckdb:");
        Statement statement = other.createStatement();
        ResultSet result =
            statement.executeQuery(
                "select count(*), sum(\"shallowBytes\"), count(dominator) from read_parquet('"
                    + folder.resolve("OBJECTS.parquet").toString().replace("'", "''")
                    + "')")) {
      assertThat(result.next()).isTrue();
      long shallow = 0;
      long dominated = 0;
      for (int n = 0; n < s.objectCount(); n++) {
        shallow += s.shallowBytes(n);
        dominated += s.depth(n) > 0 && s.dominator(n) >= 0 ? 1 : 0;
      }
      assertThat(result.getLong(1)).isEqualTo(s.objectCount());
      assertThat(result.getLong(2)).isEqualTo(shallow);
      assertThat(result.getLong(3)).isEqualTo(dominated);
    }
    assertThat(Files.size(folder.resolve("OBJECTS.parquet"))).isLessThan(Files.size(s.file()));
  }
}
