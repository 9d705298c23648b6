package lipsanon.sql;

import java.util.List;
import java.util.Locale;
import java.util.concurrent.atomic.AtomicInteger;
import lipsanon.graph.Strength;
import lipsanon.graph.Workers;
import lipsanon.index.PackedColumn;
import lipsanon.index.Snapshot;
import org.duckdb.DuckDBColumnType;
import org.duckdb.DuckDBDataChunkWriter;
import org.duckdb.DuckDBTableFunctionBindInfo;
import org.duckdb.DuckDBWritableVector;

/** All objects of a snapshot, straight from the mapped columns. */
final class ObjectsTable extends Table<Object> {
  private static final int BLOCK = 64;
  private static final int NODE = 0;
  private static final int ID = 1;
  private static final int TYPE = 2;
  private static final int SHALLOW = 3;
  private static final int RETAINED = 4;
  private static final int DOMINATOR = 5;
  private static final int DEPTH = 6;
  private static final int STRENGTH = 7;
  private static final int DOMINATOR_ID = 8;
  private static final String[] STRENGTHS = names();

  private final Snapshot snapshot;

  ObjectsTable(Snapshot snapshot) {
    super(
        List.of(
            new Column("node", DuckDBColumnType.INTEGER),
            new Column("id", DuckDBColumnType.VARCHAR),
            new Column("type_id", DuckDBColumnType.INTEGER),
            new Column("shallow_bytes", DuckDBColumnType.BIGINT),
            new Column("retained_bytes", DuckDBColumnType.BIGINT),
            new Column("dominator", DuckDBColumnType.INTEGER),
            new Column("depth", DuckDBColumnType.INTEGER),
            new Column("strength", DuckDBColumnType.VARCHAR),
            new Column("dominator_id", DuckDBColumnType.VARCHAR)));
    this.snapshot = snapshot;
  }

  private static String[] names() {
    Strength[] all = Strength.values();
    String[] names = new String[all.length];
    for (int i = 0; i < names.length; i++) {
      names[i] = all[i].name().toLowerCase(Locale.ROOT);
    }
    return names;
  }

  @Override
  Object arguments(DuckDBTableFunctionBindInfo info) {
    return "";
  }

  @Override
  long count(Object arguments) {
    return snapshot.objectCount();
  }

  @Override
  int threads() {
    return Workers.threads();
  }

  @Override
  Scan scan(Object arguments) {
    AtomicInteger next = new AtomicInteger();
    return new Scan() {
      @Override
      int rows(DuckDBDataChunkWriter out, int capacity) {
        int piece = capacity / BLOCK * BLOCK;
        int from = next.getAndAdd(piece);
        if (from < 0 || from >= snapshot.objectCount()) {
          return 0;
        }
        int count = Math.min(piece, snapshot.objectCount() - from);
        fill(this, out, from, count);
        return count;
      }
    };
  }

  private void fill(Scan scan, DuckDBDataChunkWriter out, int from, int count) {
    long[] block = new long[BLOCK];
    long[] depths = new long[BLOCK];
    long unit = snapshot.unitBytes();
    numbers(scan.vector(out, TYPE), snapshot.typeColumn(), from, count, block);
    DuckDBWritableVector shallow = scan.vector(out, SHALLOW);
    DuckDBWritableVector retained = scan.vector(out, RETAINED);
    DuckDBWritableVector dominator = scan.vector(out, DOMINATOR);
    DuckDBWritableVector depth = scan.vector(out, DEPTH);
    for (int start = 0; start < count; start += BLOCK) {
      int some = Math.min(BLOCK, count - start);
      long number = (from + start) / BLOCK;
      if (shallow != null) {
        snapshot.shallowColumn().block(number, block);
        for (int i = 0; i < some; i++) {
          shallow.setLong(start + i, block[i] * unit);
        }
      }
      if (retained == null && dominator == null && depth == null) {
        continue;
      }
      snapshot.depthColumn().block(number, depths);
      for (int i = 0; i < some && depth != null; i++) {
        integer(depth, start + i, (int) depths[i], depths[i] > 0);
      }
      if (retained != null) {
        snapshot.retainedColumn().block(number, block);
        for (int i = 0; i < some; i++) {
          if (depths[i] > 0) {
            retained.setLong(start + i, block[i] * unit);
          } else {
            retained.setNull(start + i);
          }
        }
      }
      if (dominator != null) {
        snapshot.dominatorColumn().block(number, block);
        for (int i = 0; i < some; i++) {
          int node = from + start + i;
          integer(dominator, start + i, (int) (node - block[i]), depths[i] > 0 && block[i] != 0);
        }
      }
    }
    words(scan, out, from, count);
  }

  private void words(Scan scan, DuckDBDataChunkWriter out, int from, int count) {
    DuckDBWritableVector node = scan.vector(out, NODE);
    DuckDBWritableVector id = scan.vector(out, ID);
    DuckDBWritableVector strength = scan.vector(out, STRENGTH);
    DuckDBWritableVector above = scan.vector(out, DOMINATOR_ID);
    for (int i = 0; i < count; i++) {
      if (node != null) {
        node.setInt(i, from + i);
      }
      if (id != null) {
        id.setString(i, snapshot.id(from + i));
      }
      if (above != null) {
        int dominator = snapshot.depth(from + i) == 0 ? -1 : snapshot.dominator(from + i);
        if (dominator >= 0) {
          above.setString(i, snapshot.id(dominator));
        } else {
          above.setNull(i);
        }
      }
      if (strength != null) {
        strength.setString(i, STRENGTHS[snapshot.strength(from + i).ordinal()]);
      }
    }
  }

  private static void integer(DuckDBWritableVector to, int row, int value, boolean there) {
    if (there) {
      to.setInt(row, value);
    } else {
      to.setNull(row);
    }
  }

  private static void numbers(
      DuckDBWritableVector to, PackedColumn column, int from, int count, long[] block) {
    for (int start = 0; to != null && start < count; start += BLOCK) {
      column.block((from + start) / BLOCK, block);
      for (int i = 0; i < Math.min(BLOCK, count - start); i++) {
        to.setInt(start + i, (int) block[i]);
      }
    }
  }
}
