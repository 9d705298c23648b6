package lipsanon.cli.command;

import com.fasterxml.jackson.core.JsonFactory;
import com.fasterxml.jackson.core.JsonGenerator;
import com.fasterxml.jackson.core.util.MinimalPrettyPrinter;
import java.io.BufferedWriter;
import java.io.IOException;
import java.io.Writer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.util.List;
import lipsanon.analysis.ExportQuestion;
import lipsanon.cli.Context;
import lipsanon.cli.ExitCodes;
import lipsanon.cli.UsageException;
import lipsanon.cli.term.Format;
import lipsanon.cli.term.TerminalProgress;
import lipsanon.cli.term.View;
import lipsanon.index.Snapshot;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import picocli.CommandLine.Command;
import picocli.CommandLine.Option;
import picocli.CommandLine.Parameters;

@Command(
    name = "export",
    description = "All objects and references as tables: CSV, or JSON Lines by file ending .jsonl.")
final class ExportCommand extends SnapshotCommand {
  @Parameters(index = "0", paramLabel = "SNAPSHOT", description = "A heap snapshot.")
  private Path file;

  @Option(names = "--objects", paramLabel = "FILE", description = "Where all objects go.")
  private Path objects;

  @Option(names = "--references", paramLabel = "FILE", description = "Where all references go.")
  private Path references;

  @Option(names = "--force", description = "Overwrite files that are there.")
  private boolean force;

  /** The answer. */
  record Exported(String objects, String references, long objectRows, long referenceRows) {}

  ExportCommand(Context context) {
    super(context);
  }

  /** Writes one of the tables. */
  private interface Fill {
    void fill(Snapshot snapshot, ExportQuestion.Rows rows, TerminalProgress progress)
        throws IOException;
  }

  @Override
  public Integer call() throws Exception {
    if (objects == null && references == null) {
      throw new UsageException("give --objects FILE, --references FILE, or both");
    }
    for (Path target : new Path[] {objects, references}) {
      if (target != null && Files.exists(target) && !force) {
        throw new UsageException(target + " is there already; give another name or --force");
      }
    }
    try (Snapshot snapshot = open(file)) {
      long objectRows =
          write(snapshot, objects, ExportQuestion.OBJECT_COLUMNS, ExportQuestion::objects);
      long referenceRows =
          write(snapshot, references, ExportQuestion.REFERENCE_COLUMNS, ExportQuestion::references);
      Exported exported = new Exported(text(objects), text(references), objectRows, referenceRows);
      print(
          "export",
          exported,
          () ->
              new View()
                  .line(
                      "Wrote "
                          + Format.count(objectRows)
                          + " objects and "
                          + Format.count(referenceRows)
                          + " references (roots included)."));
    }
    return ExitCodes.FINE;
  }

  private static String text(Path path) {
    return path == null ? null : path.toString();
  }

  private long write(Snapshot snapshot, Path target, List<String> columns, Fill fill)
      throws IOException {
    if (target == null) {
      return 0;
    }
    Path temporary = target.resolveSibling("." + target.getFileName() + ".part");
    long[] count = new long[1];
    try (TerminalProgress progress = context.progress()) {
      try (BufferedWriter out = Files.newBufferedWriter(temporary)) {
        ExportQuestion.Rows rows =
            target.toString().endsWith(".jsonl") || target.toString().endsWith(".json")
                ? jsonLines(out, columns)
                : csv(out, columns);
        fill.fill(
            snapshot,
            values -> {
              count[0]++;
              rows.row(values);
            },
            progress);
      }
      Files.move(temporary, target, StandardCopyOption.REPLACE_EXISTING);
    } finally {
      Files.deleteIfExists(temporary);
    }
    return count[0];
  }

  private static ExportQuestion.Rows csv(Writer out, List<String> columns) throws IOException {
    CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180);
    printer.printRecord(columns);
    return printer::printRecord;
  }

  private static ExportQuestion.Rows jsonLines(Writer out, List<String> columns)
      throws IOException {
    JsonGenerator json = new JsonFactory().createGenerator(out);
    json.setPrettyPrinter(new MinimalPrettyPrinter("\n"));
    return values -> {
      json.writeStartObject();
      for (int i = 0; i < values.length; i++) {
        json.writeFieldName(columns.get(i));
        if (values[i] == null) {
          json.writeNull();
        } else if (values[i] instanceof Long number) {
          json.writeNumber(number);
        } else {
          json.writeString(values[i].toString());
        }
      }
      json.writeEndObject();
      json.flush();
    };
  }
}
