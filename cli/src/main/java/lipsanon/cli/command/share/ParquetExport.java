package lipsanon.cli.command.share;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.SQLException;
import java.util.List;
import java.util.Map;
import java.util.ServiceLoader;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportQuestion;
import lipsanon.question.TableFiles;
import lipsanon.sql.ParquetTables;
import lipsanon.sql.SqlSession;

/**
 * Tables as Parquet: by the engine that questions in SQL are asked with, or, where it has no native
 * part for the machine, by a small library, which takes longer. {@code LIPSANON_WITHOUT_ENGINE}
 * asks for the latter, for tests.
 */
final class ParquetExport {
  private static final Map<List<String>, ParquetTables> TABLES =
      Map.of(
          ExportQuestion.OBJECT_COLUMNS, ParquetTables.OBJECTS,
          ExportQuestion.REFERENCE_COLUMNS, ParquetTables.REFERENCES,
          ExportQuestion.TYPE_COLUMNS, ParquetTables.TYPES,
          ExportQuestion.ROOT_COLUMNS, ParquetTables.ROOTS);

  private final SnapshotCommand command;

  ParquetExport(SnapshotCommand command) {
    this.command = command;
  }

  /** Writes all rows of a table. */
  interface Fill {
    void to(ExportQuestion.Rows rows) throws IOException;
  }

  /** Writes a table under another name first; its rows. */
  long write(Snapshot snapshot, Path target, List<String> columns, Fill fill) throws IOException {
    Path folder = target.toAbsolutePath().getParent();
    try (ScratchFolder scratch = ScratchFolder.in(folder, "parquet")) {
      Path part = scratch.path().resolve("table.parquet");
      long rows = write(snapshot, scratch.path(), part, columns, fill);
      if (Files.getFileStore(part).supportsFileAttributeView("posix")) {
        // as all that is taken out of a heap: for its owner only
        Files.setPosixFilePermissions(part, PosixFilePermissions.fromString("rw-------"));
      }
      Files.move(part, target, StandardCopyOption.REPLACE_EXISTING);
      return rows;
    } catch (SQLException e) {
      throw new IOException(target + ": " + e.getMessage());
    }
  }

  private long write(Snapshot snapshot, Path scratch, Path part, List<String> columns, Fill fill)
      throws IOException, SQLException {
    SqlSession.Options options =
        new SqlSession.Options(
            new TypeFilter(null, command.minePackages(), false),
            Math.max(128L << 20, Runtime.getRuntime().maxMemory() / 2),
            scratch,
            null);
    String without = command.context.environment().get("LIPSANON_WITHOUT_ENGINE");
    try {
      if (without == null) {
        return TABLES.get(columns).write(snapshot, part, options);
      }
    } catch (NoClassDefFoundError | UnsatisfiedLinkError e) {
      // the other way
    }
    return bySmallLibrary(part, columns, fill);
  }

  private static long bySmallLibrary(Path part, List<String> columns, Fill fill)
      throws IOException {
    TableFiles files =
        ServiceLoader.load(TableFiles.class)
            .findFirst()
            .orElseThrow(
                () ->
                    new UsageException(
                        "what writes Parquet is not part of this installation: write .csv"));
    long[] count = {0};
    try (TableFiles.TableFile file =
        files.create(part, columns.stream().map(ParquetExport::column).toList())) {
      fill.to(
          values -> {
            file.row(values);
            count[0]++;
          });
    }
    return count[0];
  }

  /** The columns are those that the engine writes. */
  private static TableFiles.Column column(String name) {
    TableFiles.Kind kind =
        name.endsWith("Bytes") || name.equals("count")
            ? TableFiles.Kind.LONG
            : switch (name) {
              case "depth" -> TableFiles.Kind.INT;
              case "own" -> TableFiles.Kind.BOOLEAN;
              default -> TableFiles.Kind.TEXT;
            };
    return new TableFiles.Column(name, kind);
  }
}
