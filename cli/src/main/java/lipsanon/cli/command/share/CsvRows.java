package lipsanon.cli.command.share;

import de.siegmar.fastcsv.writer.CsvWriter;
import java.io.IOException;
import java.io.Writer;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.cli.term.SafeText;

/** Rows as CSV (RFC 4180), of tables that may have a hundred million. */
final class CsvRows implements TextRows {
  /** Columns of texts that a snapshot's maker may have chosen. */
  private static final Set<String> FOREIGN = Set.of("type", "via", "detail");

  /** So many texts are known at once. */
  private static final int MOST_KNOWN = 100_000;

  private static final int BUFFER = 1 << 16;

  private final CsvWriter writer;
  private final boolean[] foreign;
  private final String[] cells;

  /** The same few texts stand in most rows: what is made of each. */
  private final Map<String, String> known = new HashMap<>();

  /**
   * Writes the names of the columns.
   *
   * @param raw leave texts as they are, those that a spreadsheet would take for formulas included
   */
  CsvRows(Writer out, List<String> columns, boolean raw) {
    this.writer = CsvWriter.builder().bufferSize(BUFFER).build(out);
    this.cells = new String[columns.size()];
    this.foreign = new boolean[columns.size()];
    for (int i = 0; i < foreign.length; i++) {
      foreign[i] = !raw && FOREIGN.contains(columns.get(i));
    }
    writer.writeRecord(columns);
  }

  @Override
  public void row(Object... values) {
    for (int i = 0; i < values.length; i++) {
      String text = values[i] == null ? null : values[i].toString();
      cells[i] = text != null && foreign[i] ? safe(text) : text;
    }
    writer.writeRecord(cells);
  }

  private String safe(String text) {
    String cell = known.get(text);
    if (cell == null) {
      if (known.size() == MOST_KNOWN) {
        known.clear();
      }
      cell = SafeText.cell(text);
      known.put(text, cell);
    }
    return cell;
  }

  @Override
  public void flush() throws IOException {
    writer.flush();
  }
}
