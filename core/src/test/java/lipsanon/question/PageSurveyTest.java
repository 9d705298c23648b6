package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import lipsanon.format.v8.V8Builder;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** Elements that pile up in a page: their neighbours and what is drawn of them hold them too. */
class PageSurveyTest {
  @TempDir Path folder;

  private List<Finding> survey(V8Builder builder) throws Exception {
    Path file = folder.resolve("page.heapsnapshot");
    Files.write(file, builder.bytes());
    try (Snapshot snapshot = open()) {
      return SurveyQuestion.ask(snapshot, TypeFilter.ALL, 10).findings();
    }
  }

  private Snapshot open() throws Exception {
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    return Snapshots.open(folder.resolve("page.heapsnapshot"), options, Progress.NONE);
  }

  private static V8Builder page(int notices, long each) {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int window = b.node("object", "Window", 3, 40);
    int body = b.node("native", "<body>", 5, 40);
    int drawing = b.node("native", "blink::LayoutView", 7, 20_000);
    b.edge(root, "element", 1, window).edge(root, "element", 2, drawing);
    b.edge(window, "property", "body", body);
    int before = -1;
    for (int i = 0; i < notices; i++) {
      int notice = b.node("native", "<aside class=\"notice\">", 11 + 4L * i, 100);
      int listeners = b.node("native", "blink::EventTargetData", 13 + 4L * i, each);
      b.edge(notice, "element", 1, body).edge(notice, "element", 2, listeners);
      b.edge(drawing, "element", 3 + i, notice);
      if (before < 0) {
        b.edge(body, "element", 1, notice);
      } else {
        b.edge(before, "element", 3, notice);
      }
      before = notice;
    }
    return b;
  }

  @Test
  void elementsThatKeepMostOfTheHeapAreToldByWhatTheyAreIn() throws Exception {
    Finding first = survey(page(300, 1000)).get(0);
    assertThat(first.what()).isEqualTo("<aside class=\"notice\">");
    assertThat(first.counts()).containsExactly(300L);
    assertThat(first.bytes()).containsExactly(300L * 1100);
    assertThat(first.heldBy()).isEqualTo("<body> in the page");
  }

  /** Less than half of a heap is what pages are made of. */
  @Test
  void aPageFullOfElementsIsNoFinding() throws Exception {
    V8Builder builder = page(150, 10);
    assertThat(survey(builder)).noneMatch(finding -> finding.what().startsWith("<"));
  }

  /** What a page does by itself is told by what that is. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "ScriptedIdleTaskController | IdleTask | the idle callbacks that the page waits for",
        "V8ObservableArrayCSSStyleSheet | CSSStyleSheet | the adopted style sheets of the page",
        "blink::HeapVectorBacking<PerformanceObserver> | PerformanceObserver"
            + " | the performance observers of the page",
      })
  void whatThePageHasIsToldByWhatItDoes(String list, String what, String holder) throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int document = b.node("native", "HTMLDocument", 3, 40);
    int all = b.node("native", list, 5, 40);
    b.edge(root, "element", 1, document).edge(document, "element", 1, all);
    for (int i = 0; i < 6_000; i++) {
      b.edge(all, "element", 1 + i, b.node("native", what, 7 + 2L * i, 100));
    }
    Finding first = survey(b).get(0);
    assertThat(first.sentence()).startsWith("6,000 " + what + " retain 600.0 kB");
    assertThat(first.heldBy()).isEqualTo(holder);
  }

  /** The observers of an element hang on its page, to which they lead back. */
  @Test
  void aPageIsNotHeldByTheObserversOfItsElements() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int window = b.node("object", "Window / http://portmerrow.example", 3, 40);
    int document = b.node("native", "HTMLDocument", 5, 40);
    int head = b.node("native", "<head>", 7, 40);
    int drawing = b.node("native", "blink::LayoutView", 9, 40);
    int observers = b.node("native", "blink::NodeMutationObserverData", 11, 40);
    int rules = b.node("native", "blink::HeapVectorBacking<RuleSet>", 13, 40);
    int same = b.node("native", "blink::HeapHashTableBacking<RuleSet>", 15, 40);
    b.edge(root, "element", 1, window).edge(root, "element", 2, drawing);
    b.edge(window, "element", 5, document).edge(document, "element", 1, head);
    b.edge(drawing, "element", 1, head).edge(head, "element", 8, observers);
    b.edge(observers, "element", 1, document).edge(document, "element", 2, rules);
    b.edge(document, "element", 3, same);
    for (int i = 0; i < 6_000; i++) {
      int rule = b.node("native", "blink::RuleSet", 17 + 2L * i, 100);
      b.edge(rules, "element", 1 + i, rule).edge(same, "element", 1 + i, rule);
    }
    Finding first = survey(b).get(0);
    assertThat(first.what()).isEqualTo("blink::RuleSet");
    assertThat(first.heldBy()).isEqualTo("the page");
  }

  /** The name that an answer gives asks for the same objects again. */
  @Test
  void elementsWithAttributesAreAskedForByTheirName() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int window = b.node("object", "Window", 3, 40);
    int list = b.node("array", "", 5, 40);
    b.edge(root, "element", 1, window).edge(window, "property", "charts", list);
    for (int i = 0; i < 500; i++) {
      int chart = b.node("native", "<canvas height=\"64\" width=\"64\">", 7 + 2L * i, 1000);
      b.detachedness(chart, 2).edge(list, "element", i, chart);
    }
    Finding first = survey(b).get(0);
    assertThat(first.what()).isEqualTo("<canvas height=\"64\" width=\"64\"> detached");
    try (Snapshot snapshot = open()) {
      assertThat(Selections.named(snapshot, first.what()).size()).isEqualTo(500);
      assertThat(Selections.named(snapshot, "<canvas height=\"64\">")).isNull();
    }
  }
}
