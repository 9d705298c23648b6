package lipsanon.question;

import java.io.Closeable;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;

/** Writes tables to files of a format; found as a service, so that its libraries may be absent. */
public interface TableFiles {
  /** What a column holds; all may be null. */
  enum Kind {
    /** Texts. */
    TEXT,
    /** Whole numbers of 64 bits. */
    LONG,
    /** Whole numbers of 32 bits. */
    INT,
    /** True or false. */
    BOOLEAN
  }

  /** A column. */
  record Column(String name, Kind kind) {}

  /** A file that is being written. */
  interface TableFile extends Closeable {
    /** Adds a row: a value or null for each column. */
    void row(Object... values) throws IOException;
  }

  /** Begins a file; one that is there is overwritten. */
  TableFile create(Path file, List<Column> columns) throws IOException;
}
