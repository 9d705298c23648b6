package lipsanon.holder;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.Test;

/** Types that differ in numbers only. */
class MadeTypesTest {
  private static Map<String, int[]> joined(String... names) {
    Map<String, int[]> types = new LinkedHashMap<>();
    for (String name : names) {
      types.put(name, new int[] {1});
    }
    return MadeTypes.joined(types, (known, other) -> known[0] += other[0]);
  }

  @Test
  void areOneUnderWhatTheirNamesBeginWith() {
    Map<String, int[]> joined = joined("rules.tariff7_7", "rules.tariff80_80", "rules.Tide");
    assertThat(joined.keySet()).containsExactly("rules.tariff…", "rules.Tide");
    assertThat(joined.get("rules.tariff…")).containsExactly(2);
  }

  @Test
  void numbersThatAllHaveStay() {
    assertThat(joined("port2.Rule1", "port2.Rule2").keySet()).containsExactly("port2.Rule…");
    assertThat(joined("port2.Rule1x3", "port2.Rule1x44").keySet()).containsExactly("port2.Rule1x…");
  }

  @Test
  void aNumberMayBeginWithAnother() {
    assertThat(joined("port.Rule1", "port.Rule12").keySet()).containsExactly("port.Rule…");
  }

  @Test
  void oneAloneKeepsItsName() {
    assertThat(joined("rules.tariff80", "rules.Tide").keySet())
        .containsExactly("rules.tariff80", "rules.Tide");
  }
}
