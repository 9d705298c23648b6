package lipsanon.cli;

import static org.assertj.core.api.Assertions.assertThat;

import com.fasterxml.jackson.databind.JsonNode;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Pages with a known defect in a real browser. */
class LivePageTest {
  private final ObjectMapper json = new ObjectMapper();

  @TempDir Path folder;
  private int kept;

  private JsonNode rehearse(Browser browser, String... action) throws Exception {
    List<String> words = new ArrayList<>(List.of("rehearse", "--at", browser.at, "--json"));
    words.addAll(List.of("--times", "5", "--no-confirm", "--keep", "kept" + kept++));
    words.addAll(List.of(action));
    Tool.Result result = Tool.run(folder, words.toArray(new String[0]));
    assertThat(result.code()).as(result.both()).isZero();
    return json.readTree(result.out());
  }

  private static List<Long> counts(JsonNode rows, String what) {
    for (JsonNode row : rows) {
      if (row.get("what").asText().startsWith(what)) {
        List<Long> counts = new ArrayList<>();
        row.get("counts").forEach(count -> counts.add(count.asLong()));
        return counts;
      }
    }
    throw new AssertionError(what + " is not in " + rows);
  }

  @Test
  void listenerOnTheWindowForEachView() throws Exception {
    try (Browser browser = new Browser(folder, "listenerPerView.html")) {
      JsonNode answer = rehearse(browser, "--run", "showView()");
      assertThat(answer.get("verdict").asText()).as(answer.toString()).isEqualTo("growth");
      JsonNode first = answer.get("findings").get(0);
      assertThat(first.get("what").asText())
          .as(answer.toString())
          .isEqualTo("blink::RegisteredEventListener of onTide (listenerPerView.html:16)");
      assertThat(first.get("heldBy").asText()).isEqualTo("event listeners of Window");
      assertThat(counts(answer.get("listeners"), "tidechange on Window"))
          .containsExactly(5L, 10L, 15L, 20L);
      List<Long> listeners = counts(answer.get("counters"), "listeners");
      assertThat(listeners.get(3) - listeners.get(0)).isEqualTo(15);
    }
  }

  /** Variables of the program refer to the window and the document, and hold nothing in them. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '`',
      value = {
        "ringLater() | DOMTimer of ring (keptByThePage.html:28) | the timers of the page",
        "watchBody() | MutationObserverRegistration of changed (keptByThePage.html:32)"
            + " | mutation observers of <body>",
        "markTimes() | PerformanceMark | the performance marks of the page",
        "addRows() | <li> | <ul id=\"rows\"> in the page",
        "noteOnBody() | Tide | <body> in the page",
        "noteOnRows() | Tide | <ul id=\"rows\"> in the page",
        "drawTides() | SVGCircleElement | SVGSVGElement in the page",
        "listenBound() | blink::RegisteredEventListener of onTide (keptByThePage.html:16), bound"
            + " | event listeners of <body>"
      })
  void whatThePageItselfKeeps(String action, String what, String holder) throws Exception {
    try (Browser browser = new Browser(folder, "keptByThePage.html")) {
      JsonNode first = rehearse(browser, "--run", action).get("findings").get(0);
      assertThat(first.get("what").asText()).as(first.toString()).isEqualTo(what);
      assertThat(first.get("heldBy").asText()).as(first.toString()).isEqualTo(holder);
      first
          .get("steps")
          .forEach(
              step -> {
                assertThat(step.get("type").asText()).hasSizeLessThan(120);
                assertThat(step.get("label").asText()).hasSizeLessThan(120);
              });
    }
  }

  /** Two sources in one script with short names: all is told as it was written. */
  @Test
  void aBundledPageIsToldByItsSources() throws Exception {
    try (Browser browser = new Browser(folder, "bundled.html")) {
      JsonNode answer = rehearse(browser, "--run", "act()", "--who-adds");
      List<String> findings = new ArrayList<>();
      answer
          .get("findings")
          .forEach(f -> findings.add(f.get("what").asText() + " | " + f.get("heldBy").asText()));
      assertThat(findings)
          .contains(
              "VesselCall | variable `calls` at the top level of berths.js:8",
              "blink::RegisteredEventListener of (anonymous) (office.js:7)"
                  + " | event listeners of Window");
      assertThat(counts(answer.get("listeners"), "tide on Window (office.js:7)"))
          .containsExactly(5L, 10L, 15L, 20L);
      assertThat(answer.at("/adders/0/place").asText())
          .matches("remember \\(http.*/src/berths.js:12:9\\)");
    }
  }

  /**
   * A module of the standard's in which a bundler has put a function around another module, and two
   * classes share a short name.
   */
  @Test
  void whatStandsInFunctionsIsToldAsItWasWritten() throws Exception {
    try (Browser browser = new Browser(folder, "wrapped.html")) {
      JsonNode answer = rehearse(browser, "--run", "noteTide();showBoard();write();moor()");
      List<String> findings = new ArrayList<>();
      answer
          .get("findings")
          .forEach(
              f ->
                  findings.add(
                      f.get("countPerAction").asInt()
                          + " "
                          + f.get("what").asText()
                          + " | "
                          + f.get("heldBy").asText()));
      assertThat(findings)
          .contains(
              "2 Pilot | variable `moored` at the top level of board.js:44",
              "1 Tide | variable `seen` at the top level of tides.js:2",
              "1 TideBoard | static TideBoard.shown",
              "1 Object {turn, text} | variable `entries` in the scope of `logbook` (board.js:12)");
    }
  }

  @Test
  void oneCellKeepsAWholeTable() throws Exception {
    try (Browser browser = new Browser(folder, "detachedSubtree.html")) {
      JsonNode answer = rehearse(browser, "--run", "redraw()");
      assertThat(answer.get("verdict").asText()).as(answer.toString()).isEqualTo("growth");
      String holder = "variable `lastCells` at the top level of detachedSubtree.html";
      assertThat(answer.get("findings").get(0).get("heldBy").asText()).isEqualTo(holder);
      // the last table of each series is still in the page
      assertThat(counts(answer.get("detached"), "<table class=\"berths\">"))
          .containsExactly(4L, 9L, 14L, 19L);
      assertThat(counts(answer.get("detached"), "<td>")).containsExactly(20L, 45L, 70L, 95L);
      assertThat(answer.get("collections").get(0).get("heldBy").asText()).isEqualTo(holder);
      assertThat(counts(answer.get("collections"), "Array")).containsExactly(5L, 10L, 15L, 20L);
    }
  }

  @Test
  void aHealthyPageAndOtherActions() throws Exception {
    try (Browser browser = new Browser(folder, "healthy.html")) {
      JsonNode answer = rehearse(browser, "--run", "redraw()");
      assertThat(answer.get("findings")).as(answer.toString()).isEmpty();
      JsonNode visits = rehearse(browser, "--visit", browser.url + "detachedSubtree.html");
      assertThat(visits.get("findings")).as(visits.toString()).isEmpty();
      Tool.Result wrong =
          Tool.run(
              folder,
              "rehearse",
              "--at",
              browser.at,
              "--run",
              "nothingOfThatName()",
              "--keep",
              "w");
      assertThat(wrong.code()).isEqualTo(4);
      assertThat(wrong.err()).contains("nothingOfThatName is not defined");
      Tool.Result missing =
          Tool.run(folder, "rehearse", "--at", browser.at, "--click", "#nobody", "--keep", "x");
      assertThat(missing.code()).isEqualTo(4);
      assertThat(missing.err()).contains("no element of the page fits #nobody");
    }
  }
}
