package lipsanon.sql;

import static lipsanon.sql.Columns.ID;
import static lipsanon.sql.Columns.NODE;
import static lipsanon.sql.Columns.RETAINED;
import static lipsanon.sql.Columns.SHALLOW;
import static lipsanon.sql.Columns.SNAPSHOT;
import static lipsanon.sql.Columns.TYPE;

import java.io.IOException;
import java.sql.SQLException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.index.Via;
import lipsanon.label.Closed;
import lipsanon.label.Step;
import lipsanon.question.WhyAnswer;
import lipsanon.question.WhyQuestion;
import org.duckdb.DuckDBColumnType;

/** Functions that answer for single objects from the index. */
final class ObjectFunctions {
  static final List<String> NAMES = List.of("path_to_root", "children", "referrers");

  private final List<Snapshot> snapshots;

  ObjectFunctions(List<Snapshot> snapshots) {
    this.snapshots = snapshots;
  }

  /** By name: each takes an identifier. */
  Map<String, RowsTable> all() {
    Table.Column via = Columns.text("via");
    List<Table.Column> row = List.of(SNAPSHOT, NODE, ID, TYPE, via, SHALLOW, RETAINED);
    Table.Column step = new Table.Column("step", DuckDBColumnType.INTEGER);
    List<Table.Column> steps = List.of(SNAPSHOT, step, ID, TYPE, via, RETAINED);
    return Map.of(
        NAMES.get(0), function(steps, ObjectFunctions::path),
        NAMES.get(1), function(row, ObjectFunctions::children),
        NAMES.get(2), function(row, ObjectFunctions::referrers));
  }

  /** An object, and the snapshot that has it. */
  private record Found(Snapshot snapshot, int node) {}

  /** What a function answers about an object. */
  private interface About {
    List<Object[]> of(Found found) throws IOException;
  }

  private RowsTable function(List<Table.Column> columns, About about) {
    RowsTable.Arguments argument = info -> find(info.getParameter(0).getString());
    RowsTable.Rows rows =
        given -> {
          List<Object[]> all = new ArrayList<>();
          for (Object found : (List<?>) given) {
            all.addAll(about.of((Found) found));
          }
          return all.iterator();
        };
    return new RowsTable(columns, -1, argument, rows);
  }

  /**
   * The objects with an identifier: one of each snapshot that has it. An address that stands in two
   * snapshots of a JVM may well be of two objects.
   */
  private List<Found> find(String id) throws SQLException {
    List<Found> all = new ArrayList<>();
    for (Snapshot snapshot : snapshots) {
      int node = snapshot.nodeOf(id);
      if (node >= 0) {
        all.add(new Found(snapshot, node));
      }
    }
    if (all.isEmpty()) {
      throw new SQLException("there is no object " + id);
    }
    return all;
  }

  private static List<Object[]> path(Found found) throws IOException {
    List<Object[]> rows = new ArrayList<>();
    String name = found.snapshot.file().toString();
    WhyAnswer answer = WhyQuestion.ofObject(found.snapshot, found.node, true, Closed.NAMES);
    if (!answer.paths().isEmpty()) {
      for (Step step : answer.paths().get(0).steps()) {
        rows.add(
            new Object[] {
              name, rows.size(), step.id(), step.type(), step.via(), step.retainedBytes()
            });
      }
    }
    return rows;
  }

  private static Object[] row(Snapshot snapshot, int node, int from, int to) throws IOException {
    Via via = snapshot.objects().viaTo(from, to);
    return new Object[] {
      snapshot.file().toString(),
      node,
      snapshot.id(node),
      snapshot.typeName(node),
      via == null ? null : via.text(),
      snapshot.shallowBytes(node),
      snapshot.retainedBytes(node)
    };
  }

  private static List<Object[]> children(Found found) throws IOException {
    List<Object[]> rows = new ArrayList<>();
    Snapshot snapshot = found.snapshot;
    long[] block = new long[64];
    for (int start = 0; start < snapshot.objectCount(); start += block.length) {
      int some = snapshot.dominatorColumn().block(start / block.length, block);
      for (int i = 0; i < some; i++) {
        if (block[i] != 0 && start + i - block[i] == found.node) {
          rows.add(row(snapshot, start + i, found.node, start + i));
        }
      }
    }
    return rows;
  }

  private static List<Object[]> referrers(Found found) throws IOException {
    List<Object[]> rows = new ArrayList<>();
    IntList inbound = found.snapshot.inbound(found.node);
    for (int i = 0; i < inbound.size(); i++) {
      rows.add(row(found.snapshot, inbound.get(i), inbound.get(i), found.node));
    }
    return rows;
  }
}
