package lipsanon.format.nettrace;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Random;
import java.util.Set;
import lipsanon.index.Via;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Which fields references stand in, against all the ways to lay them on the fields. */
class FieldNamesTest {
  private static final int OWNER = 0;
  private static final List<String> DECLARED =
      List.of("", "Boat", "Ship", "Crate", "System.Object");
  private static final List<Set<String>> KINDS =
      List.of(Set.of("Ship", "Boat"), Set.of("Boat"), Set.of("Crate"), Set.of("Rope"));

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6})
  void aFieldIsNamedIfAllWaysAgree(int seed) throws Exception {
    Random random = new Random(seed);
    int named = 0;
    for (int round = 0; round < 300; round++) {
      List<NameBook.Slot> slots = new ArrayList<>();
      for (int i = random.nextInt(7); i >= 0; i--) {
        slots.add(
            new NameBook.Slot("Yard", "f" + i, DECLARED.get(random.nextInt(DECLARED.size()))));
      }
      FieldNames names = stored(names(slots));
      // an object with some of its fields set
      List<Integer> targets = new ArrayList<>();
      List<NameBook.Slot> truth = new ArrayList<>();
      for (NameBook.Slot slot : slots) {
        int kind = random.nextInt(KINDS.size() + 1);
        if (random.nextInt(3) > 0 && fits(slot, kind)) {
          targets.add(kind + 1);
          truth.add(slot);
        }
      }
      List<Set<NameBook.Slot>> ways = new ArrayList<>();
      targets.forEach(target -> ways.add(new HashSet<>()));
      all(slots, targets, 0, new ArrayList<>(), ways);
      int[] numbers = names.aligned(OWNER, targets.stream().mapToInt(Integer::intValue).toArray());
      NameBook.Slot[] found = slots(slots, numbers);
      for (int i = 0; i < found.length; i++) {
        NameBook.Slot expected = ways.get(i).size() == 1 ? truth.get(i) : null;
        // what is ambiguous may be left out, what is named must be right
        assertThat(found[i] == null || found[i].equals(expected))
            .as("%s of %s: %s", targets, slots, found[i])
            .isTrue();
        named += found[i] != null ? 1 : 0;
        boolean alone = slots.stream().filter(slot -> fits(slot, targets.get(0) - 1)).count() == 1;
        if (i == 0 && alone) {
          assertThat(found[i]).isEqualTo(truth.get(i));
          assertThat(slots.get(names.alone(OWNER, targets.get(i)))).isEqualTo(truth.get(i));
        }
      }
    }
    assertThat(named).isGreaterThan(100);
  }

  @Test
  void whatFitsInNoOrderIsNamedByItsTypeAlone() {
    List<NameBook.Slot> slots =
        List.of(
            new NameBook.Slot("Yard", "crate", "Crate"),
            new NameBook.Slot("Yard", "one", "Boat"),
            new NameBook.Slot("Yard", "other", "Boat"));
    FieldNames names = names(slots);
    // a boat before a crate: the runtime has laid out the fields in another way than thought
    NameBook.Slot[] found = slots(slots, names.aligned(OWNER, new int[] {2, 3}));
    assertThat(found[0]).isNull();
    assertThat(found[1]).isEqualTo(slots.get(0));
    assertThat(names.aligned(7, new int[] {2})).containsExactly(-1);
    Via via = names.via(OWNER, "Yard<Rope>", 0);
    assertThat(via.text()).isEqualTo("Yard<Rope>.crate");
    assertThat(names.via(OWNER, "Yard<Rope>", 0)).isSameAs(via);
  }

  private static NameBook.Slot[] slots(List<NameBook.Slot> slots, int[] numbers) {
    NameBook.Slot[] found = new NameBook.Slot[numbers.length];
    for (int i = 0; i < numbers.length; i++) {
      found[i] = numbers[i] < 0 ? null : slots.get(numbers[i]);
    }
    return found;
  }

  /** Type 0 has the fields; type k + 1 is of the k-th kinds, the last of kinds unknown. */
  private static FieldNames names(List<NameBook.Slot> slots) {
    FieldNames names = new FieldNames();
    names.add(OWNER, new NameBook.Type("Yard", false, false, slots, Set.of()), null);
    for (int i = 0; i < KINDS.size(); i++) {
      names.add(i + 1, null, KINDS.get(i));
    }
    return names;
  }

  private static FieldNames stored(FieldNames names) throws Exception {
    ByteArrayOutputStream bytes = new ByteArrayOutputStream();
    names.write(new DataOutputStream(bytes));
    return FieldNames.read(new DataInputStream(new ByteArrayInputStream(bytes.toByteArray())));
  }

  private static boolean fits(NameBook.Slot slot, int kind) {
    return slot.declared().isEmpty()
        || slot.declared().equals("System.Object")
        || kind == KINDS.size()
        || KINDS.get(kind).contains(slot.declared());
  }

  private static void all(
      List<NameBook.Slot> slots,
      List<Integer> targets,
      int from,
      List<NameBook.Slot> chosen,
      List<Set<NameBook.Slot>> ways) {
    if (chosen.size() == targets.size()) {
      for (int i = 0; i < chosen.size(); i++) {
        ways.get(i).add(chosen.get(i));
      }
      return;
    }
    for (int s = from; s < slots.size(); s++) {
      if (fits(slots.get(s), targets.get(chosen.size()) - 1)) {
        chosen.add(slots.get(s));
        all(slots, targets, s + 1, chosen, ways);
        chosen.remove(chosen.size() - 1);
      }
    }
  }
}
