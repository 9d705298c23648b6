package lipsanon.cli.term;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CancellationException;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** One view in each form that an answer has. */
class RenderersTest {
  private static View view() {
    return new View()
        .heading("21 berths pile up")
        .line("Held by static harbour.Quay.ALL, which nothing ever clears.")
        .warning("The dump is cut off.")
        .table(
            new Table()
                .longText("held by")
                .number("count")
                .number("retained")
                .row("static harbour.Quay.ALL", 1234, new Table.Cell("1.50 MB", "1500000"))
                .row("a | b <c>", 7, new Table.Cell("3 B", "3")))
        .table(new Table().text("kind").row("thread"))
        .next("lipsanon why a.hprof 0x10", "how it is kept")
        .next("lipsanon show a.hprof 0x10", "its fields");
  }

  private static String text(View view, Terminal terminal) {
    StringWriter out = new StringWriter();
    new TextRenderer(new PrintWriter(out), terminal).render(view);
    return out.toString();
  }

  private static Terminal terminal(int width, boolean color, boolean unicode) {
    return new Terminal(width, color, true, unicode, false, "./lipsanon");
  }

  @Test
  void asText() {
    assertThat(text(view(), terminal(80, false, true)))
        .isEqualTo(
            """
            21 berths pile up
            Held by static harbour.Quay.ALL, which nothing ever clears.
            Note: The dump is cut off.
            held by                  count  retained
            static harbour.Quay.ALL  1,234   1.50 MB
            a | b <c>                    7       3 B
            kind
            thread

            Next
              ./lipsanon why a.hprof 0x10
                  how it is kept
              ./lipsanon show a.hprof 0x10
                  its fields
            """);
  }

  @ParameterizedTest
  @ValueSource(ints = {40, 47, 60, 69})
  void textKeepsToItsWidth(int width) {
    View wide =
        new View()
            .line("Vessels call, get a berth, subscribe to the tide board and leave. ".repeat(4))
            .table(
                new Table()
                    .longText("path")
                    .number("bytes")
                    .row("static harbour.Quay.ALL -> java.util.ArrayList -> Object[] -> [7]", 8));
    for (boolean unicode : new boolean[] {true, false}) {
      String shown = text(wide, terminal(width, false, unicode));
      assertThat(shown.lines()).allMatch(line -> line.codePoints().count() <= width);
      assertThat(shown).contains(unicode ? "…" : "..").contains("static").contains("[7]");
    }
  }

  @Test
  void asciiTerminalsGetAscii() {
    View drawn = new View().line("▁▃▆█ 3 × 4 → 12 … ≥ ü").table(new Table().text("│").row("└─"));
    String shown = text(drawn, terminal(80, false, false));
    assertThat(shown).isEqualTo("_-*@ 3 x 4 -> 12 .. >= ?\n|\n+-\n");
  }

  @Test
  void controlCharactersOfASnapshotNeverReachTheTerminal() {
    View evil =
        new View().line("name \u001b[31mred\u0007").table(new Table().text("a").row("\r\n"));
    assertThat(text(evil, terminal(80, false, true))).doesNotContain("\u001b", "\u0007", "\r");
    String coloured = text(new View().heading("|@ @|red x|@"), terminal(80, true, true));
    assertThat(coloured).startsWith("\u001b[1m").contains("red x").doesNotContain("\u001b[31m");
  }

  @Test
  void asCsvTheLargestTableInPlainFigures() throws Exception {
    StringWriter out = new StringWriter();
    new CsvRenderer(new PrintWriter(out), false).render(view());
    assertThat(out.toString())
        .isEqualTo(
            "held by,count,retained\r\nstatic harbour.Quay.ALL,1234,1500000\r\na | b <c>,7,3\r\n");
    StringWriter none = new StringWriter();
    new CsvRenderer(new PrintWriter(none), false).render(new View().line("nothing to list"));
    assertThat(none.toString()).isEmpty();
  }

  @Test
  void asMarkdown() {
    StringWriter out = new StringWriter();
    new MarkdownRenderer(new PrintWriter(out)).render(view());
    assertThat(out.toString())
        .contains("## 21 berths pile up\n")
        .contains("> **Note:** The dump is cut off.\n")
        .contains("| held by | count | retained |\n| --- | ---: | ---: |\n")
        .contains("| a \\| b \\<c\\> | 7 | 3 B |")
        .contains("- `lipsanon why a.hprof 0x10`: how it is kept");
  }

