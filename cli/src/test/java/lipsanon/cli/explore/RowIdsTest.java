package lipsanon.cli.explore;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.Map;
import lipsanon.cli.term.Table;
import lipsanon.cli.term.Terminal;
import lipsanon.cli.term.TextRenderer;
import lipsanon.cli.term.View;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** Numbers of rows in place of identifiers. */
class RowIdsTest {
  private final RowIds rows = new RowIds();
  private String shown;

  @BeforeEach
  void answer() {
    View view =
        new View()
            .table(new Table().text("type").row("harbour.Berth"))
            .table(
                new Table()
                    .text("id")
                    .text("object")
                    .row("0x10", "berth 1")
                    .row("", "a fold")
                    .row("0x20", "berth 2"))
            .table(new Table().text("id").row("0x30"))
            .next("lipsanon show f.hprof 0x10", "its fields");
    StringWriter out = new StringWriter();
    new TextRenderer(new PrintWriter(out), Terminal.of(Map.of()))
        .render(rows.number(view).within("lipsanon", "f.hprof"));
    shown = out.toString();
  }

  @Test
  void rowsWithIdentifiersAreNumberedThroughAllTables() {
    assertThat(shown.lines().map(String::strip))
        .contains("1  0x10  berth 1", "2  0x20  berth 2", "3  0x30", "show 0x10");
    assertThat(shown.lines()).contains("harbour.Berth");
  }

  @Test
  void numbersStandForTheirObjects() {
    assertThat(rows.meant("show 2")).isEqualTo("show 0x20");
    assertThat(rows.meant("why 3")).isEqualTo("why 0x30");
    assertThat(rows.meant("keepers --under 1")).isEqualTo("keepers --under 0x10");
    assertThat(rows.meant("keepers --under=1 --limit 2"))
        .isEqualTo("keepers --under 0x10 --limit 2");
  }

  @Test
  void otherNumbersStayNumbers() {
    assertThat(rows.meant("show 9")).isEqualTo("show 9");
    assertThat(rows.meant("types --limit 2")).isEqualTo("types --limit 2");
    assertThat(rows.meant("sift depth = 2")).isEqualTo("sift depth = 2");
    assertThat(rows.meant("types")).isEqualTo("types");
  }

  @Test
  void anAnswerWithoutIdentifiersKeepsTheOldNumbers() {
    rows.number(new View().line("None."));
    assertThat(rows.meant("show 1")).isEqualTo("show 0x10");
  }
}
