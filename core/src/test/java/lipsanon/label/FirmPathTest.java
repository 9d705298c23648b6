package lipsanon.label;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.graph.Strength;
import lipsanon.index.Reference;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.question.ExportedFiguresTest;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** The path to what is kept firmly never leads through what soft references alone keep. */
class FirmPathTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;

  private Snapshot open(byte[] dump) throws Exception {
    Path file = Files.write(folder.resolve("a.hprof"), dump);
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  @Test
  void aLongWayThatStaysGoesBeforeAShortOneThatMayGo() throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1400, "java.lang.ref.Reference", 0x1000, Map.of(), "referent:2", "next:2")
            .type(0x1600, "java.lang.ref.SoftReference", 0x1400, Map.of())
            .type(0x1700, "harbour.Note", 0x1000, Map.of(), "of:2")
            .type(0x1800, "harbour.Cache", 0x1000, Map.of("LAST", 0x1_0000L))
            .type(0x1900, "harbour.Pier", 0x1000, Map.of("FIRST", 0x1_0100L), "next:2")
            .instance(0x1_0000, 0x1600, 0x1_0040, 0)
            .instance(0x1_0040, 0x1700, 0x1_0500)
            .root(STICKY, 0x1800)
            .root(STICKY, 0x1900);
    for (long pier = 0x1_0100; pier < 0x1_0500; pier += 0x40) {
      b.instance(pier, 0x1900, pier + 0x40);
    }
    b.instance(0x1_0500, 0x1900, 0);
    try (Snapshot s = open(b.build())) {
      int end = s.nodeOf(0x1_0500L);
      assertThat(s.strength(end)).isEqualTo(Strength.STRONG);
      assertThat(s.depth(end)).isLessThan(6);
      List<Step> steps = new NearestPaths(s).to(end);
      assertThat(steps.get(0).via()).isEqualTo("static harbour.Pier.FIRST");
      assertThat(steps).extracting(Step::type).containsOnly("harbour.Pier");
      // what is kept softly itself has no other path
      List<Step> soft = new NearestPaths(s).to(s.nodeOf(0x1_0040L));
      assertThat(soft.get(0).via()).isEqualTo("static harbour.Cache.LAST");
    }
  }

  /**
   * Whether references from objects that are kept as firmly lead up to a root. That an object has a
   * class is none: loaders have classes.
   */
  private static boolean hasFirmPath(Snapshot s, int node) throws Exception {
    Set<Integer> seen = new HashSet<>(Set.of(node));
    ArrayDeque<Integer> pending = new ArrayDeque<>(seen);
    while (!pending.isEmpty()) {
      int target = pending.remove();
      if (s.depth(target) == 1) {
        return true;
      }
      for (int from = 0; from < s.objectCount(); from++) {
        List<Reference> references = new ArrayList<>();
        if (s.depth(from) > 0 && s.strength(from).compareTo(s.strength(node)) <= 0) {
          s.objects().references(from, references::add);
        }
        boolean keeps =
            references.stream()
                .filter(r -> r.kind() == Reference.Kind.STRONG && r.target() == target)
                .anyMatch(r -> !r.via().name().equals("class"));
        if (keeps && seen.add(from)) {
          pending.add(from);
        }
      }
    }
    return false;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
  void equalsASearchAmongFirmReferencesOnly(long seed) throws Exception {
    try (Snapshot s = open(ExportedFiguresTest.random(seed))) {
      for (int n = 0; n < s.objectCount(); n++) {
        if (s.strength(n) == Strength.STRONG && hasFirmPath(s, n)) {
          for (Step step : new NearestPaths(s).to(n, true)) {
            assertThat(s.strength(s.nodeOf(step.id())))
                .as("seed %d, path to %s at %s", seed, s.id(n), step)
                .isEqualTo(Strength.STRONG);
          }
        }
      }
    }
  }
}