  @Test
  void tablesRefuseRowsOfAnotherWidth() {
    Table table = new Table().text("a").number("b");
    assertThatThrownBy(() -> table.row("only one")).isInstanceOf(IllegalArgumentException.class);
    assertThat(table.row("x", 5).rows()).containsExactly(List.of("x", "5"));
    assertThat(table.row("y", 12345L).plainRows().get(1)).containsExactly("y", "12345");
  }

  @Test
  void terminalsFollowTheEnvironment() {
    assertThat(Terminal.of(Map.of()))
        .extracting(Terminal::width, Terminal::color, Terminal::progress, Terminal::command)
        .containsExactly(120, false, false, "lipsanon");
    Map<String, String> wide =
        Map.of(
            "COLUMNS", "200",
            "LIPSANON_OUT_TERMINAL", "1",
            "LIPSANON_ERR_TERMINAL", "1",
            "LIPSANON_COMMAND", "/opt/lipsanon");
    assertThat(Terminal.of(wide))
        .extracting(Terminal::width, Terminal::color, Terminal::progress, Terminal::command)
        .containsExactly(200, true, true, "/opt/lipsanon");
    assertThat(Terminal.of(Map.of("COLUMNS", "5")).width()).isEqualTo(40);
    assertThat(Terminal.of(Map.of("COLUMNS", "many")).width()).isEqualTo(120);
    assertThat(Terminal.of(Map.of("COLUMNS", "-3")).width()).isEqualTo(120);
    assertThat(Terminal.of(Map.of("LIPSANON_OUT_TERMINAL", "1", "NO_COLOR", "1")).color())
        .isFalse();
  }

  @Test
  void progressSaysLongThingsAndCanBeCancelled() {
    StringWriter err = new StringWriter();
    try (TerminalProgress progress = new TerminalProgress(new PrintWriter(err), false)) {
      progress.phase("numbering", 100);
      progress.at(50);
      assertThat(err.toString()).as("nothing is drawn where nobody looks").isEmpty();
      progress.phase("waiting for another process that is indexing this snapshot", 0);
      assertThat(err.toString()).startsWith("lipsanon: waiting for another process");
      progress.cancel();
      assertThatThrownBy(() -> progress.at(51)).isInstanceOf(CancellationException.class);
      assertThatThrownBy(() -> progress.phase("next", 0)).isInstanceOf(CancellationException.class);
    }
    StringWriter drawn = new StringWriter();
    try (TerminalProgress progress = new TerminalProgress(new PrintWriter(drawn), true)) {
      progress.phase("numbering", 100);
      progress.at(100);
    }
    assertThat(drawn.toString()).as("what is over in a moment is not drawn").isEmpty();
  }

  @Test
  void ownCodeHasAColour() {
    Table table = new Table().text("type").row("java.lang.String").own(false);
    table.row("harbour.Berth").own(true);
    String shown = text(new View().table(table), terminal(80, true, true));
    assertThat(shown.lines().skip(1)).first().isEqualTo("java.lang.String");
    assertThat(shown).contains("\u001b[38;5;75mharbour.Berth\u001b[");
    assertThat(text(new View().table(table), terminal(80, false, true))).doesNotContain("\u001b");
  }

  @Test
  void barsStandWhereThereIsRoom() {
    Table table = new Table().number("bytes").text("what");
    table.row(100, "all").bar(100);
    table.row(50, "half").bar(50);
    table.row(0, "none").bar(0);
    View view = new View().table(table);
    assertThat(text(view, new Terminal(60, false, true, true, false, "lipsanon")).lines())
        .containsExactly(
            "          bytes  what",
            "████████    100  all",
            "████         50  half",
            "              0  none");
    assertThat(text(view, new Terminal(60, false, true, false, false, "lipsanon")))
        .contains("========    100  all");
    // neither on a narrow terminal nor for other programs
    assertThat(text(view, new Terminal(20, false, true, true, false, "lipsanon")))
        .contains("bytes  what")
        .doesNotContain("█");
    assertThat(text(view, new Terminal(60, false, false, true, false, "lipsanon")))
        .doesNotContain("█");
  }
}
