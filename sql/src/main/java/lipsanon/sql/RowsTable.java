package lipsanon.sql;

import java.util.Iterator;
import java.util.List;
import org.duckdb.DuckDBDataChunkWriter;
import org.duckdb.DuckDBTableFunctionBindInfo;
import org.duckdb.DuckDBWritableVector;

/**
 * A table whose rows come one by one: of small tables, and of what an object is asked for. One
 * thread.
 */
final class RowsTable extends Table<Object> {
  private final Arguments arguments;
  private final Rows rows;
  private final long count;

  /** Reads the arguments of a call. */
  interface Arguments {
    Object of(DuckDBTableFunctionBindInfo info) throws Exception;
  }

  /** Makes rows: integers, longs, texts, null. */
  interface Rows {
    Iterator<Object[]> of(Object arguments) throws Exception;
  }

  RowsTable(List<Column> columns, long count, Arguments arguments, Rows rows) {
    super(columns);
    this.count = count;
    this.arguments = arguments;
    this.rows = rows;
  }

  @Override
  Object arguments(DuckDBTableFunctionBindInfo info) throws Exception {
    return arguments.of(info);
  }

  @Override
  long count(Object given) {
    return count;
  }

  @Override
  int threads() {
    return 1;
  }

  @Override
  Scan scan(Object given) throws Exception {
    Iterator<Object[]> all = rows.of(given);
    return new Scan() {
      @Override
      int rows(DuckDBDataChunkWriter out, int capacity) {
        int count = 0;
        while (count < capacity && all.hasNext()) {
          Object[] row = all.next();
          for (int k = 0; k < wanted.length; k++) {
            if (wanted[k] >= 0 && wanted[k] < row.length) {
              set(out.vector(k), count, row[wanted[k]]);
            }
          }
          count++;
        }
        return count;
      }
    };
  }

  private static void set(DuckDBWritableVector to, int row, Object value) {
    if (value == null) {
      to.setNull(row);
    } else if (value instanceof Integer number) {
      to.setInt(row, number);
    } else if (value instanceof Long number) {
      to.setLong(row, number);
    } else if (value instanceof Boolean truth) {
      to.setBoolean(row, truth);
    } else {
      to.setString(row, value.toString());
    }
  }
}
