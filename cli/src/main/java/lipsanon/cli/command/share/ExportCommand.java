package lipsanon.cli.command.share;

import java.io.IOException;
import java.io.Writer;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Objects;
import java.util.stream.Stream;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.command.SnapshotCommand;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportQuestion;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "export",
    description =
        "All objects, references, types and roots as tables: CSV, or by file ending JSON Lines"
            + " (.jsonl) or Parquet (.parquet).")
public final class ExportCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(
      names = "--objects",
      paramLabel = "FILE",
      description = "Where all objects go (- for standard output).")
  private Path objects;

  @Option(
      names = "--references",
      paramLabel = "FILE",
      description = "Where all references go (- too).")
  private Path references;

  @Option(names = "--types", paramLabel = "FILE", description = "Where all types go (- too).")
  private Path types;

  @Option(names = "--roots", paramLabel = "FILE", description = "Where all roots go (- too).")
  private Path roots;

  @Option(names = "--force", description = "Overwrite files that are there.")
  private boolean force;

  /** The answer. */
  record Exported(
      String objects,
      String references,
      String types,
      String roots,
      long objectRows,
      long referenceRows,
      long typeRows,
      long rootRows) {}

  /** The command. */
  public ExportCommand(Context context) {
    super(context);
  }

  /** Writes one of the tables. */
  private interface Fill {
    void fill(Snapshot snapshot, ExportQuestion.Rows rows, TerminalProgress progress)
        throws IOException;
  }

  @Override
  public Integer call() throws Exception {
    List<Path> targets =
        Stream.of(objects, references, types, roots).filter(Objects::nonNull).toList();
    if (targets.isEmpty()) {
      throw new UsageException("give --objects, --references, --types or --roots FILE, or several");
    }
    long out = targets.stream().filter(ExportCommand::isOut).count();
    if (out > 1) {
      throw new UsageException("only one table can go to standard output");
    }
    for (Path target : targets) {
      if (!isOut(target)) {
        ExportTarget.check(target, force);
      }
    }
    TypeFilter mine = new TypeFilter(null, minePackages(), false);
    try (Snapshot snapshot = open(file)) {
      Exported exported =
          new Exported(
              text(objects),
              text(references),
              text(types),
              text(roots),
              write(snapshot, objects, ExportQuestion.OBJECT_COLUMNS, ExportQuestion::objects),
              write(
                  snapshot,
                  references,
                  ExportQuestion.REFERENCE_COLUMNS,
                  ExportQuestion::references),
              write(
                  snapshot,
                  types,
                  ExportQuestion.TYPE_COLUMNS,
                  (of, rows, progress) -> ExportQuestion.types(of, mine, rows)),
              write(
                  snapshot,
                  roots,
                  ExportQuestion.ROOT_COLUMNS,
                  (of, rows, progress) -> ExportQuestion.roots(of, rows)));
      if (out > 0) {
        return ExitCodes.FINE;
      }
      print("export", exported, () -> new View().line(told(exported)));
    }
    return ExitCodes.FINE;
  }

  private static String told(Exported exported) {
    List<String> parts = new ArrayList<>();
    if (exported.objects() != null) {
      parts.add(Format.count(exported.objectRows()) + " objects");
    }
    if (exported.references() != null) {
      parts.add(Format.count(exported.referenceRows()) + " references (roots included)");
    }
    if (exported.types() != null) {
      parts.add(Format.count(exported.typeRows()) + " types");
    }
    if (exported.roots() != null) {
      parts.add(Format.count(exported.rootRows()) + " roots");
    }
    String last = parts.remove(parts.size() - 1);
    return "Wrote " + (parts.isEmpty() ? last : String.join(", ", parts) + " and " + last) + ".";
  }

  /** Whether a table goes to standard output. */
  private static boolean isOut(Path target) {
    return target != null && target.toString().equals("-");
  }

  private static String text(Path path) {
    return path == null ? null : path.toString();
  }

  private long write(Snapshot snapshot, Path target, List<String> columns, Fill fill)
      throws IOException {
    if (target == null) {
      return 0;
    }
    if (isOut(target)) {
      // what is drawn on a terminal would be mixed with the rows
      try (TerminalProgress none = new TerminalProgress(context.err(), false)) {
        return rows(snapshot, context.out(), false, columns, fill, none);
      } finally {
        context.out().flush();
      }
    }
    if (target.toString().endsWith(".parquet")) {
      try (TerminalProgress progress = context.progress()) {
        ParquetExport.Fill rows = to -> fill.fill(snapshot, to, progress);
        return new ParquetExport(this).write(snapshot, target, columns, rows);
      }
    }
    try (TerminalProgress progress = context.progress();
        ExportTarget file = ExportTarget.open(target)) {
      boolean json = target.toString().endsWith(".jsonl") || target.toString().endsWith(".json");
      long count = rows(snapshot, file.writer(), json, columns, fill, progress);
      file.finish();
      return count;
    }
  }

  private long rows(
      Snapshot snapshot,
      Writer out,
      boolean json,
      List<String> columns,
      Fill fill,
      TerminalProgress progress)
      throws IOException {
    long[] count = new long[1];
    TextRows rows = json ? new JsonRows(out, columns) : new CsvRows(out, columns, raw());
    fill.fill(
        snapshot,
        values -> {
          count[0]++;
          rows.row(values);
        },
        progress);
    rows.flush();
    return count[0];
  }
}
