package lipsanon.format.hprof;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lipsanon.graph.Strength;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.io.CorruptInputException;
import lipsanon.io.Progress;
import lipsanon.io.UnsupportedInputException;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

class HprofReaderTest {
  @TempDir Path folder;

  private Snapshot open(byte[] dump) throws Exception {
    Path file = folder.resolve("s.hprof");
    Files.write(file, dump);
    return Snapshots.open(
        file, new Snapshots.Options(null, folder, false, 1L << 30), Progress.NONE);
  }

  @ParameterizedTest
  @ValueSource(ints = {4, 8})
  void readsEveryKindOfRecord(int idSize) throws Exception {
    try (Snapshot s = open(HprofBuilder.sample(idSize))) {
      assertThat(s.objectCount()).isEqualTo(10 + 5 + 8);
      assertThat(s.totals().retainedObjects()).isEqualTo(s.objectCount() - unretained(s));
      assertThat(s.facts().danglingReferences()).isEqualTo(1);
      assertThat(s.facts().partial()).isFalse();
      assertThat(strength(s, 0x4100)).isEqualTo(Strength.STRONG);
      assertThat(strength(s, 0x4700)).isEqualTo(Strength.STRONG);
      assertThat(strength(s, 0x5200)).isEqualTo(Strength.UNRETAINED);
      assertThat(strength(s, 0x5400)).isEqualTo(Strength.SOFT);
      assertThat(strength(s, 0x5600)).isEqualTo(Strength.FINALIZER);
      assertThat(s.depth(s.nodeOf(0x4100))).isEqualTo(3);
      // a thread retains its stack
      assertThat(s.dominator(s.nodeOf(0x4700))).isEqualTo(s.nodeOf(0x5000));
      // a local whose thread is unknown is a root of its own
      assertThat(s.dominator(s.nodeOf(0x5100))).isEqualTo(-1);
      assertThat(s.depth(s.nodeOf(0x5100))).isEqualTo(1);
      assertThat(s.typeName(s.nodeOf(0x4000))).isEqualTo("java.lang.Object[]");
      assertThat(s.typeName(s.nodeOf(0x1800))).isEqualTo("java.lang.Class");
      assertThat(s.objects().text(s.nodeOf(0x1800), 99)).isEqualTo("class harbour.Board");
      assertThat(s.id(s.nodeOf(0x4100))).isEqualTo("0x4100");
    }
  }

