package lipsanon.cli.term;

import java.io.PrintWriter;
import java.util.ArrayList;
import java.util.List;
import java.util.regex.Matcher;
import picocli.CommandLine.Help.Ansi;

/** Writes a view as text for a terminal. */
public final class TextRenderer {
  private static final int GAP = 2;
  private static final int LEAST_COLUMN = 12;
  private static final int BAR = 8;

  /** Own code, light blue on dark and readable on light ground. */
  private static final String OWN = "fg(75)";

  private final PrintWriter out;
  private final Terminal terminal;

  /** Writes to a terminal of given abilities. */
  public TextRenderer(PrintWriter out, Terminal terminal) {
    this.out = out;
    this.terminal = terminal;
  }

  /** Writes all. */
  public void render(View view) {
    boolean first = true;
    for (View.Block block : view.blocks()) {
      if (block instanceof View.Heading heading) {
        out.print(first ? "" : System.lineSeparator());
        wrap(heading.text(), "", "bold");
      } else if (block instanceof View.Line line) {
        wrap(line.text(), "", "");
      } else if (block instanceof View.Warning warning) {
        wrap("Note: " + warning.text(), "", "fg(214)");
      } else if (block instanceof Table table) {
        table(table);
      } else if (block instanceof View.Next next) {
        next(next);
      }
      first = false;
    }
    out.flush();
  }

  private void next(View.Next next) {
    out.println();
    out.println(style("bold", "Next"));
    for (String[] command : next.commands()) {
      String line =
          command[0].replaceFirst("^lipsanon ", Matcher.quoteReplacement(terminal.command() + " "));
      out.println("  " + style("fg(39)", SafeText.visible(line)));
      wrap(command[1], "      ", "faint");
    }
  }

  private void wrap(String text, String indent, String style) {
    StringBuilder line = new StringBuilder(indent);
    for (String word : plain(text).split(" ", -1)) {
      boolean begun = line.length() > indent.length();
      if (begun && width(line) + 1 + width(word) > terminal.width()) {
        out.println(style(style, line.toString()));
        line.setLength(0);
        line.append(indent);
        begun = false;
      }
      line.append(begun ? " " : "").append(word);
    }
    out.println(style(style, line.toString()));
  }

  private void table(Table table) {
    List<Table.Column> columns = table.columns();
    int[] widths = new int[columns.size()];
    for (int c = 0; c < widths.length; c++) {
      widths[c] = width(columns.get(c).name());
      for (List<String> row : table.rows()) {
        widths[c] = Math.max(widths[c], width(plain(row.get(c))));
      }
    }
    if (!fit(columns, widths)) {
      stacked(table);
      return;
    }
    List<String> names = new ArrayList<>();
    columns.forEach(column -> names.add(column.name()));
    List<Double> bars = room(widths) >= BAR + GAP ? table.bars() : List.of();
    String indent = bars.isEmpty() ? "" : " ".repeat(BAR + GAP);
    out.println(style("faint", indent + line(columns, widths, names)));
    for (int i = 0; i < table.rows().size(); i++) {
      String bar = bars.isEmpty() ? "" : bar(bars.get(i));
      String pad = indent.isEmpty() ? "" : " ".repeat(indent.length() - width(bar));
      String line = line(columns, widths, table.rows().get(i));
      out.println(style("faint", bar) + pad + style(table.isOwn(i) ? OWN : "", line));
    }
  }

  private String bar(double part) {
    return terminal.unicode() ? Bars.of(part, BAR) : "=".repeat((int) Math.round(part * BAR));
  }

  /** What a terminal has free beside a table; none elsewhere. */
  private int room(int[] widths) {
    int total = GAP * (widths.length - 1);
    for (int width : widths) {
      total += width;
    }
    return terminal.fits() ? terminal.width() - total : 0;
  }

  /** Makes long columns narrower where the terminal is; false if that is not enough. */
  private boolean fit(List<Table.Column> columns, int[] widths) {
    int total = GAP * (widths.length - 1);
    for (int width : widths) {
      total += width;
    }
    while (terminal.fits() && total > terminal.width()) {
      int widest = -1;
      for (int c = 0; c < widths.length; c++) {
        boolean shrinks = columns.get(c).shrinks() && widths[c] > LEAST_COLUMN;
        if (shrinks && (widest < 0 || widths[c] > widths[widest])) {
          widest = c;
        }
      }
      if (widest < 0) {
        return false;
      }
      widths[widest]--;
      total--;
    }
    return true;
  }

  /** On a very narrow terminal: a row is a few lines, each cell with its name. */
  private void stacked(Table table) {
    for (List<String> row : table.rows()) {
      String mark = "- ";
      for (int c = 0; c < row.size(); c++) {
        String name = table.columns().get(c).name();
        if (!row.get(c).isEmpty()) {
          String cell = (name.isBlank() ? "" : name + ": ") + plain(row.get(c));
          out.println(mark + shorten(cell, terminal.width() - 2));
          mark = "  ";
        }
      }
    }
  }

  private String line(List<Table.Column> columns, int[] widths, List<String> cells) {
    StringBuilder line = new StringBuilder();
    for (int c = 0; c < widths.length; c++) {
      String cell = shorten(plain(cells.get(c)), widths[c]);
      String pad = " ".repeat(Math.max(0, widths[c] - width(cell)));
      line.append(columns.get(c).right() ? pad + cell : cell + pad);
      line.append(" ".repeat(c < widths.length - 1 ? GAP : 0));
    }
    return line.toString().stripTrailing();
  }

  private String shorten(String text, int width) {
    if (width(text) <= width) {
      return text;
    }
    String mark = terminal.unicode() ? "…" : "..";
    int keep = width - mark.length();
    int head = keep / 2;
    int[] points = text.codePoints().toArray();
    return new String(points, 0, head)
        + mark
        + new String(points, points.length - (keep - head), keep - head);
  }

  private static int width(CharSequence text) {
    return (int) text.codePoints().count();
  }

  /** What the terminal's encoding can show, and what does nothing to the terminal. */
  private String plain(String text) {
    String safe = SafeText.visible(text);
    if (terminal.unicode()) {
      return safe;
    }
    StringBuilder clean = new StringBuilder();
    safe.codePoints().forEach(c -> clean.append(c < 0x7f ? Character.toString(c) : ascii(c)));
    return clean.toString();
  }

  private static String ascii(int c) {
    return switch (c) {
      case '…' -> "..";
      case '×' -> "x";
      case '→' -> "->";
      case '≥' -> ">=";
      case '└', '├' -> "+";
      case '─' -> "-";
      case '│' -> "|";
      case '▉', '▊', '▋' -> "#";
      case '▌', '▍', '▎', '▏' -> "-";
      default -> c >= '▁' && c <= '█' ? String.valueOf("_.-=+*#@".charAt(c - '▁')) : "?";
    };
  }

  private String style(String style, String text) {
    if (!terminal.color() || style.isEmpty()) {
      return text;
    }
    // the library's markup would take "|@" in a text for its end
    return Ansi.ON.string("@|" + style + " " + text.replace("|@", "| @") + "|@");
  }
}
