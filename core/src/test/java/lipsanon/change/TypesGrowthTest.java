package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import lipsanon.holder.Finding;
import lipsanon.label.TypeFilter;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;
import org.junit.jupiter.api.Test;

/** Series of counts alone: what grows, what does not, and before and after a fix. */
class TypesGrowthTest {
  private static LightSnapshot light(long at, long calls, long strings, long cached) {
    return new LightSnapshot(
        "JVM",
        "portmerrow.PortMerrow",
        "1",
        at,
        true,
        List.of(
            new LightSnapshot.Type("portmerrow.VesselCall", calls, calls * 32),
            new LightSnapshot.Type("java.lang.String", strings, strings * 24),
            new LightSnapshot.Type("portmerrow.PilotCache$Certificate", cached, cached * 24),
            new LightSnapshot.Type("byte[]", 1000, 100_000 + strings * 40)));
  }

  private static List<TypeTable> series(long... calls) {
    List<TypeTable> tables = new ArrayList<>();
    for (int i = 0; i < calls.length; i++) {
      LightSnapshot light = light(1000 * (i + 1), calls[i], 5000 + 20 * calls[i], 400);
      tables.add(TypeTable.of(i + ".light.jsonl", light, TypeFilter.ALL));
    }
    return tables;
  }

  @Test
  void ownTypesComeFirstAndWhatTheyConsistOfIsSetAside() {
    GrowthAnswer answer = TypesGrowth.ask(series(100, 200, 300, 400), new int[] {5, 5, 5});
    assertThat(answer.verdict()).isEqualTo("growth");
    assertThat(answer.findings()).hasSize(1);
    Finding first = answer.findings().get(0);
    assertThat(first.what()).isEqualTo("portmerrow.VesselCall");
    assertThat(first.countPerAction()).isEqualTo(20);
    assertThat(first.counts()).containsExactly(100L, 200L, 300L, 400L);
    assertThat(first.heldBy()).isEmpty();
    assertThat(answer.setAside())
        .extracting(GrowthAnswer.SetAside::what)
        .contains("java.lang.String");
  }

  @Test
  void whatStaysOrSwingsIsNoFinding() {
    assertThat(TypesGrowth.ask(series(100, 100, 100), new int[2]).verdict()).isEqualTo("none");
    assertThat(TypesGrowth.ask(series(100, 400, 120, 410, 100), new int[4]).findings()).isEmpty();
    assertThat(TypesGrowth.ask(series(100, 400, 402, 403, 403), new int[4]).findings()).isEmpty();
    assertThat(TypesGrowth.ask(series(100, 400), new int[1]).verdict()).isEqualTo("unclear");
  }

  @Test
  void aFixIsProved() {
    GrowthAnswer before = TypesGrowth.ask(series(100, 200, 300), new int[2]);
    GrowthAnswer after = TypesGrowth.ask(series(100, 100, 100), new int[2]);
    assertThat(ProofAnswer.of(before, after).proved()).isTrue();
    assertThat(ProofAnswer.of(before, before).proved()).isFalse();
  }

  @Test
  void aDifferenceOfTwo() {
    List<TypeTable> two = series(100, 250);
    TypesDiff diff = TypesDiff.of(two.get(0), two.get(1), TypeFilter.ALL, true, 10);
    assertThat(diff.types().get(0).type()).isEqualTo("java.lang.String");
    assertThat(diff.types().get(0).countDifference()).isEqualTo(3000);
    assertThat(diff.changedTypes()).isEqualTo(3);
    TypeFilter own = new TypeFilter("vessel", List.of(), true);
    assertThat(TypesDiff.of(two.get(0), two.get(1), own, true, 10).types())
        .extracting(TypesDiff.Change::type)
        .containsExactly("portmerrow.VesselCall");
  }

  @Test
  void aWatchedSeriesTellsTrendAndTypes() {
    List<HeapSeries.Types> counts = new ArrayList<>();
    for (int i = 0; i < 20; i++) {
      LightSnapshot light = light(i * 5000L, 100 + 40 * i, 9000, 400);
      long bytes = 20_000_000 + 500_000L * i;
      counts.add(new HeapSeries.Types(i * 5000L, 10, true, light.count(), bytes, light.types()));
    }
    HeapSeries series =
        new HeapSeries("JVM", "portmerrow.PortMerrow", "1", 0, List.of(), counts, List.of());
    GrowthAnswer answer = WatchedGrowth.ask("office.series", series, TypeFilter.ALL);
    assertThat(answer.verdict()).isEqualTo("growth");
    assertThat(answer.sentence()).contains("rises by 100.0 kB a second").contains("VesselCall");
    HeapSeries shorter =
        new HeapSeries("JVM", "x", "1", 0, List.of(), counts.subList(0, 3), List.of());
    assertThat(WatchedGrowth.ask("s", shorter, TypeFilter.ALL).verdict()).isEqualTo("unclear");
    HeapSeries empty = new HeapSeries("JVM", "x", "1", 0, List.of(), List.of(), List.of());
    assertThat(WatchedGrowth.ask("s", empty, TypeFilter.ALL).verdict()).isEqualTo("unclear");
  }
}
