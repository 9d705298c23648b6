/** SQL over the columns of snapshots, by an embedded engine that reads them where they lie. */
module lipsanon.sql {
  requires transitive lipsanon.core;
  requires transitive java.sql;
  requires duckdb.jdbc;

  exports lipsanon.sql;
}
