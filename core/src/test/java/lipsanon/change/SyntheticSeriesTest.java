package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportOracle;
import lipsanon.question.ExportedFiguresTest;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Series of dumps whose every object is known: what grows, by how much, and what only seems to. */
class SyntheticSeriesTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;
  private final List<Snapshot> opened = new ArrayList<>();

  @AfterEach
  void close() throws Exception {
    for (Snapshot snapshot : opened) {
      snapshot.close();
    }
  }

  /** A quay with a list of crates and a shed with a list of ropes. */
  private Snapshot snapshot(int crates, int ropes) throws Exception {
    return snapshot(crates, ropes, false);
  }

  /**
   * The same.
   *
   * @param rooted whether the list of crates is a root for the moment, as what code has in hand is
   */
  private Snapshot snapshot(int crates, int ropes, boolean rooted) throws Exception {
    HprofBuilder b =
        types()
            .type(0x1300, "harbour.Quay", 0x1000, Map.of("CRATES", 0x20_0000L))
            .type(0x1350, "harbour.Shed", 0x1000, Map.of("ROPES", 0x80_0000L))
            .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "goods:2")
            .type(0x1500, "harbour.Rope", 0x1000, Map.of(), "metres:11")
            .root(STICKY, 0x1300)
            .root(STICKY, 0x1350);
    if (rooted) {
      b.root(STICKY, 0x20_0000);
    }
    long[] elements = new long[crates];
    for (int i = 0; i < crates; i++) {
      elements[i] = 0x40_0000 + i * 0x100L;
      b.instance(elements[i], 0x1400, elements[i] + 0x10);
      b.bytes(elements[i] + 0x10, new byte[200]);
    }
    b.array(0x20_0000, 0x1200, elements);
    long[] coils = new long[ropes];
    for (int i = 0; i < ropes; i++) {
      coils[i] = 0xa0_0000 + i * 0x18L;
      b.instance(coils[i], 0x1500, i);
    }
    b.array(0x80_0000, 0x1200, coils);
    return open(b);
  }

  private static HprofBuilder types() {
    return new HprofBuilder(8)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of())
        .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of());
  }

  private Snapshot open(HprofBuilder dump) throws Exception {
    Path file = folder.resolve("s" + opened.size() + ".hprof");
    Files.write(file, dump.build());
    Snapshot snapshot =
        Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
    opened.add(snapshot);
    return snapshot;
  }

  /** Crates on a quay, and others in a shed. */
  private Snapshot scattered(int onQuay, int inShed) throws Exception {
    HprofBuilder b =
        types()
            .type(0x1300, "harbour.Quay", 0x1000, Map.of("CRATES", 0x20_0000L))
            .type(0x1350, "harbour.Shed", 0x1000, Map.of("CRATES", 0x80_0000L))
            .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "number:10")
            .root(STICKY, 0x1300)
            .root(STICKY, 0x1350);
    long[] all = new long[onQuay + inShed];
    for (int i = 0; i < all.length; i++) {
      all[i] = 0x40_0000 + i * 0x20L;
      b.instance(all[i], 0x1400, i);
    }
    b.array(0x20_0000, 0x1200, Arrays.copyOf(all, onQuay));
    b.array(0x80_0000, 0x1200, Arrays.copyOfRange(all, onQuay, all.length));
    return open(b);
  }

  /** Crates of long ago and new ones: a quay and a shed have both in their books. */
  private Snapshot inTwoBooks(int old, int young) throws Exception {
    HprofBuilder b =
        types()
            .type(0x1300, "harbour.Quay", 0x1000, Map.of("OLD", 0x20_0000L, "NEW", 0x80_0000L))
            .type(0x1350, "harbour.Shed", 0x1000, Map.of("OLD", 0x30_0000L, "NEW", 0x90_0000L))
            .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "goods:2")
            .root(STICKY, 0x1300)
            .root(STICKY, 0x1350);
    long[] all = new long[old + young];
    for (int i = 0; i < all.length; i++) {
      all[i] = 0x40_0000 + i * 0x100L;
      b.instance(all[i], 0x1400, all[i] + 0x10);
      b.bytes(all[i] + 0x10, new byte[200]);
    }
    for (long list : new long[] {0x20_0000, 0x30_0000}) {
      b.array(list, 0x1200, Arrays.copyOf(all, old));
    }
    for (long list : new long[] {0x80_0000, 0x90_0000}) {
      b.array(list, 0x1200, Arrays.copyOfRange(all, old, all.length));
    }
    return open(b);
  }

  /** Most crates are of long ago, and in other books than those that came. */
  @Test
  void whoHoldsWhatCameIsNamedAmongManyOthers() throws Exception {
    List<Snapshot> series = new ArrayList<>();
    for (int young : new int[] {10, 20, 30, 40, 70}) {
      series.add(inTwoBooks(600, young));
    }
    Finding first =
        GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 0)).findings().get(0);
    assertThat(first.what()).isEqualTo("harbour.Crate");
    assertThat(first.counts()).containsExactly(610L, 620L, 630L, 640L, 670L);
    assertThat(first.holders())
        .extracting(Finding.Holder::place)
        .as(first.sentence())
        .containsExactlyInAnyOrder("static harbour.Quay.NEW", "static harbour.Shed.NEW");
    assertThat(first.freedShare()).isEqualTo(1);
  }

  /** Now here, now there: no place grows steadily, and yet there are five more each time. */
  @Test
  void whatMovesAboutIsCountedInAll() throws Exception {
    List<Snapshot> series =
        List.of(scattered(3, 2), scattered(1, 9), scattered(12, 3), scattered(2, 18));
    GrowthAnswer answer = GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 5));
    Finding finding = answer.findings().get(0);
    assertThat(answer.findings()).hasSize(1);
    assertThat(finding.what()).isEqualTo("harbour.Crate");
    assertThat(finding.counts()).containsExactly(5L, 10L, 15L, 20L);
    assertThat(finding.heldBy()).contains("harbour.Shed.CRATES");
    // without the number of actions, and where the number in all swings as well, nothing is told
    assertThat(GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 0)).findings())
        .isEmpty();
    List<Snapshot> swings =
        List.of(scattered(3, 2), scattered(1, 9), scattered(11, 2), scattered(2, 18));
    assertThat(GrowthQuestion.ask(swings, new GrowthQuestion.Options(TypeFilter.ALL, 5)).findings())
        .isEmpty();
  }

  private GrowthAnswer growth(int actions, int[] crates, int[] ropes) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    for (int i = 0; i < crates.length; i++) {
      series.add(snapshot(crates[i], ropes[i]));
    }
    return GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, actions));
  }

  @Test
  void aSteadyRiseIsNamedWithItsFigures() throws Exception {
    GrowthAnswer answer =
        growth(40, new int[] {200, 240, 280, 320}, new int[] {500, 500, 500, 500});
    assertThat(answer.verdict()).isEqualTo("growth");
    assertThat(answer.findings()).hasSize(1);
    Finding finding = answer.findings().get(0);
    assertThat(finding.what()).isEqualTo("harbour.Crate");
    assertThat(finding.heldBy()).isEqualTo("static harbour.Quay.CRATES");
    assertThat(finding.counts()).containsExactly(200L, 240L, 280L, 320L);
    assertThat(finding.countPerAction()).isEqualTo(1.0);
    long crate = opened.get(0).retainedBytes(opened.get(0).nodeOf(0x40_0000));
    assertThat(finding.bytesPerAction()).isEqualTo(crate);
    assertThat(finding.bytes().get(3) - finding.bytes().get(0)).isEqualTo(120 * crate);
    assertThat(finding.sentence()).contains("exactly 1 with every action");
    assertThat(finding.confidence()).isGreaterThan(0.9);
    assertThat(answer.heapBytes())
        .containsExactlyElementsOf(opened.stream().map(s -> s.totals().retainedBytes()).toList());
  }

  /** Whichever of the snapshots it is: the rise is the same, and its figures are. */
  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 12, 13})
  void aPassingRootDoesNotHideARise(int rooted) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    for (int i = 0; i < 4; i++) {
      series.add(snapshot(200 + 40 * i, 500, String.valueOf(rooted).contains("" + i)));
    }
    GrowthAnswer answer =
        GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, 40));
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
    Finding finding = answer.findings().get(0);
    assertThat(finding.what()).isEqualTo("harbour.Crate");
    assertThat(finding.counts()).containsExactly(200L, 240L, 280L, 320L);
    long crate = opened.get(0).retainedBytes(opened.get(0).nodeOf(0x40_0000));
    assertThat(finding.bytes()).containsExactly(200 * crate, 240 * crate, 280 * crate, 320 * crate);
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void aPassingRootDoesNotEnlargeARiseBetweenTwo(boolean rootedFirst) throws Exception {
    List<Snapshot> two = List.of(snapshot(200, 500, rootedFirst), snapshot(240, 500, !rootedFirst));
    GrowthAnswer answer = GrowthQuestion.ask(two, new GrowthQuestion.Options(TypeFilter.ALL, 40));
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
    assertThat(answer.findings().get(0).what()).isEqualTo("harbour.Crate");
    assertThat(answer.findings().get(0).counts()).containsExactly(200L, 240L);
  }

  /** What was let go in between was gone: nothing is made up for it. */
  @Test
  void whatWasEmptiedInBetweenStaysSo() throws Exception {
    GrowthAnswer answer = growth(40, new int[] {200, 0, 280, 320}, new int[] {500, 500, 500, 500});
    assertThat(answer.findings())
        .allSatisfy(finding -> assertThat(finding.counts()).containsExactly(200L, 0L, 280L, 320L));
    assertThat(answer.toString()).doesNotContain("counted by their type");
  }

  @Test
  void theLargerGrowthComesFirst() throws Exception {
    GrowthAnswer answer =
        growth(10, new int[] {200, 210, 220, 230}, new int[] {500, 600, 700, 800});
    assertThat(answer.findings())
        .extracting(Finding::heldBy)
        .containsExactlyInAnyOrder("static harbour.Shed.ROPES", "static harbour.Quay.CRATES");
    List<Long> grown =
        answer.findings().stream().map(f -> f.bytes().get(3) - f.bytes().get(0)).toList();
    assertThat(grown).isSortedAccordingTo(Comparator.reverseOrder());
  }

  @Test
  void whatLevelsOffOrSwingsOrShrinksIsNoFinding() throws Exception {
    int[] still = {500, 500, 500, 500, 500};
    for (int[] crates :
        new int[][] {
          {200, 300, 340, 345, 345}, {200, 330, 210, 340, 220}, {300, 280, 260, 240, 220}, still
        }) {
      GrowthAnswer answer = growth(10, crates, still);
      assertThat(answer.findings()).as("%s", crates).isEmpty();
      assertThat(answer.verdict()).as("%s", crates).isEqualTo("none");
    }
  }

  @Test
  void aSingleNewObjectPilesNothingUp() throws Exception {
    int[] still = {500, 500, 500, 500};
    GrowthAnswer one = growth(7, new int[] {3, 3, 4, 4}, still);
    assertThat(one.findings()).isEmpty();
    GrowthAnswer ten = growth(1, new int[] {3, 13, 23, 33}, still);
    assertThat(ten.findings()).hasSize(1);
  }

  @Test
  void aProofComparesTwoSeries() throws Exception {
    int[] still = {500, 500, 500, 500};
    GrowthAnswer leaky = growth(40, new int[] {200, 240, 280, 320}, still);
    GrowthAnswer fixed = growth(40, still, still);
    GrowthAnswer other = growth(40, still, new int[] {500, 900, 1300, 1700});
    ProofAnswer gone = ProofAnswer.of(leaky, fixed);
    assertThat(gone.proved()).isTrue();
    assertThat(gone.comparisons())
        .extracting(ProofAnswer.Comparison::state)
        .containsExactly("gone");
    ProofAnswer same = ProofAnswer.of(leaky, leaky);
    assertThat(same.proved()).isFalse();
    assertThat(same.comparisons().get(0).state()).isEqualTo("still grows");
    assertThat(same.comparisons().get(0).growthAfterBytes())
        .isEqualTo(same.comparisons().get(0).growthBeforeBytes());
    ProofAnswer moved = ProofAnswer.of(leaky, other);
    assertThat(moved.proved()).isFalse();
    assertThat(moved.comparisons())
        .extracting(ProofAnswer.Comparison::state)
        .containsExactly("gone", "new");
    ProofAnswer nothing = ProofAnswer.of(fixed, fixed);
    assertThat(nothing.proved()).isFalse();
    assertThat(nothing.sentence()).contains("Nothing grew in the first series");
  }

  private static Map<String, long[]> sums(Snapshot s) throws Exception {
    Map<String, long[]> sums = new TreeMap<>();
    ExportOracle oracle = new ExportOracle(s);
    for (ExportOracle.Row row : oracle.objects.values()) {
      long[] sum = sums.computeIfAbsent(row.type(), key -> new long[2]);
      sum[0]++;
      sum[1] += row.shallow();
    }
    return sums;
  }

  /** Two unrelated heaps: every difference follows from what each of them exports. */
  @ParameterizedTest
  @ValueSource(longs = {11, 12, 13, 14, 15, 16})
  void differencesByType(long seed) throws Exception {
    for (long of : new long[] {seed, seed + 100}) {
      Path file = folder.resolve("d" + of + ".hprof");
      Files.write(file, ExportedFiguresTest.random(of));
      opened.add(
          Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
    }
    Snapshot before = opened.get(0);
    Snapshot after = opened.get(1);
    Map<String, long[]> first = sums(before);
    Map<String, long[]> second = sums(after);
    Map<String, long[]> expected = new HashMap<>();
    first.forEach((type, s) -> expected.put(type, new long[] {s[0], 0, s[1], 0}));
    second.forEach(
        (type, s) -> {
          long[] both = expected.computeIfAbsent(type, key -> new long[4]);
          both[1] = s[0];
          both[3] = s[1];
        });
    for (DiffQuestion.Sort sort : DiffQuestion.Sort.values()) {
      DiffAnswer answer = DiffQuestion.ask(before, after, TypeFilter.ALL, sort, Integer.MAX_VALUE);
      assertThat(answer.changedTypes()).isEqualTo(answer.types().size());
      for (DiffAnswer.TypeChange change : answer.types()) {
        long[] both = expected.get(change.type());
        assertThat(
                new long[] {
                  change.countBefore(),
                  change.countAfter(),
                  change.shallowBytesBefore(),
                  change.shallowBytesAfter()
                })
            .as(change.toString())
            .isEqualTo(both);
        assertThat(change.countDifference()).isEqualTo(both[1] - both[0]);
        assertThat(change.shallowBytesDifference()).isEqualTo(both[3] - both[2]);
        assertThat(change.status())
            .isEqualTo(both[0] == 0 ? "new" : both[1] == 0 ? "gone" : "kept");
      }
      assertThat(answer.types())
          .extracting(DiffAnswer.TypeChange::type)
          .containsAll(
              expected.entrySet().stream()
                  .filter(e -> e.getValue()[0] != e.getValue()[1])
                  .map(Map.Entry::getKey)
                  .toList());
      DiffAnswer two = DiffQuestion.ask(before, after, TypeFilter.ALL, sort, 2);
      assertThat(two.types()).isEqualTo(answer.types().subList(0, 2));
      DiffAnswer back = DiffQuestion.ask(after, before, TypeFilter.ALL, sort, 99);
      assertThat(back.types()).hasSameSizeAs(answer.types());
    }
  }

  @Test
  void referencesAreCountedWholeOrSaidToBeASample() throws Exception {
    Snapshot before = snapshot(1, 60_000);
    Snapshot after = snapshot(1, 160_000);
    DiffAnswer.ReferenceChange held = heldRopes(before, after);
    assertThat(held.countBefore()).isEqualTo(60_000);
    assertThat(held.countAfter()).isEqualTo(160_000);
    assertThat(held.sample()).isFalse();
    DiffAnswer.ReferenceChange many =
        heldRopes(before, snapshot(1, DiffQuestion.REFERENCES + 1_000));
    assertThat(many.countAfter()).isEqualTo(DiffQuestion.REFERENCES);
    assertThat(many.sample()).isTrue();
  }

  private static DiffAnswer.ReferenceChange heldRopes(Snapshot before, Snapshot after)
      throws Exception {
    return DiffQuestion.ask(before, after, TypeFilter.ALL, DiffQuestion.Sort.COUNT, 10)
        .references()
        .stream()
        .filter(row -> row.type().equals("harbour.Rope") && row.direction().equals("held by"))
        .findFirst()
        .orElseThrow();
  }
}
