package lipsanon.sql;

import java.util.List;
import org.duckdb.DuckDBColumnType;
import org.duckdb.DuckDBDataChunkWriter;
import org.duckdb.DuckDBTableFunction;
import org.duckdb.DuckDBTableFunctionBindInfo;
import org.duckdb.DuckDBTableFunctionCallInfo;
import org.duckdb.DuckDBTableFunctionInitInfo;
import org.duckdb.DuckDBWritableVector;

/**
 * A table for the engine: rows that a scan makes, of the columns that a question asks for.
 *
 * @param <B> what the arguments of a call stand for; of tables without arguments nothing
 */
abstract class Table<B> implements DuckDBTableFunction<B, Table.Scan, Object> {
  private final List<Column> columns;

  /** A column. */
  record Column(String name, DuckDBColumnType type) {}

  Table(List<Column> columns) {
    this.columns = columns;
  }

  /** Rows of a scan, by one or several threads. */
  abstract static class Scan {
    /** The numbers of the columns that are wanted, in the order in which they are. */
    int[] wanted;

    /**
     * Fills rows.
     *
     * @return how many; 0 at the end
     */
    abstract int rows(DuckDBDataChunkWriter out, int capacity) throws Exception;

    /** Where a column goes, or null if it is not wanted. */
    final DuckDBWritableVector vector(DuckDBDataChunkWriter out, int column) {
      for (int k = 0; k < wanted.length; k++) {
        if (wanted[k] == column) {
          return out.vector(k);
        }
      }
      return null;
    }
  }

  /** What a call's arguments stand for. */
  abstract B arguments(DuckDBTableFunctionBindInfo info) throws Exception;

  /** How many rows there are, or -1 if that is not known. */
  abstract long count(B arguments) throws Exception;

  abstract Scan scan(B arguments) throws Exception;

  /** How many threads may scan. */
  abstract int threads();

  @Override
  public final B bind(DuckDBTableFunctionBindInfo info) throws Exception {
    for (Column column : columns) {
      info.addResultColumn(column.name(), column.type());
    }
    B arguments = arguments(info);
    long count = count(arguments);
    if (count >= 0) {
      info.setCardinality(count, true);
    }
    return arguments;
  }

  @Override
  public final Scan init(DuckDBTableFunctionInitInfo info) throws Exception {
    Scan scan = scan(info.getBindData());
    scan.wanted = new int[(int) info.getColumnCount()];
    for (int k = 0; k < scan.wanted.length; k++) {
      // where only rows are counted, no column is asked for
      scan.wanted[k] = (int) info.getColumnIndex(k);
    }
    info.setMaxThreads(threads());
    return scan;
  }

  @Override
  public final long apply(DuckDBTableFunctionCallInfo call, DuckDBDataChunkWriter out)
      throws Exception {
    Scan scan = call.getInitData();
    return scan.rows(out, (int) out.capacity());
  }
}
