package lipsanon.cli.term;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;

/** Writes the main table of a view as CSV (RFC 4180), sizes in bytes and shares as fractions. */
public final class CsvRenderer {
  private final PrintWriter out;
  private final boolean raw;

  /**
   * Writes to a stream.
   *
   * @param raw leave texts as they are, those that a spreadsheet would take for formulas included
   */
  public CsvRenderer(PrintWriter out, boolean raw) {
    this.out = out;
    this.raw = raw;
  }

  /** Writes the table that the view says is its main one, else the first of the longest. */
  public void render(View view) throws IOException {
    Table main = view.main();
    for (View.Block block : main == null ? view.blocks() : List.<View.Block>of()) {
      if (block instanceof Table table
          && (main == null || table.rows().size() > main.rows().size())) {
        main = table;
      }
    }
    if (main == null) {
      return;
    }
    rows(main, true);
  }

  /** Writes the rows of a table, with the names of its columns before them or not. */
  public void rows(Table table, boolean names) throws IOException {
    CsvWriter writer = CsvWriter.builder().build(out);
    if (names) {
      writer.writeRecord(names(table.columns()));
    }
    for (List<String> row : table.plainRows()) {
      List<String> cells = new ArrayList<>();
      for (int c = 0; c < row.size(); c++) {
        cells.add(cell(table.columns().get(c), row.get(c)));
      }
      writer.writeRecord(cells);
    }
    writer.flush();
  }

  /** Identifiers stay as they are: they are typed back. */
  private String cell(Table.Column column, String text) {
    boolean identifier = column.name().equals("id");
    return raw ? text : identifier ? SafeText.visible(text) : SafeText.cell(text);
  }

  private static List<String> names(List<Table.Column> columns) {
    Set<String> taken = new HashSet<>();
    List<String> names = new ArrayList<>();
    for (Table.Column column : columns) {
      String base = column.name().isBlank() ? "column" + (names.size() + 1) : column.name();
      String name = base;
      for (int i = 2; !taken.add(name); i++) {
        name = base + i;
      }
      names.add(name);
    }
    return names;
  }
}
