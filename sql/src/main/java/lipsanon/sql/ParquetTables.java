package lipsanon.sql;

import java.io.IOException;
import java.nio.file.Path;
import java.sql.SQLException;
import java.util.List;
import lipsanon.index.Snapshot;

/**
 * Tables of a snapshot as Parquet files, zstd-compressed, streamed in bounded memory. Version 1 of
 * their columns: objects {@code id, type, shallowBytes, retainedBytes, dominator, depth, strength};
 * references {@code from, to, kind, via}, where roots have no {@code from}; types {@code type,
 * loader, own, count, shallowBytes, retainedBytes}; roots {@code id, kind, detail}.
 */
public enum ParquetTables {
  /** All objects. */
  OBJECTS(
      "SELECT id, type, shallow_bytes AS \"shallowBytes\", retained_bytes AS \"retainedBytes\","
          + " dominator_id AS dominator, depth, strength FROM objects"),
  /** All references, and the roots as references from nowhere. */
  REFERENCES(
      "SELECT from_id AS \"from\", to_id AS \"to\", kind, via FROM refs"
          // what a thread's frame holds is a reference of the thread
          + " UNION ALL SELECT NULL, id, 'root', kind FROM roots WHERE thread IS NULL"),
  /** All types. */
  TYPES(
      "SELECT type, loader, own, count, shallow_bytes AS \"shallowBytes\","
          + " retained_bytes AS \"retainedBytes\" FROM types"),
  /** All roots. */
  ROOTS("SELECT id, kind, detail FROM roots");

  private final String question;

  ParquetTables(String question) {
    this.question = question;
  }

  /** Writes the table of an open snapshot to a file; its rows. */
  public long write(Snapshot snapshot, Path file, SqlSession.Options options)
      throws SQLException, IOException {
    SqlSession.Options one =
        new SqlSession.Options(options.mine(), options.memoryBytes(), options.scratch(), file);
    try (SqlSession session = SqlSession.open(List.of(snapshot), one)) {
      return session.parquet(question, file);
    }
  }
}
