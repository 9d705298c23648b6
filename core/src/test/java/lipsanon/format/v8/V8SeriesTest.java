package lipsanon.format.v8;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import lipsanon.array.IntList;
import lipsanon.change.DiffAnswer;
import lipsanon.change.DiffQuestion;
import lipsanon.change.GrowthAnswer;
import lipsanon.change.GrowthQuestion;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.select.Identities;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Several snapshots of one program: what is told by identity, and what is not. */
class V8SeriesTest {
  @TempDir Path folder;

  /**
   * A quay with crates: as many as asked for, those below {@code gone} taken away again.
   *
   * @param shift added to all identifiers, as another session would give them
   */
  private Snapshot quay(String name, int crates, int gone, int shift) throws Exception {
    V8Builder b = new V8Builder();
    int root = b.node("synthetic", "", 1, 0);
    int global = b.node("object", "global", 3, 40);
    b.edge(root, "shortcut", "1", global);
    int stock = b.node("object", "Array", 5, 32);
    int quay = b.node("object", "Quay", 7, 32);
    int page = b.node("native", "<div class=\"quay\">", 8, 104);
    b.edge(global, "property", "quay", quay).edge(quay, "property", "stock", stock);
    b.edge(quay, "property", "page", page).edge(stock, "property", "__proto__", quay);
    // much that stays, so that both are seen to be of one run
    for (int i = 0; i < 2000; i++) {
      int bollard = b.node("object", i % 3 == 0 ? "Bollard" : "Rope", 1001 + 2L * i + shift, 24);
      b.edge(quay, "element", i, bollard);
    }
    for (int i = gone; i < crates; i++) {
      int crate = b.node("object", "Crate", 100_001 + 2L * i + shift, 400);
      b.edge(stock, "element", i, crate).location(crate, 4, 10, 1);
    }
    Path file = folder.resolve(name + ".heapsnapshot");
    Files.write(file, b.bytes());
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  @Test
  void newKeptAndGone() throws Exception {
    try (Snapshot before = quay("a", 20, 0, 0);
        Snapshot after = quay("b", 50, 5, 0)) {
      DiffAnswer answer =
          DiffQuestion.ask(before, after, TypeFilter.ALL, DiffQuestion.Sort.COUNT, 10);
      assertThat(answer.objects()).isEqualTo(new DiffAnswer.ObjectChange(30, 2004 + 15, 5));
      DiffAnswer.TypeChange crates = answer.types().get(0);
      assertThat(crates.type()).isEqualTo("Crate");
      assertThat(crates.newCount()).isEqualTo(30);
      assertThat(crates.goneCount()).isEqualTo(5);
      IntList all = Selections.objects(after, Selections.types(after, "Crate"));
      java.util.BitSet added = Identities.of(before, after).added;
      int fresh = 0;
      for (int i = 0; i < all.size(); i++) {
        fresh += added.get(all.get(i)) ? 1 : 0;
      }
      assertThat(fresh).isEqualTo(30);
    }
  }

  @Test
  void otherNumbersAreNoIdentity() throws Exception {
    try (Snapshot before = quay("a", 20, 0, 0);
        Snapshot after = quay("b", 50, 0, 2)) {
      DiffAnswer answer =
          DiffQuestion.ask(before, after, TypeFilter.ALL, DiffQuestion.Sort.COUNT, 10);
      assertThat(answer.objects().keptCount()).isEqualTo(-1);
      assertThat(answer.types().get(0).newCount()).isEqualTo(-1);
      IntList all = Selections.objects(after, Selections.types(after, "Crate"));
      assertThat(Identities.of(before, after)).isNull();
    }
  }

  @Test
  void growthNamesTheArray() throws Exception {
    try (Snapshot a = quay("a", 7, 0, 0);
        Snapshot b = quay("b", 14, 0, 0);
        Snapshot c = quay("c", 21, 0, 0)) {
      GrowthAnswer answer =
          GrowthQuestion.ask(List.of(a, b, c), new GrowthQuestion.Options(TypeFilter.ALL, 7));
      assertThat(answer.findings().get(0).what()).isEqualTo("Crate");
      assertThat(answer.findings().get(0).heldBy())
          .isEqualTo("variable `quay.stock` in the global scope");
      assertThat(answer.collections()).hasSize(1);
      assertThat(answer.collections().get(0).counts()).containsExactly(7L, 14L, 21L);
      assertThat(answer.detached()).isEmpty();
    }
  }
}
