package lipsanon.cli.term;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.PrintWriter;
import java.io.StringWriter;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;

/** Foreign texts of every class of code point, through every form of output. */
class SafeTextTest {
  /** What a form makes of a text that stands in every part of a view. */
  private static String rendered(String form, String text) throws Exception {
    StringWriter out = new StringWriter();
    PrintWriter writer = new PrintWriter(out);
    View view =
        new View()
            .heading(text)
            .line(text)
            .warning(text)
            .table(new Table().text("id").longText("what").row(text, text))
            .next("lipsanon show " + text, text);
    switch (form) {
      case "text" ->
          new TextRenderer(writer, new Terminal(80, false, true, true, false, "lipsanon"))
              .render(view);
      case "ascii" ->
          new TextRenderer(writer, new Terminal(80, false, false, false, false, "lipsanon"))
              .render(view);
      case "markdown" -> new MarkdownRenderer(writer).render(view);
      case "csv" -> new CsvRenderer(writer, false).render(view);
      default -> JsonAnswers.write(writer, "test", new Answer(text, List.of(text)));
    }
    writer.flush();
    return out.toString();
  }

  record Answer(String text, List<String> all) {}

  @Test
  void nothingThatActsComesThrough() throws Exception {
    List<Integer> points = new ArrayList<>();
    for (int c = 0; c < 0x3100; c++) {
      points.add(c);
    }
    for (int c : new int[] {0xd800, 0xdc00, 0xfeff, 0xfff9, 0xffff, 0xe0001, 0x1d173, 0x10ffff}) {
      points.add(c);
    }
    StringBuilder all = new StringBuilder();
    for (int c : points) {
      all.append('a').appendCodePoint(c).append("z ");
    }
    for (String form : List.of("text", "ascii", "markdown", "csv", "json")) {
      String out = rendered(form, all.toString());
      out.codePoints()
          .forEach(
              c -> {
                boolean lineEnd = c == '\n' || c == '\r' && form.equals("csv");
                assertThat(lineEnd || !SafeText.acts(c) || form.equals("json") && c >= 0xd800)
                    .as("U+%04X in %s", c, form)
                    .isTrue();
              });
      // commands to paste name files as they are called
      String shown = out.lines().filter(l -> !l.startsWith("  lipsanon")).toList().toString();
      assertThat(form.equals("ascii") && shown.codePoints().anyMatch(c -> c > 0x7e)).isFalse();
    }
  }

  @Test
  void everyByteComesThroughMessagesAsSomethingVisible() {
    for (int b = 0; b < 256; b++) {
      String message = SafeText.message("class " + (char) b + "!");
      assertThat(message.codePoints().noneMatch(SafeText::acts)).as("byte %d", b).isTrue();
      assertThat(message).startsWith("class ").endsWith("!");
    }
    assertThat(SafeText.message("x".repeat(60_000))).hasSizeLessThan(700).contains(" … ");
    assertThat(SafeText.message(null)).isEmpty();
    assertThat(SafeText.visible("esc " + (char) 27 + "[31m " + (char) 0x202e))
        .isEqualTo("esc \\u001b[31m \\u202e");
  }

  @Test
  void spreadsheetsTakeNothingForAFormula() throws Exception {
    String csv = rendered("csv", "=HYPERLINK(1)");
    // the identifier stays as it is, to be typed back
    assertThat(csv).contains("=HYPERLINK(1),'=HYPERLINK(1)");
    assertThat(SafeText.cell("-12")).isEqualTo("-12");
    assertThat(SafeText.cell("-1+cmd")).isEqualTo("'-1+cmd");
    assertThat(SafeText.cell("@4240 x")).isEqualTo("'@4240 x");
    StringWriter raw = new StringWriter();
    new CsvRenderer(new PrintWriter(raw), true)
        .render(new View().table(new Table().text("what").row("=1")));
    assertThat(raw.toString()).contains("\r\n=1");
  }

  @Test
  void markdownKeepsTextsForThemselves() {
    assertThat(SafeText.markdown("<script>|`x`*")).isEqualTo("\\<script\\>\\|\\`x\\`\\*");
    assertThat(SafeText.code("a `b` c")).isEqualTo("`` a `b` c ``");
    assertThat(SafeText.code("plain")).isEqualTo("`plain`");
  }
}
