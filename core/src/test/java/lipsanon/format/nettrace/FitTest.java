package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.Arrays;
import java.util.Collections;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;

class FitTest {
  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "List, List<Boat>, IList ; List<Boat> ; true",
        "List, List<Boat>, IList ; List<Crate> ; false",
        "List, List<Boat>, IList ; List ; true",
        // of interfaces and base classes the arguments are not known
        "List, List<Boat>, IList ; IList<Crate> ; true",
        "List, List<Boat>, IList ; ISet<Boat> ; false",
        "List, IList ; List<Crate> ; true",
        "List[], List<Boat>[], IList[], [] ; List<Boat>[] ; true",
        "List[], List<Boat>[], IList[], [] ; List<Crate>[] ; false",
        "List[], List<Boat>[], IList[], [] ; List<Boat> ; false",
        "List[], List<Boat>[], IList[], [] ; IList<Boat>[] ; true",
        "Shelf, Shelf<List<Boat>> ; Shelf<List<Crate>> ; false",
        "Office.<>c__Closure, System.Object ; Office.<>c__Closure ; true",
        "Office.<>c__Closure, System.Object ; Office.<>c__Other ; false",
        "Boat ; '' ; true",
        "Boat ; System.Object ; true"
      })
  void argumentsCountWhereTheyAreKnown(String kinds, String declared, boolean fits) {
    assertThat(Fit.in(Set.of(kinds.split(", ")), declared)).isEqualTo(fits);
  }

  @Test
  void whatATaskGoesOnWithIsNoObjectOfTheProgram() {
    String task = "System.Threading.Tasks.Task";
    String declared = Fit.narrower(task, "m_continuationObject", "System.Object");
    assertThat(Fit.in(Set.of("System.Action", "System.Delegate", "System.Object"), declared))
        .isTrue();
    assertThat(Fit.in(Set.of("Harbour.Plan", "System.Object"), declared)).isFalse();
    // the runtime's own mark for one that has ended
    assertThat(Fit.in(Set.of("System.Object"), declared)).isTrue();
    String box = "System.Runtime.CompilerServices.AsyncTaskMethodBuilder.AsyncStateMachineBox";
    assertThat(Fit.isNeverSet(box, task, "m_stateObject")).isTrue();
    assertThat(Fit.isNeverSet(task + ".DelayPromise", task, "m_stateObject")).isTrue();
    assertThat(Fit.isNeverSet(task, task, "m_stateObject")).isFalse();
    assertThat(Fit.isNeverSet(box, task, "m_action")).isFalse();
    assertThat(Fit.narrower(task, "m_other", "System.Object")).isEqualTo("System.Object");
    assertThat(Fit.narrower(task, "m_continuationObject", "Boat")).isEqualTo("Boat");
  }

  @Test
  void namesHaveTheirArguments() {
    Map<Long, HeapEvents.RawType> raw =
        Map.of(
            1L, type(1, 0, 2, 3),
            2L, type(2, 0, 4),
            3L, type(3, NettraceTypes.ARRAY, 4),
            4L, type(4, 0),
            5L, type(5, 0, 5),
            6L, type(6, 0, 9));
    List<String> names = List.of("", "Map", "List", "", "Boat", "Ring", "List");
    assertThat(full(1, raw, names)).isEqualTo("Map<List<Boat>, Boat[]>");
    // one in itself, and one of what is not described
    assertThat(full(5, raw, names)).isNull();
    assertThat(full(6, raw, names)).isNull();
  }

  /** Whoever writes such a stream wants more memory than there is. */
  @Test
  void namesThatGrowWithoutEndAreNone() {
    Map<Long, HeapEvents.RawType> raw = new HashMap<>();
    raw.put(8L, type(8, 0));
    for (int i = 0; i < 8; i++) {
      long[] arguments = new long[1000];
      Arrays.fill(arguments, i + 1L);
      raw.put((long) i, type(i, 0, arguments));
    }
    List<String> names = Collections.nCopies(9, "Ring");
    assertThat(full(0, raw, names)).isNull();
    assertThat(full(7, raw, names)).isNull();
    assertThat(full(8, raw, names)).isEqualTo("Ring");
  }

  private static String full(long id, Map<Long, HeapEvents.RawType> raw, List<String> names) {
    return Fit.full(id, raw, type -> names.get((int) type), 0);
  }

  private static HeapEvents.RawType type(long id, int flags, long... arguments) {
    return new HeapEvents.RawType(id, 1, (int) id, flags, "t" + id, arguments);
  }
}
