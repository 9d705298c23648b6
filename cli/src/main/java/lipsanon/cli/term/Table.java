package lipsanon.cli.term;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;

/** Rows under named columns. Cells are texts; numbers are right-aligned. */
public final class Table implements View.Block {
  private final List<Column> columns = new ArrayList<>();
  private final List<List<String>> rows = new ArrayList<>();
  private final List<List<String>> plainRows = new ArrayList<>();

  private final List<Double> bars = new ArrayList<>();
  private final BitSet own = new BitSet();

  /** Without columns. */
  public Table() {}

  /**
   * A column.
   *
   * @param name its heading
   * @param right whether cells are right-aligned
   * @param shrinks whether cells may be shortened in the middle when the terminal is narrow
   */
  public record Column(String name, boolean right, boolean shrinks) {}

  /** A cell that reads differently for people and for programs. */
  public record Cell(String shown, String plain) {
    private static final int DEEPEST = 12;

    /** A text of a tree, with a line to what stands above it; the plain text has none. */
    public static Cell below(int level, String text) {
      String mark = level == 0 ? "" : "  ".repeat(Math.min(level - 1, DEEPEST)) + "└ ";
      return new Cell(mark + text, text);
    }
  }

  /** Adds a column of texts. */
  public Table text(String name) {
    columns.add(new Column(name, false, false));
    return this;
  }

  /** Adds a column of long texts. */
  public Table longText(String name) {
    columns.add(new Column(name, false, true));
    return this;
  }

  /** Adds a column of numbers. */
  public Table number(String name) {
    columns.add(new Column(name, true, false));
    return this;
  }

  /** Adds a row: strings, numbers or {@link Cell}s. */
  public Table row(Object... cells) {
    if (cells.length != columns.size()) {
      throw new IllegalArgumentException(
          cells.length + " cells for " + columns.size() + " columns");
    }
    List<String> shown = new ArrayList<>();
    List<String> plain = new ArrayList<>();
    for (Object cell : cells) {
      if (cell instanceof Cell both) {
        shown.add(both.shown());
        plain.add(both.plain());
      } else {
        shown.add(cell instanceof Number n ? Format.count(n.longValue()) : String.valueOf(cell));
        plain.add(String.valueOf(cell));
      }
    }
    rows.add(shown);
    plainRows.add(plain);
    return this;
  }

  /**
   * Gives the row that was added last a bar, which a terminal that is wide enough shows; nothing
   * else does. Bars are as long as their parts of the longest.
   *
   * @param value what the rows are compared by
   */
  public Table bar(double value) {
    bars.add(Math.max(0, value));
    return this;
  }

  /** Tells whether the row that was added last is about the user's own code: it has a colour. */
  public Table own(boolean is) {
    own.set(rows.size() - 1, is);
    return this;
  }

  boolean isOwn(int row) {
    return own.get(row);
  }

  /** By row: its bar, 0 to 1; empty if the rows have none. */
  List<Double> bars() {
    if (bars.size() != rows.size()) {
      return List.of();
    }
    double most = bars.stream().mapToDouble(Double::doubleValue).max().orElse(0);
    return bars.stream().map(bar -> most > 0 ? bar / most : 0).toList();
  }

  /** The same with a column of numbers before the others. */
  public Table withFirst(String name, List<String> cells) {
    Table wider = new Table();
    wider.columns.add(new Column(name, true, false));
    wider.columns.addAll(columns);
    for (int i = 0; i < rows.size(); i++) {
      List<String> shown = new ArrayList<>(List.of(cells.get(i)));
      shown.addAll(rows.get(i));
      wider.rows.add(shown);
      List<String> plain = new ArrayList<>(List.of(cells.get(i)));
      plain.addAll(plainRows.get(i));
      wider.plainRows.add(plain);
    }
    wider.bars.addAll(bars);
    wider.own.or(own);
    return wider;
  }

  /** The columns. */
  public List<Column> columns() {
    return columns;
  }

  /** The rows as people read them. */
  public List<List<String>> rows() {
    return rows;
  }

  /** The rows as programs read them: sizes in bytes, shares as fractions. */
  public List<List<String>> plainRows() {
    return plainRows;
  }
}
