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
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Elements that pile up in a page: their neighbours and what is drawn of them hold them too. */
class PageSurveyTest {
  @TempDir Path folder;

  private List<Finding> survey(V8Builder builder) throws Exception {
    Path file = folder.resolve("page.heapsnapshot");
    Files.write(file, builder.bytes());
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      return SurveyQuestion.ask(snapshot, TypeFilter.ALL, 10).findings();
    }
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
}
