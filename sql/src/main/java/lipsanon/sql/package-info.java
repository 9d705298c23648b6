/**
 * SQL over snapshots. An embedded engine reads the mapped columns of indexes through table
 * functions: nothing is loaded or copied. Begin with {@link lipsanon.sql.SqlSession}.
 */
package lipsanon.sql;
