/**
 * Parquet files without the SQL engine, for machines that it has no native part for: {@link
 * lipsanon.parquet.ParquetFiles}.
 */
package lipsanon.parquet;
