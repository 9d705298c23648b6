package lipsanon.cli.command.share;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.sql.SQLException;
import java.util.List;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.ScratchFolder;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportQuestion;
import lipsanon.sql.ParquetTables;
import lipsanon.sql.SqlSession;

/** Tables as Parquet, by the engine that questions in SQL are asked with. */
final class ParquetExport {
  private final SnapshotCommand command;

  ParquetExport(SnapshotCommand command) {
    this.command = command;
  }

  /** Writes a table under another name first; its rows. */
  long write(Snapshot snapshot, Path target, List<String> columns) throws IOException {
    Path folder = target.toAbsolutePath().getParent();
    try (ScratchFolder scratch = ScratchFolder.in(folder, "parquet")) {
      Path part = scratch.path().resolve("table.parquet");
      SqlSession.Options options =
          new SqlSession.Options(
              new TypeFilter(null, command.minePackages(), false),
              Math.max(128L << 20, Runtime.getRuntime().maxMemory() / 2),
              scratch.path(),
              null);
      ParquetTables table =
          columns.equals(ExportQuestion.OBJECT_COLUMNS)
              ? ParquetTables.OBJECTS
              : ParquetTables.REFERENCES;
      long rows = table.write(snapshot, part, options);
      if (Files.getFileStore(part).supportsFileAttributeView("posix")) {
        // as all that is taken out of a heap: for its owner only
        Files.setPosixFilePermissions(part, PosixFilePermissions.fromString("rw-------"));
      }
      Files.move(part, target, StandardCopyOption.REPLACE_EXISTING);
      return rows;
    } catch (SQLException e) {
      throw new IOException(target + ": " + e.getMessage());
    } catch (NoClassDefFoundError | UnsatisfiedLinkError e) {
      throw new UsageException(
          target + ": the engine that writes Parquet is not there for this machine: write .csv");
    }
  }
}
