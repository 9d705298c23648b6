package lipsanon.sql;

import org.duckdb.DuckDBColumnType;

/** Columns that several tables have. */
final class Columns {
  static final Table.Column SNAPSHOT = text("snapshot");
  static final Table.Column NODE = new Table.Column("node", DuckDBColumnType.INTEGER);
  static final Table.Column ID = text("id");
  static final Table.Column TYPE = text("type");
  static final Table.Column SHALLOW = number("shallow_bytes");
  static final Table.Column RETAINED = number("retained_bytes");

  private Columns() {}

  static Table.Column text(String name) {
    return new Table.Column(name, DuckDBColumnType.VARCHAR);
  }

  static Table.Column number(String name) {
    return new Table.Column(name, DuckDBColumnType.BIGINT);
  }
}
