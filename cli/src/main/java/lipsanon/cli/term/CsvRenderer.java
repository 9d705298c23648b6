package lipsanon.cli.term;

import java.io.IOException;
import java.io.PrintWriter;
import java.util.List;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;

/** Writes the largest table of a view as CSV (RFC 4180), sizes in bytes and shares as fractions. */
public final class CsvRenderer {
  private final PrintWriter out;

  /** Writes to a stream. */
  public CsvRenderer(PrintWriter out) {
    this.out = out;
  }

  /** Writes the table that has most rows, the first of these. */
  public void render(View view) throws IOException {
    Table main = null;
    for (View.Block block : view.blocks()) {
      if (block instanceof Table table
          && (main == null || table.rows().size() > main.rows().size())) {
        main = table;
      }
    }
    if (main == null) {
      return;
    }
    CSVPrinter printer = new CSVPrinter(out, CSVFormat.RFC4180);
    printer.printRecord(main.columns().stream().map(Table.Column::name).toList());
    for (List<String> row : main.plainRows()) {
      printer.printRecord(row);
    }
    printer.flush();
  }
}
