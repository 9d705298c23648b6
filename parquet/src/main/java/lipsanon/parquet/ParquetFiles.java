package lipsanon.parquet;

import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import lipsanon.question.TableFiles;

/** The service: tables as Parquet files. */
public final class ParquetFiles implements TableFiles {
  @Override
  public TableFile create(Path file, List<Column> columns) throws IOException {
    return ParquetFile.create(file, columns);
  }
}
