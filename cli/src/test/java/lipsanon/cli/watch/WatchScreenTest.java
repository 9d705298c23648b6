package lipsanon.cli.watch;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.List;
import java.util.stream.Collectors;
import lipsanon.capture.HeapReading;
import lipsanon.capture.TypeCounts;
import org.jline.utils.AttributedString;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

/** The screen of a watched heap at several sizes, drawn from made-up readings. */
class WatchScreenTest {
  private static Watched office(int seconds) {
    Watched watched = new Watched(true, true);
    long begin = 1_795_000_000_000L;
    for (int s = 0; s <= seconds; s++) {
      long at = begin + s * 1000L;
      long used = 20_000_000 + s * 100_000 + s % 10 * 900_000L;
      watched.add(
          new HeapReading(
              at,
              used,
              40_000_000,
              200_000_000,
              s / 10,
              s * 1000L,
              20_000_000,
              List.of(new HeapReading.Area("old", used / 2, 30_000_000, -1, true))));
      if (s % 5 == 0) {
        watched.add(
            new TypeCounts(
                at,
                12,
                true,
                List.of(
                    new TypeCounts.TypeCount("byte[]", 90_000 + s * 100L, 9_000_000 + s * 70_000L),
                    new TypeCounts.TypeCount("portmerrow.VesselCall", 400 + s, 12_800 + s * 32L),
                    new TypeCounts.TypeCount("evil\u001b[31m", 1, 16)),
                90_401,
                20_000_000 + s * 100_000L));
      }
    }
    return watched;
  }

  private static WatchScreen.State state(TypeRows.Sort sort, String match, boolean own) {
    return new WatchScreen.State(
        "portmerrow.PortMerrow (JVM 4711)",
        sort,
        match,
        own,
        List.of(),
        false,
        null,
        "",
        "counted");
  }

  private static List<String> draw(
      Watched watched, WatchScreen.State state, int width, int height) {
    return WatchScreen.draw(watched, state, true, true, width, height).stream()
        .map(AttributedString::toString)
        .collect(Collectors.toList());
  }

  @ParameterizedTest
  @CsvSource({"80,24", "156,48", "60,20", "40,10", "200,60", "80,5"})
  void fillsTheScreenAndNoMore(int width, int height) {
    WatchScreen.State state = state(TypeRows.Sort.GROWTH, "", false);
    List<AttributedString> lines = WatchScreen.draw(office(120), state, true, true, width, height);
    assertThat(lines).hasSize(height);
    for (AttributedString line : lines) {
      assertThat(line.columnLength()).isLessThanOrEqualTo(width);
    }
    assertThat(lines.get(0).toString()).startsWith("portmerrow.PortMerrow");
    assertThat(lines.get(height - 1).toString()).startsWith("b baseline");
  }

  @Test
  void saysWhetherItRisesAndWhatOf() {
    List<String> lines = draw(office(120), state(TypeRows.Sort.GROWTH, "", false), 130, 40);
    String all = String.join("\n", lines);
    assertThat(all).contains("RISING by 100.0 kB/s").contains("25 live counts in 2 min");
    assertThat(all).contains("old 16.0 MB of 30.0 MB (53 %)");
    // what is the user's own stands first
    int own = all.indexOf("portmerrow.VesselCall");
    assertThat(own).isBetween(0, all.indexOf("byte[]"));
    assertThat(all).contains("+8.40 MB").contains("+350.0 kB").contains("+120");
    assertThat(all).doesNotContain("\u001b[31m").contains("evil\\u001b");
    assertThat(draw(office(20), state(TypeRows.Sort.GROWTH, "", false), 130, 40).toString())
        .contains("cannot tell yet whether it rises: about 40 s more");
  }

  @Test
  void sortsAndFilters() {
    Watched office = office(60);
    assertThat(TypeRows.of(office, TypeRows.Sort.BYTES, "", false, List.of()).get(0).type())
        .isEqualTo("byte[]");
    assertThat(TypeRows.of(office, TypeRows.Sort.GROWTH, "vessel", false, List.of()))
        .extracting(TypeRows.Row::type)
        .containsExactly("portmerrow.VesselCall");
    assertThat(TypeRows.of(office, TypeRows.Sort.GROWTH, "", true, List.of("portmerrow.")))
        .extracting(TypeRows.Row::type)
        .containsExactly("portmerrow.VesselCall");
    TypeRows.Row row = TypeRows.of(office, TypeRows.Sort.COUNT, "byte", false, List.of()).get(0);
    assertThat(row.countDifference()).isEqualTo(6000);
    assertThat(row.countRecent()).isEqualTo(500);
    office.rebase(1);
    assertThat(
            TypeRows.of(office, TypeRows.Sort.COUNT, "byte", false, List.of())
                .get(0)
                .countDifference())
        .isZero();
  }

  @Test
  void linesAreDrawnWhereTheirValuesAre() {
    List<long[]> rising = new ArrayList<>();
    for (int i = 0; i <= 100; i++) {
      rising.add(new long[] {i, i});
    }
    Chart chart = new Chart(20, 5, false, 0, 100, 0, 100);
    chart.draw(new Chart.Line(rising, false, org.jline.utils.AttributedStyle.DEFAULT, '*'));
    List<String> rows = chart.rows().stream().map(AttributedString::toString).toList();
    assertThat(rows.get(0)).endsWith("*").startsWith("          ");
    assertThat(rows.get(4)).startsWith("*").endsWith("          ");
    assertThat(chart.column(0)).isZero();
    assertThat(chart.column(100)).isEqualTo(19);
    // a value outside is drawn at the edge
    Chart narrow = new Chart(4, 2, true, 0, 10, 0, 10);
    narrow.draw(
        new Chart.Line(
            List.of(new long[] {0, 99}), true, org.jline.utils.AttributedStyle.DEFAULT, '*'));
    assertThat(narrow.rows().get(0).toString()).isNotBlank();
  }
}