  /**
   * More elements than are held in memory at once, among small objects, some that are not there.
   */
  @ParameterizedTest
  @ValueSource(ints = {4, 8})
  void readsArraysOfAnyLength(int idSize) throws Exception {
    long[] elements = new long[200_001];
    for (int i = 0; i < elements.length; i++) {
      elements[i] = i % 7 == 0 ? 0 : i % 11 == 0 ? 0xdead0 : 0x10000 + 16L * (i % 1000);
    }
    HprofBuilder dump =
        new HprofBuilder(idSize)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1700, "[Ljava/lang/Object;", 0x1000, Map.of())
            .type(0x1800, "harbour.Berth", 0x1000, Map.of())
            .segment();
    for (int i = 0; i < 1000; i++) {
      dump.instance(0x10000 + 16L * i, 0x1800);
      if (i == 500) {
        dump.array(0x4000, 0x1700, elements);
      }
    }
    try (Snapshot s = open(dump.root(HprofFormat.ROOT_JNI_GLOBAL, 0x4000).build())) {
      List<Long> expected = new ArrayList<>();
      long missing = 0;
      for (long element : elements) {
        missing += element == 0xdead0 ? 1 : 0;
        if (element != 0 && element != 0xdead0) {
          expected.add(element);
        }
      }
      List<Long> targets = new ArrayList<>();
      s.objects()
          .references(
              s.nodeOf(0x4000),
              r -> {
                if (r.via().text().startsWith("[")) {
                  targets.add(Long.decode(s.id(r.target())));
                }
              });
      assertThat(targets).isEqualTo(expected);
      assertThat(s.facts().danglingReferences()).isEqualTo(missing);
      for (int i = 0; i < 1000; i++) {
        assertThat(s.depth(s.nodeOf(0x10000 + 16L * i))).isEqualTo(2);
      }
    }
  }

  private static long unretained(Snapshot s) {
    long count = 0;
    for (int n = 0; n < s.objectCount(); n++) {
      count += s.depth(n) == 0 ? 1 : 0;
    }
    return count;
  }

  private static Strength strength(Snapshot s, long id) {
    return s.strength(s.nodeOf(id));
  }

  @Test
  void namesReferencesAndValues() throws Exception {
    try (Snapshot s = open(HprofBuilder.sample(8))) {
      List<String> references = new ArrayList<>();
      s.objects()
          .references(
              s.nodeOf(0x4100), r -> references.add(r.via().text() + " " + s.id(r.target())));
      assertThat(references)
          .containsExactly(
              "harbour.Call.board 0x4600", "harbour.Call.next 0x4200", "its class 0x1900");
      List<Reference> weak = new ArrayList<>();
      s.objects().references(s.nodeOf(0x5100), weak::add);
      assertThat(weak.get(0).kind()).isEqualTo(Reference.Kind.WEAK);
      assertThat(s.objects().viaTo(s.nodeOf(0x5100), s.nodeOf(0x5200))).isNull();
      assertThat(s.objects().viaTo(s.nodeOf(0x5300), s.nodeOf(0x5400)).text())
          .isEqualTo("java.lang.ref.Reference.referent");
      assertThat(s.objects().viaTo(s.nodeOf(0x4000), s.nodeOf(0x4200)).text()).isEqualTo("[1]");
      assertThat(s.objects().viaTo(s.nodeOf(0x1800), s.nodeOf(0x4000)).text())
          .isEqualTo("static harbour.Board.CALLS");
      assertThat(s.objects().fields(s.nodeOf(0x4600), 9).get(0).value()).isEqualTo("12");
      assertThat(s.objects().fields(s.nodeOf(0x4600), 9).get(1).value()).isEqualTo("true");
      assertThat(s.objects().fields(s.nodeOf(0x4700), 2)).hasSize(2);
      assertThat(s.objects().length(s.nodeOf(0x4000))).isEqualTo(4);
      assertThat(s.inbound(s.nodeOf(0x4200)).size()).isEqualTo(3);
    }
  }

  @Test
  void theFirstRecordOfAnIdentifierCounts() throws Exception {
    byte[] dump =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "a.First", 0x1000, Map.of())
            .type(0x1200, "a.Second", 0x1000, Map.of())
            .instance(0x2000, 0x1100)
            .segment()
            .instance(0x2000, 0x1200)
            .root(HprofFormat.ROOT_MONITOR, 0x2000)
            .build();
    try (Snapshot s = open(dump)) {
      assertThat(s.facts().duplicateObjects()).isEqualTo(1);
      assertThat(s.typeName(s.nodeOf(0x2000))).isEqualTo("a.First");
    }
  }

  @Test
  void oddAddressesAreFoundToo() throws Exception {
    HprofBuilder builder = new HprofBuilder(8).type(0x1001, "java.lang.Object", 0, Map.of());
    for (long i = 1; i < 63; i++) {
      builder.instance(1L << i | 3, 0x1001);
      builder.root(HprofFormat.ROOT_MONITOR, 1L << i | 3);
    }
    builder.instance(0xffff_ffff_ffff_fff1L, 0x1001);
    try (Snapshot s = open(builder.build())) {
      assertThat(s.objectCount()).isEqualTo(64);
      assertThat(s.nodeOf(0xffff_ffff_ffff_fff1L)).isEqualTo(63);
      assertThat(s.typeName(s.nodeOf(1L << 40 | 3))).isEqualTo("java.lang.Object");
    }
  }

  @Test
  void passesOverUnknownRecordsAndCountsThem() throws Exception {
    HprofBuilder builder = new HprofBuilder(8);
    builder.record(0x77, new byte[] {1, 2, 3});
    builder.type(0x1000, "java.lang.Object", 0, Map.of()).instance(0x2000, 0x1000);
    try (Snapshot s = open(builder.build())) {
      assertThat(s.facts().unknownRecords()).isEqualTo(1);
      assertThat(s.facts().warnings()).anyMatch(w -> w.contains("unknown kind"));
    }
  }

  @Test
  void saysWhatIsWrongAndWhere() {
    assertThatThrownBy(() -> open(new byte[0]))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining("empty");
    assertThatThrownBy(() -> open("no snapshot at all, just text".getBytes()))
        .isInstanceOf(UnsupportedInputException.class)
        .hasMessageContaining("no heap snapshot")
        .hasMessageContaining("byte 0");
    byte[] unknownTag =
        new HprofBuilder(8).type(0x1000, "java.lang.Object", 0, Map.of()).raw(0x55).build();
    assertThatThrownBy(() -> open(unknownTag))
        .isInstanceOf(CorruptInputException.class)
        .hasMessageContaining("0x55")
        .hasMessageMatching("(?s).*at byte \\d+.*");
  }
}
