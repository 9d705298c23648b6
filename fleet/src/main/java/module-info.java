/** Many snapshots as tasks: each is reduced to rows of tables, here or on a cluster. */
module lipsanon.fleet {
  requires transitive lipsanon.core;
  requires transitive java.sql;
  requires duckdb.jdbc;
  requires com.fasterxml.jackson.core;
  requires org.apache.commons.csv;
  requires jdk.management;

  exports lipsanon.fleet;
}
