package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Piles of single snapshots, by dumps whose places are known. */
class PilesQuestionTest {
  private static final int STICKY = 0x05;
  private static final long BOARD = 0x1800;
  private static final long CALL = 0x1900;
  private static final long LINK = 0x1a00;

  @TempDir Path folder;

  private static HprofBuilder base(Map<String, Long> statics) {
    return new HprofBuilder(8)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of())
        .type(0x1700, "[Ljava/lang/Object;", 0x1000, Map.of())
        .type(BOARD, "portmerrow.TideBoard", 0x1000, statics)
        .type(CALL, "portmerrow.VesselCall", 0x1000, Map.of(), "cargo:2")
        .type(LINK, "portmerrow.Link", 0x1000, Map.of(), "next:2", "cargo:2");
  }

  private List<PileRow> piles(HprofBuilder dump, int limit) throws Exception {
    Path file = folder.resolve("a.hprof");
    Files.write(file, dump.root(STICKY, BOARD).build());
    Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 28);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      TypeFilter mine = new TypeFilter(null, List.of("portmerrow"), false);
      return PilesQuestion.ask(snapshot, mine, limit);
    }
  }

  private static void calls(HprofBuilder dump, long list, int count, long from) {
    long[] held = new long[count];
    for (int i = 0; i < count; i++) {
      held[i] = from + 0x100L * i;
      dump.instance(held[i], CALL, held[i] + 0x40).bytes(held[i] + 0x40, new byte[50]);
    }
    dump.array(list, 0x1700, held);
  }

  @Test
  void twoListsOfOneTypeAreTwoPlacesWithTheirOwnCounts() throws Exception {
    HprofBuilder dump = base(Map.of("ARRIVED", 0x4000L, "DEPARTED", 0x5000L));
    calls(dump, 0x4000, 30, 0x100000);
    calls(dump, 0x5000, 200, 0x900000);
    List<PileRow> piles = piles(dump, 10);
    assertThat(piles).hasSize(2);
    PileRow most = piles.get(0);
    assertThat(most.what()).isEqualTo("portmerrow.VesselCall");
    assertThat(most.heldBy()).isEqualTo("static portmerrow.TideBoard.DEPARTED");
    assertThat(most.count()).isEqualTo(200);
    assertThat(most.whose()).isEqualTo(Ownership.Whose.OWN);
    assertThat(most.freesBytes()).isGreaterThan(most.bytes());
    assertThat(piles.get(1).count()).isEqualTo(30);
    assertThat(piles.get(1).heldBy()).endsWith("ARRIVED");
    assertThat(piles.get(0).bytes() * 30).isEqualTo(piles.get(1).bytes() * 200);
    assertThat(piles(dump, 1)).hasSize(1);
  }

  @Test
  void aFewObjectsAreNoPile() throws Exception {
    HprofBuilder dump = base(Map.of("ARRIVED", 0x4000L));
    calls(dump, 0x4000, PilesQuestion.LEAST_COUNT - 1, 0x100000);
    assertThat(piles(dump, 10)).isEmpty();
  }

  /** As the functions of a script do, which tables of the runtime share. */
  @Test
  void whatIsBelowObjectsThatSeveralHoldIsFound() throws Exception {
    HprofBuilder dump = base(Map.of("OPEN", 0x4000L, "BY_NAME", 0x5000L));
    long[] quays = new long[12];
    for (int i = 0; i < quays.length; i++) {
      quays[i] = 0x20_0000 + 0x100L * i;
      dump.instance(quays[i], LINK, 0, i == 7 ? 0x6000L : 0);
    }
    dump.array(0x4000, 0x1700, quays).array(0x5000, 0x1700, quays);
    calls(dump, 0x6000, 200, 0x900000);
    List<PileRow> piles = piles(dump, 10);
    assertThat(piles).as(piles.toString()).hasSize(2);
    PileRow calls = piles.get(1);
    assertThat(calls.what()).isEqualTo("portmerrow.VesselCall");
    assertThat(calls.heldBy()).isEqualTo("portmerrow.Link.cargo");
    assertThat(calls.count()).isEqualTo(200);
  }

  @Test
  void theLinksOfAChainAreOnePile() throws Exception {
    HprofBuilder dump = base(Map.of("FIRST", 0x100000L));
    int links = 120;
    for (int i = 0; i < links; i++) {
      long at = 0x100000 + 0x100L * i;
      dump.instance(at, LINK, i == links - 1 ? 0 : at + 0x100, at + 0x40);
      dump.bytes(at + 0x40, new byte[30]);
    }
    List<PileRow> piles = piles(dump, 10);
    assertThat(piles).hasSize(1);
    assertThat(piles.get(0).what()).isEqualTo("portmerrow.Link");
    assertThat(piles.get(0).count()).isEqualTo(links);
    assertThat(piles.get(0).heldBy()).isEqualTo("static portmerrow.TideBoard.FIRST");
  }

  @Test
  void whatEachEntryHasOnceIsNoPileOfItsOwn() throws Exception {
    HprofBuilder dump = base(Map.of("ARRIVED", 0x4000L));
    calls(dump, 0x4000, 50, 0x100000);
    // the byte arrays, one a call, are told with the calls
    assertThat(piles(dump, 10)).extracting(PileRow::what).containsExactly("portmerrow.VesselCall");
  }

  /** Where names are hidden, what threads of many names hold is one place all the same. */
  @Test
  void threadsWithHiddenNamesAreOneHolder() throws Exception {
    Path file = folder.resolve("threads.hprof");
    try (YardJvm jvm = new YardJvm("ThreadPerAction")) {
      jvm.act(150);
      jvm.dump(file);
    }
    Snapshots.Options options =
        new Snapshots.Options(null, folder, true, 1L << 28).hiding(new byte[16]);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      TypeFilter mine = new TypeFilter(null, List.of("leakyard"), false);
      List<PileRow> rows =
          PilesQuestion.ask(snapshot, mine, 20).stream()
              .filter(row -> row.what().equals("leakyard.ThreadPerAction$Watch"))
              .toList();
      assertThat(rows).hasSize(1);
      assertThat(rows.get(0).count()).isEqualTo(150);
      assertThat(rows.get(0).heldBy())
          .startsWith("running threads in leakyard.ThreadPerAction$Watch.run")
          .doesNotContain("(#");
    }
  }
}
