package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Elements of trees that were taken out of a page, of which V8 marks only some. */
class DetachedTreesTest {
  @TempDir Path folder;

  @Test
  void unmarkedElementsFollowTheTreeTheyHangOn() throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int window = b.node("object", "Window", 3, 40);
    int body = b.node("native", "<body>", 5, 40);
    int board = b.node("native", "<div class=\"board\">", 7, 40);
    int panel = b.node("native", "<section class=\"vessel\">", 9, 40);
    int[] cargo = new int[3];
    for (int i = 0; i < cargo.length; i++) {
      cargo[i] = b.node("native", "<div class=\"cargo\">", 11 + 2 * i, 40);
    }
    int note = b.node("object", "Note", 21, 40);
    int alone = b.node("native", "<p>", 23, 40);
    b.edge(root, "element", 1, window).edge(window, "property", "body", body);
    b.edge(window, "property", "panel", panel).edge(window, "property", "note", note);
    b.edge(body, "internal", "first", board).edge(note, "property", "text", alone);
    b.edge(panel, "internal", "first", cargo[0]).edge(cargo[0], "internal", "next", cargo[1]);
    // a label's element in the page, and a sibling behind something that is no element
    b.edge(cargo[1], "internal", "for", board).edge(cargo[1], "property", "note", note);
    b.edge(cargo[1], "internal", "next", cargo[2]);
    b.detachedness(body, 1).detachedness(panel, 2);
    Path file = folder.resolve("page.heapsnapshot");
    Files.write(file, b.bytes());
    try (Snapshot snapshot =
        Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE)) {
      IntList found = snapshot.objects().detached();
      List<String> ids = new ArrayList<>();
      for (int i = 0; i < found.size(); i++) {
        ids.add(snapshot.id(found.get(i)));
      }
      assertThat(ids).containsExactlyInAnyOrder("@9", "@11", "@13", "@15");
    }
  }
}
