package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * What grows is in a tree of a library whose nodes have their children in arrays, and which becomes
 * deeper: how deep a thing stands must not matter.
 */
class TreeGrowthTest {
  private static final int STICKY = 0x05;
  private static final int OBJECT = 0x1000;
  private static final int ARRAY = 0x1200;
  private static final int NODE = 0x1300;
  private static final int LEAF = 0x1340;
  private static final int CRATE = 0x1380;
  private static final int TABLE = 0x13c0;
  private static final int FANOUT = 4;
  private static final int APART = 0x40;

  @TempDir Path folder;
  private final List<Snapshot> opened = new ArrayList<>();
  private long next;
  private HprofBuilder dump;

  @AfterEach
  void close() throws Exception {
    for (Snapshot snapshot : opened) {
      snapshot.close();
    }
  }

  private long id() {
    next += APART;
    return next;
  }

  private void begin(long top) {
    next = 0x20_0000;
    dump =
        new HprofBuilder(8)
            .type(OBJECT, "java.lang.Object", 0, Map.of())
            .type(0x1100, "java.lang.Class", OBJECT, Map.of())
            .type(ARRAY, "[Ljava.lang.Object;", OBJECT, Map.of())
            .type(NODE, "scala.trees.Tree$Node", OBJECT, Map.of(), "slots:2")
            .type(LEAF, "scala.trees.Tree$Leaf", OBJECT, Map.of(), "value:2")
            .type(CRATE, "harbour.Crate", OBJECT, Map.of(), "number:10")
            .type(TABLE, "scala.trees.Table", OBJECT, Map.of(), "entries:2")
            .type(0x1500, "harbour.Port", OBJECT, Map.of("CRATES", top))
            .root(STICKY, 0x1500);
  }

  private Snapshot end() throws Exception {
    Path file = folder.resolve("t" + opened.size() + ".hprof");
    Files.write(file, dump.build());
    opened.add(
        Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE));
    return opened.get(opened.size() - 1);
  }

  private long crate(int number) {
    long crate = id();
    dump.instance(crate, CRATE, number);
    return crate;
  }

  /** A node with all of some crates: by themselves, in leaves, or in nodes below it. */
  private long node(long id, List<Integer> crates, Random random) {
    List<List<Integer>> parts = new ArrayList<>();
    for (int i = 0; i < FANOUT; i++) {
      parts.add(new ArrayList<>());
    }
    for (int crate : crates) {
      parts.get(random.nextInt(FANOUT)).add(crate);
    }
    List<Long> slots = new ArrayList<>();
    for (List<Integer> part : parts) {
      if (part.size() > 1) {
        slots.add(node(id(), part, random));
      } else if (part.size() == 1 && random.nextBoolean()) {
        slots.add(crate(part.get(0)));
      } else if (part.size() == 1) {
        long leaf = id();
        dump.instance(leaf, LEAF, crate(part.get(0)));
        slots.add(leaf);
      }
    }
    long array = id();
    dump.array(array, ARRAY, slots.stream().mapToLong(Long::longValue).toArray());
    dump.instance(id, NODE, array);
    return id;
  }

  private static List<Integer> numbers(int count) {
    List<Integer> numbers = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      numbers.add(i);
    }
    return numbers;
  }

  private Finding only(List<Snapshot> series) throws Exception {
    GrowthAnswer answer =
        GrowthQuestion.ask(series, new GrowthQuestion.Options(TypeFilter.ALL, List.of()));
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
    return answer.findings().get(0);
  }

  @ParameterizedTest
  @ValueSource(ints = {1, 2, 3, 4, 5, 6})
  void allThatIsInATreeIsCounted(int seed) throws Exception {
    Random random = new Random(seed);
    List<Snapshot> series = new ArrayList<>();
    List<Long> counts = new ArrayList<>();
    for (int round = 1; round <= 4; round++) {
      int count = round * (400 + random.nextInt(20));
      begin(0x10_0000);
      node(0x10_0000, numbers(count), random);
      series.add(end());
      counts.add((long) count);
    }
    Finding finding = only(series);
    assertThat(finding.what()).isEqualTo("harbour.Crate");
    assertThat(finding.heldBy()).isEqualTo("static harbour.Port.CRATES");
    assertThat(finding.counts()).isEqualTo(counts);
    assertThat(finding.freedShare()).isEqualTo(1);
    // objects stand so far from each other
    assertThat(finding.bytes()).isEqualTo(counts.stream().map(count -> count * APART).toList());
  }

  /** The tables are as many in each snapshot; that they are in each other makes no chain grow. */
  @Test
  void whatGrowsInTablesWithinTablesIsFound() throws Exception {
    List<Snapshot> series = new ArrayList<>();
    for (int round = 1; round <= 4; round++) {
      begin(0x10_0000);
      long table = 0x10_0000;
      for (int depth = 0; depth < 6; depth++) {
        long entries = id();
        dump.instance(table, TABLE, entries);
        table = id();
        dump.array(entries, ARRAY, table);
      }
      long crates = id();
      dump.instance(table, TABLE, crates);
      dump.array(crates, ARRAY, numbers(round * 500).stream().mapToLong(this::crate).toArray());
      series.add(end());
    }
    Finding finding = only(series);
    assertThat(finding.what()).isEqualTo("harbour.Crate");
    assertThat(finding.counts()).containsExactly(500L, 1000L, 1500L, 2000L);
    assertThat(finding.heldBy()).isEqualTo("static harbour.Port.CRATES");
  }
}
