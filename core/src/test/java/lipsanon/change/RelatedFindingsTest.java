package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.holder.Finding;
import lipsanon.holder.Holding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** What piles up only because something else does. */
class RelatedFindingsTest {
  private static final String LIST = "harbour.Office.calls";
  private static final String INDEX = "harbour.Office.byName";

  @TempDir Path folder;
  private Snapshot last;
  private final List<Finding> findings = new ArrayList<>();

  @BeforeEach
  void open() throws Exception {
    Path file = folder.resolve("a.hprof");
    HprofBuilder dump =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1300, "harbour.Call", 0x1000, Map.of())
            .root(0x05, 0x1300);
    Files.write(file, dump.build());
    last = Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @AfterEach
  void close() throws Exception {
    last.close();
  }

  private static Finding finding(
      String what, long more, long bytes, List<String> reasons, String... places) {
    return new Finding(
        what,
        String.join(" and ", places),
        List.of(),
        "",
        "",
        "",
        1,
        1,
        List.of(5L, 5 + more),
        List.of(0L, bytes),
        0.9,
        reasons,
        "",
        List.of(),
        List.of(places).stream()
            .map(place -> new Finding.Holder(place, id(place), "", place, more, bytes))
            .toList(),
        1);
  }

  /** Roots have none. */
  private static String id(String place) {
    return place.startsWith("harbour.") ? "0x1" : "";
  }

  private String why(Finding finding) {
    return new RelatedFindings(findings, last, TypeFilter.ALL).why(finding);
  }

  @Test
  void sameHolderSaysTheSame() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST));
    assertThat(why(finding("java.lang.Object", 40, 500, List.of(), LIST)))
        .isEqualTo(RelatedFindings.SAME_HOLDER);
    assertThat(why(finding("java.lang.Object", 40, 500, List.of(), INDEX))).isNull();
  }

  @Test
  void asManyInOneOfTwoPlacesGoAlong() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST));
    assertThat(why(finding("java.lang.Object", 75, 500, List.of(), LIST, INDEX)))
        .contains("one of its holders");
    // of one's own, and in other numbers, they are something to look at
    assertThat(why(finding("harbour.Call", 75, 500, List.of(), LIST, INDEX))).isNull();
  }

  @Test
  void theSameThingsInOneMorePlaceGoAlong() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST, INDEX));
    assertThat(why(finding("harbour.Call", 75, 500, List.of(), LIST, INDEX, "harbour.Log.all")))
        .contains("one of its holders");
    assertThat(why(finding("harbour.Call", 74, 500, List.of(), LIST, INDEX, "harbour.Log.all")))
        .isNull();
    assertThat(why(finding("harbour.Call", 75, 500, List.of(), LIST, "harbour.Log.all"))).isNull();
  }

  @Test
  void whatIsOpenBringsAlongWhatALibraryHasOfIt() {
    findings.add(finding("java.lang.Thread", 75, 9000, List.of(), LIST, Holding.OTHERS));
    assertThat(why(finding("java.lang.Object", 150, 500, List.of(), INDEX)))
        .contains("comes with each");
    assertThat(why(finding("java.lang.Object", 100, 500, List.of(), INDEX))).isNull();
    assertThat(why(finding("java.lang.Object", 75, 90_000, List.of(), INDEX))).isNull();
    assertThat(why(finding("harbour.Call", 75, 500, List.of(), INDEX))).isNull();
  }

  @Test
  void whatWaitsForItsEndComesWithIt() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST));
    String noted = "static java.lang.ref.Finalizer.unfinalized";
    assertThat(why(finding("java.lang.ref.Finalizer", 75, 500, List.of(), noted)))
        .contains("comes with each");
    assertThat(why(finding("java.lang.ref.Finalizer", 80, 500, List.of(), noted))).isNull();
  }

  @Test
  void asManyThatNothingHoldsComeAlong() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST));
    assertThat(why(finding("java.lang.Object", 75, 500, List.of()))).contains("comes with each");
    assertThat(why(finding("java.lang.Object", 74, 500, List.of()))).isNull();
    assertThat(why(finding("java.lang.Object", 75, 90_000, List.of()))).isNull();
    assertThat(why(finding("harbour.Call", 75, 500, List.of()))).isNull();
  }

  @Test
  void soManyForEachComeAlong() {
    findings.add(finding("harbour.Call", 75, 9000, List.of(), LIST));
    assertThat(why(finding("java.lang.Object", 150, 500, List.of()))).contains("comes with each");
    assertThat(why(finding("java.lang.Object", 75 * 9, 500, List.of()))).isNull();
    // a root of the runtime tells no holder
    List<String> untold = List.of(PileReport.NOTHING_OWN);
    assertThat(why(finding("java.lang.Object", 75, 500, untold, "system class")))
        .contains("comes with each");
    assertThat(why(finding("java.lang.Object", 75, 500, untold, INDEX))).isNull();
  }

  @Test
  void classesComeWithTheirObjects() {
    findings.add(finding("harbour.Rule…", 75, 9000, List.of(), LIST));
    assertThat(why(finding("class harbour.Rule…", 75, 500, List.of(), INDEX)))
        .contains("comes with each");
    assertThat(why(finding("class harbour.Rule…", 80, 500, List.of(), INDEX))).isNull();
    assertThat(why(finding("class harbour.Berth…", 75, 500, List.of(), INDEX))).isNull();
  }

  @Test
  void whatIsKeptOfEachThreadGoesWithTheThreads() {
    Finding threads =
        finding(
            "harbour.Call",
            75,
            9000,
            List.of(PileReport.ROOTS),
            "running threads in harbour.Watch.walk");
    Finding variables =
        finding("java.lang.Object", 150, 20_000, List.of(), "thread-local variables");
    Finding fewer = finding("java.lang.Object", 60, 20_000, List.of(), "handle");
    Finding list = finding("harbour.Call", 75, 900, List.of(PileReport.OWN_HOLDER), LIST);
    Finding pools = finding("java.lang.Object", 75, 900, List.of());
    Finding others = finding("java.lang.Object", 80, 900, List.of());
    findings.addAll(List.of(variables, threads, fewer, list, pools, others));
    assertThat(new RelatedFindings(findings, last, TypeFilter.ALL).ofThreads())
        .extracting(GrowthAnswer.SetAside::heldBy)
        .containsExactly("thread-local variables", pools.heldBy());
    assertThat(findings).containsExactly(threads, fewer, list, others);
  }
}
