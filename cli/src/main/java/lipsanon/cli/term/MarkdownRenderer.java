package lipsanon.cli.term;

import java.io.PrintWriter;
import java.util.List;
import java.util.stream.Collectors;

/** Writes a view as Markdown, to paste into an issue or a page. */
public final class MarkdownRenderer {
  private final PrintWriter out;

  /** Writes to a stream. */
  public MarkdownRenderer(PrintWriter out) {
    this.out = out;
  }

  /** Writes all. */
  public void render(View view) {
    for (View.Block block : view.blocks()) {
      if (block instanceof View.Heading heading) {
        out.println("## " + escape(heading.text()));
      } else if (block instanceof View.Line line) {
        out.println(escape(line.text()));
      } else if (block instanceof View.Warning warning) {
        out.println("> **Note:** " + escape(warning.text()));
      } else if (block instanceof Table table) {
        table(table);
      } else if (block instanceof View.Next next) {
        for (String[] command : next.commands()) {
          out.println("- " + SafeText.code(command[0]) + ": " + escape(command[1]));
        }
      }
      out.println();
    }
    out.flush();
  }

  private void table(Table table) {
    out.println(row(table.columns().stream().map(column -> escape(column.name())).toList()));
    out.println(
        row(table.columns().stream().map(column -> column.right() ? "---:" : "---").toList()));
    for (List<String> cells : table.rows()) {
      out.println(row(cells.stream().map(MarkdownRenderer::escape).toList()));
    }
  }

  private static String row(List<String> cells) {
    return cells.stream().collect(Collectors.joining(" | ", "| ", " |"));
  }

  private static String escape(String text) {
    return SafeText.markdown(text);
  }
}
