package lipsanon.holder;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import lipsanon.array.IntList;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.graph.Strength;
import lipsanon.index.Reference;
import lipsanon.index.RootInfo;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Links;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;
import lipsanon.question.ExportedFiguresTest;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** What a cut frees, against removal and search; the fewest holders, against trying all. */
class CutSearchTest {
  private static final int STICKY = 0x05;

  @TempDir Path folder;

  private Snapshot open(byte[] dump) throws Exception {
    Path file = Files.write(folder.resolve("cut.hprof"), dump);
    return Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE);
  }

  private static boolean keeps(Snapshot s, int from, Reference reference) {
    Strength target = s.strength(reference.target());
    if (s.strength(from).compareTo(target) > 0) {
      // what is kept less firmly itself does not decide
      return false;
    }
    return switch (reference.kind()) {
      case STRONG -> true;
      case SOFT -> target == Strength.SOFT || target == Strength.FINALIZER;
      default -> false;
    };
  }

  /** All that is reached when some objects let go of what they refer to; classes always stay. */
  private static Set<Integer> reachedWithout(Snapshot s, Set<Integer> without) throws Exception {
    Set<Integer> reached = new HashSet<>();
    ArrayDeque<Integer> pending = new ArrayDeque<>();
    for (int n = 0; n < s.objectCount(); n++) {
      boolean root = false;
      for (RootInfo info : s.rootsOf(n)) {
        root |= info.thread() < 0;
      }
      boolean begins = root || s.classNodes().contains(n);
      if (begins && s.depth(n) > 0 && reached.add(n)) {
        pending.add(n);
      }
    }
    while (!pending.isEmpty()) {
      int node = pending.remove();
      if (without.contains(node)) {
        continue;
      }
      List<Reference> references = new ArrayList<>();
      s.objects().references(node, references::add);
      for (Reference reference : references) {
        if (keeps(s, node, reference) && reached.add(reference.target())) {
          pending.add(reference.target());
        }
      }
    }
    return reached;
  }

  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12, 13, 14, 15, 16, 17, 18, 19, 20})
  void manySetsAtOnceEqualOneSearchEach(long seed) throws Exception {
    Random random = new Random(seed * 31);
    try (Snapshot s = open(ExportedFiguresTest.random(seed))) {
      IntList asked = new IntList();
      IntList others = new IntList();
      for (int n = 0; n < s.objectCount(); n++) {
        if (s.depth(n) > 0 && !s.classNodes().contains(n)) {
          others.add(n);
          if (random.nextInt(3) == 0) {
            asked.add(n);
          }
        }
      }
      List<IntList> sets = new ArrayList<>();
      for (int i = 0; i < 40 && !others.isEmpty(); i++) {
        IntList set = new IntList();
        for (int k = random.nextInt(4); k >= 0; k--) {
          set.add(others.get(random.nextInt(others.size())));
        }
        sets.add(set);
      }
      long[] reached =
          CutSearch.reached(s, new Links(s), asked, -1, sets, CutSearch.MOST_ABOVE).without();
      for (int i = 0; i < sets.size(); i++) {
        Set<Integer> without = new HashSet<>();
        for (int k = 0; k < sets.get(i).size(); k++) {
          without.add(sets.get(i).get(k));
        }
        Set<Integer> plain = reachedWithout(s, without);
        for (int k = 0; k < asked.size(); k++) {
          assertThat((reached[k] >>> i & 1) == 1)
              .as("seed %d, set %d, object %s", seed, i, s.id(asked.get(k)))
              .isEqualTo(plain.contains(asked.get(k)));
        }
      }
    }
  }

  /**
   * Crates on lists, each list in a static field of its own: which lists a crate is on is drawn at
   * random, and what is named must be the fewest lists that free nine tenths.
   */
  @ParameterizedTest
  @ValueSource(longs = {1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11, 12})
  void theFewestHoldersAreFound(long seed) throws Exception {
    Random random = new Random(seed);
    int lists = 4;
    int crates = 40;
    List<List<Long>> onList = new ArrayList<>();
    for (int l = 0; l < lists; l++) {
      onList.add(new ArrayList<>());
    }
    int sides = 1 + random.nextInt(3);
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
            .type(0x1300, "harbour.Crate", 0x1000, Map.of(), "number:10");
    Map<String, Object> fields = new java.util.LinkedHashMap<>();
    for (int l = 0; l < lists; l++) {
      fields.put("LIST" + l, 0x2000L + l * 0x1000);
    }
    Map<String, Long> statics = new java.util.LinkedHashMap<>();
    fields.forEach((name, id) -> statics.put(name, (Long) id));
    b = b.type(0x1400, "harbour.Quay", 0x1000, statics);
    for (int c = 0; c < crates; c++) {
      long id = 0x10_0000L + c * 0x20;
      b = b.instance(id, 0x1300, c);
      // every crate is on the first so many lists; a few are on the last one too
      for (int l = 0; l < sides; l++) {
        onList.get(l).add(id);
      }
      if (c < 2) {
        onList.get(lists - 1).add(id);
      }
    }
    for (int l = 0; l < lists; l++) {
      long[] elements = onList.get(l).stream().mapToLong(Long::longValue).toArray();
      b = b.array(0x2000L + l * 0x1000, 0x1200, elements);
    }
    try (Snapshot s = open(b.root(STICKY, 0x1400).build())) {
      IntList asked = new IntList();
      for (int c = 0; c < crates; c++) {
        asked.add(s.nodeOf(0x10_0000L + c * 0x20));
      }
      Holding holding = new HolderSearch(s, new Ownership(s, TypeFilter.ALL)).search(asked);
      List<String> wanted = new ArrayList<>();
      for (int l = 0; l < sides; l++) {
        wanted.add("static harbour.Quay.LIST" + l);
      }
      assertThat(holding.places())
          .as(holding.toString())
          .extracting(Holding.Place::text)
          .containsExactlyInAnyOrderElementsOf(wanted);
      assertThat(holding.freedShare()).isBetween(0.9, 1.0);
    }
  }

  @Test
  void objectsThatAreRootsAreHeldByNothingElse() throws Exception {
    HprofBuilder b =
        new HprofBuilder(8)
            .type(0x1000, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", 0x1000, Map.of())
            .type(0x1300, "harbour.Crate", 0x1000, Map.of(), "number:10");
    for (int c = 0; c < 5; c++) {
      b = b.instance(0x10_0000L + c * 0x20, 0x1300, c).root(0x01, 0x10_0000L + c * 0x20);
    }
    try (Snapshot s = open(b.build())) {
      IntList asked = new IntList();
      for (int c = 0; c < 5; c++) {
        asked.add(s.nodeOf(0x10_0000L + c * 0x20));
      }
      Holding holding = new HolderSearch(s, new Ownership(s, TypeFilter.ALL)).search(asked);
      assertThat(holding.roots()).isTrue();
      assertThat(holding.text()).isEqualTo("JNI global");
    }
  }
}
