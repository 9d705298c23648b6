package lipsanon.select;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Closed;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Selections with names, on a harbour of three berths and their boats. */
class NamedSelectionsTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;
  private Snapshot s;

  @BeforeEach
  void open() throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "harbour.Place", 0x1000, Map.of())
            .type(0x1200, "harbour.Berth", 0x1100, Map.of("FIRST", 0x3000L), "next:2", "closed:4")
            .type(0x1300, "harbour.Boat", 0x1000, Map.of(), "berth:2", "length:10")
            .type(0x1400, "Script1", 0x1000, Map.of())
            .type(0x1500, "Script2", 0x1000, Map.of())
            .type(0x1600, "harbour.Script", 0x1000, Map.of())
            .root(STICKY, 0x1200);
    for (int i = 0; i < 3; i++) {
      long id = 0x3000 + i * 0x40L;
      b.instance(id, 0x1200, i < 2 ? id + 0x40 : 0, i % 2);
      b.instance(0x5000 + i * 0x40L, 0x1300, id, 10L + i);
    }
    Path file = folder.resolve("harbour.hprof");
    Files.write(file, b.build());
    s = Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @AfterEach
  void close() throws Exception {
    s.close();
  }

  private int count(String text) throws Exception {
    Selector.Options options =
        new Selector.Options(
            new TypeFilter(null, List.of(), true),
            NamedSelections.of(s),
            Selector.Options.DEFAULTS.earlier(),
            Selector.Stop.NEVER);
    return new Selector(s, options).select(text).cardinality();
  }

  @Test
  void namesAreFoundAgain() throws Exception {
    assertThat(NamedSelections.of(s)).isEmpty();
    NamedSelections.put(s, "berths", "harbour.Berth");
    NamedSelections.put(s, "open", "$berths and closed = false");
    assertThat(NamedSelections.of(s).keySet()).containsExactly("berths", "open");
    assertThat(count("$berths")).isEqualTo(3);
    assertThat(count("$open")).isEqualTo(2);
    NamedSelections.put(s, "open", "$berths and closed = true");
    assertThat(count("$open or harbour.Boat")).isEqualTo(4);
  }

  @Test
  void aNameThatRefersToItselfIsRefused() throws Exception {
    NamedSelections.put(s, "a", "not $b");
    NamedSelections.put(s, "b", "$a and own");
    assertThatThrownBy(() -> count("$a"))
        .isInstanceOf(SelectionException.class)
        .hasMessageContaining("refers to itself");
  }

  @Test
  void whatIsNoNameIsNotKept() {
    for (String name : List.of("", "a b", "1x", "x\ty", "a".repeat(65))) {
      assertThat(NamedSelections.isName(name)).as(name).isFalse();
      assertThatThrownBy(() -> NamedSelections.put(s, name, "own"))
          .isInstanceOf(IllegalArgumentException.class);
    }
    assertThatThrownBy(() -> NamedSelections.put(s, "x", "own\nall"))
        .isInstanceOf(IllegalArgumentException.class);
  }

  @Test
  void kindsAreTypesWithTheirSubtypes() throws Exception {
    assertThat(count("kind harbour.Place")).isEqualTo(3);
    assertThat(count("kind java.lang.Object")).isGreaterThanOrEqualTo(6);
    assertThat(count("kind Boat")).isEqualTo(3);
    assertThatThrownBy(() -> count("kind harbour.Plaice"))
        .isInstanceOf(SelectionException.class)
        .hasMessageContaining("no type harbour.Plaice");
  }

  @Test
  void fieldsAlongAPathAndNumbers() throws Exception {
    assertThat(count("berth.next.closed = true and 'length' < 12")).isEqualTo(1);
    assertThat(count("next = null")).isEqualTo(1);
    assertThat(count("\"length\" >= 11")).isEqualTo(2);
    assertThat(count("harbour.Boat and 'length' != 11")).isEqualTo(2);
    assertThat(count("next = " + s.id(s.nodeOf(0x3040)))).isEqualTo(1);
    assertThat(count("class harbour.Berth")).isEqualTo(1);
  }

  /** As findings call them: those that differ in a number only are one family. */
  @Test
  void classesOfAFamily() throws Exception {
    assertThat(count("class Script")).isEqualTo(2);
    assertThat(count("class Script2")).isEqualTo(1);
    assertThat(count("class harbour.Script")).isEqualTo(1);
    assertThat(count("class Boat")).isEqualTo(1);
  }

  @Test
  void whatSaysThatItIsClosedIsKnown() throws Exception {
    assertThat(Closed.is(s, s.nodeOf(0x3000))).isFalse();
    assertThat(Closed.field(s, s.nodeOf(0x3040), Closed.NAMES)).isEqualTo("closed");
    assertThat(Closed.field(s, s.nodeOf(0x3040), java.util.Set.of("sunk"))).isNull();
  }

  @Test
  void boatsThatNothingKeepsAreUnretained() throws Exception {
    assertThat(count("unretained and harbour.Boat")).isEqualTo(3);
    assertThat(count("refers to harbour.Berth through berth")).isEqualTo(3);
    assertThat(count("harbour.Berth and kept by class harbour.Berth")).isEqualTo(3);
    // lengths of arrays, of which there are none: and then nothing is asked for its fields
    assertThat(count("length < 12 and berth.closed = true")).isZero();
    Cut cut = Cut.of(s, List.of(s.nodeOf(0x3000)), "next");
    assertThat(cut.size()).isEqualTo(1);
    assertThat(Removal.of(s, cut).count()).isEqualTo(2);
    assertThat(Cut.of(s, List.of(s.nodeOf(0x1200)), "FIRST").size()).isEqualTo(1);
    assertThat(Cut.of(s, List.of(s.nodeOf(0x3000)), "previous").size()).isZero();
  }
}
