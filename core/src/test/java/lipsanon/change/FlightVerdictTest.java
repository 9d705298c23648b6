package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import lipsanon.label.TypeFilter;
import lipsanon.live.Flight;
import lipsanon.live.HeapSeries;
import lipsanon.live.LightSnapshot;
import org.junit.jupiter.api.Test;

/** Verdicts on recordings that were made up. */
class FlightVerdictTest {
  private static final Predicate<String> OWN = type -> type.startsWith("portmerrow.");
  private static final String CALL = "portmerrow.VesselCall";
  private static final List<Flight.Frame> STACK =
      List.of(
          new Flight.Frame("java.util.ArrayList", "grow", 10),
          new Flight.Frame("portmerrow.HarbourOffice", "arrive", 53),
          new Flight.Frame("portmerrow.PortMerrow", "main", 20));

  private static List<Flight.Link> chain(String... holders) {
    List<Flight.Link> chain = new ArrayList<>();
    for (String holder : holders) {
      int dot = holder.lastIndexOf('.');
      boolean isStatic = holder.startsWith("static ");
      String type = holder.substring(isStatic ? 7 : 0, dot);
      chain.add(
          new Flight.Link(
              isStatic ? "java.lang.Class" : type,
              holder.substring(dot + 1),
              isStatic,
              isStatic ? "Class Name: " + type : ""));
    }
    return chain;
  }

  private static Flight.Survivor survivor(String type, long at, List<Flight.Link> chain) {
    return new Flight.Survivor(type, at, 60_000 - at, 0, -1, "main", STACK, chain, "Threads");
  }

  private static Flight flight(List<Flight.Survivor> survivors) {
    return new Flight(0, 60_000, List.of(), survivors, List.of(), false);
  }

  private static HeapSeries counts(long... calls) {
    List<HeapSeries.Types> counts = new ArrayList<>();
    for (int i = 0; i < calls.length; i++) {
      List<LightSnapshot.Type> types =
          List.of(
              new LightSnapshot.Type(CALL, calls[i], calls[i] * 32),
              new LightSnapshot.Type("byte[]", 5000 + calls[i], 900_000 + calls[i] * 900));
      long bytes = types.stream().mapToLong(LightSnapshot.Type::shallowBytes).sum();
      counts.add(new HeapSeries.Types(i * 10_000L, 5, true, 9_000, bytes, types));
    }
    return new HeapSeries("JVM", "portmerrow.PortMerrow", "1", 0, List.of(), counts, List.of());
  }

  private static FlightVerdict judge(Flight flight, HeapSeries counts) {
    return FlightVerdict.of(flight, counts, new TypeFilter(null, List.of(), false), OWN);
  }

  @Test
  void countsTellWhatPilesUpAndSurvivorsWhere() {
    List<Flight.Link> way =
        chain(
            "portmerrow.VesselCall.manifest",
            "java.lang.Object[].",
            "java.util.ArrayList.elementData",
            "portmerrow.TideBoard.subscribers",
            "portmerrow.HarbourOffice.tideBoard",
            "static portmerrow.PortMerrow.office");
    // the calls are too small to be sampled: what hangs on them is
    FlightVerdict verdict =
        judge(flight(List.of(survivor("byte[]", 9_000, way))), counts(100, 300, 500, 700));
    assertThat(verdict.verdict()).isEqualTo("growth");
    FlightVerdict.Pile first = verdict.piles().get(0);
    assertThat(first.type()).isEqualTo(CALL);
    assertThat(first.place()).isEqualTo("portmerrow.HarbourOffice.arrive (HarbourOffice.java:53)");
    assertThat(first.script()).isEqualTo("portmerrow/HarbourOffice.java");
    assertThat(first.heldBy()).isEqualTo("portmerrow.TideBoard.subscribers");
    assertThat(first.counts()).containsExactly(100L, 300L, 500L, 700L);
    assertThat(verdict.sentence()).contains("likely to pile up").contains("kB a second");
  }

  @Test
  void whatStaysOrStoppedIsNotAccused() {
    assertThat(judge(flight(List.of()), counts(100, 100, 100, 100)).verdict()).isEqualTo("none");
    assertThat(judge(flight(List.of()), counts(100, 900, 910, 910)).piles()).isEmpty();
    assertThat(judge(flight(List.of()), counts(100, 900, 100, 900)).piles()).isEmpty();
    // of the runtime's types only what survives out of own code from beginning to end counts
    assertThat(
            FlightVerdict.of(
                    flight(List.of()),
                    counts(100, 300, 500, 700),
                    new TypeFilter(null, List.of("nothing."), false),
                    type -> false)
                .piles())
        .isEmpty();
  }

  @Test
  void withoutCountsTheAgesTell() {
    List<Flight.Link> way = chain("java.util.ArrayList.elementData", "static portmerrow.Board.ALL");
    List<Flight.Survivor> leaking = new ArrayList<>();
    List<Flight.Survivor> young = new ArrayList<>();
    for (int i = 0; i < 24; i++) {
      leaking.add(survivor(CALL, i * 2_500L, way));
      young.add(survivor(CALL, 50_000 + i * 400L, way));
    }
    FlightVerdict verdict = judge(flight(leaking), null);
    assertThat(verdict.verdict()).isEqualTo("growth");
    assertThat(verdict.piles().get(0).heldBy()).isEqualTo("static portmerrow.Board.ALL");
    assertThat(verdict.piles().get(0).counted()).isFalse();
    assertThat(judge(flight(young), null).verdict()).isEqualTo("none");
    assertThat(judge(flight(leaking.subList(0, 3)), null).verdict()).isEqualTo("unclear");
  }
}
