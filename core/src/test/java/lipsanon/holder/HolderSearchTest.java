package lipsanon.holder;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.Ownership;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

/** Sets that hang on an array only by what lies between. */
class HolderSearchTest {
  private static final int STICKY = 0x05;
  private static final int CRATES = 40;

  @TempDir Path folder;

  private static HprofBuilder types() {
    return new HprofBuilder(8)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of())
        .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
        .type(0x1300, "harbour.Crate", 0x1000, Map.of(), "number:10")
        .type(0x1340, "harbour.Quay", 0x1000, Map.of(), "crates:2")
        .type(0x1380, "harbour.Barge", 0x1000, Map.of(), "load:2");
  }

  private static long crate(int number) {
    return 0x10_0000L + number * 0x20;
  }

  private static HprofBuilder crates(HprofBuilder b) {
    HprofBuilder all = b;
    for (int c = 0; c < CRATES; c++) {
      all = all.instance(crate(c), 0x1300, c);
    }
    return all;
  }

  private static long[] allCrates() {
    long[] ids = new long[CRATES];
    for (int c = 0; c < CRATES; c++) {
      ids[c] = crate(c);
    }
    return ids;
  }

  private Holding search(HprofBuilder dump) throws Exception {
    return search(dump, TypeFilter.ALL);
  }

  private Holding search(HprofBuilder dump, TypeFilter mine) throws Exception {
    Path file = Files.write(folder.resolve("port.hprof"), dump.build());
    try (Snapshot s =
        Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE)) {
      IntList asked = new IntList();
      for (long id : allCrates()) {
        asked.add(s.nodeOf(id));
      }
      return new HolderSearch(s, new Ownership(s, mine)).search(asked);
    }
  }

  @Test
  void anArrayAboveIsNoContainerOfWhatItDoesNotReferTo() throws Exception {
    HprofBuilder b =
        crates(types())
            .type(0x1400, "harbour.Port", 0x1000, Map.of("PLACES", 0x2000L))
            .root(STICKY, 0x1400)
            .array(0x2000, 0x1200, 0x2100L, 0x2200L)
            .instance(0x2100, 0x1340, 0x3000L)
            .instance(0x2200, 0x1380, 0x4000L)
            .array(0x3000, 0x1200, allCrates())
            .array(0x4000, 0x1200, allCrates());
    Holding holding = search(b);
    assertThat(holding.places())
        .as(holding.toString())
        .extracting(Holding.Place::text)
        .containsExactlyInAnyOrder("harbour.Quay.crates", "harbour.Barge.load");
    assertThat(holding.freedShare()).isEqualTo(1);
  }

  /** Each crate has a quay of its own, and all of them hang on variables of several classes. */
  @Test
  void aLoadersListOfClassesIsNoHolder() throws Exception {
    HprofBuilder b =
        crates(types())
            .type(0x1500, "harbour.Loader", 0x1000, Map.of(), "classes:2")
            .instance(0x2000, 0x1500, 0x2100L)
            .root(0x01, 0x2000);
    long[] classes = new long[CRATES];
    for (int c = 0; c < CRATES; c++) {
      classes[c] = 0x20_0000L + c * 0x40;
      long quay = 0x30_0000L + c * 0x20;
      b =
          b.type(classes[c], "harbour.Berth" + c, 0x1000, Map.of("quay", quay))
              .instance(quay, 0x1340, crate(c));
    }
    Holding holding = search(b.array(0x2100, 0x1200, classes));
    assertThat(holding.places()).as(holding.toString()).isEmpty();
  }

  /** Each crate is in two lists of the office, whose links are held by each other alone. */
  @Test
  void allFieldsOfOnesOwnObjectThatHoldTogetherAreNamed() throws Exception {
    HprofBuilder b =
        crates(types())
            .type(0x1400, "harbour.Port", 0x1000, Map.of("OFFICE", 0x2000L))
            .type(0x1440, "harbour.Office", 0x1000, Map.of(), "name:2", "waiting:2", "known:2")
            .type(0x1480, "java.util.Link", 0x1000, Map.of(), "next:2", "item:2")
            .root(STICKY, 0x1400)
            .instance(0x2000, 0x1440, 0L, link(0, 0), link(1, 0));
    for (int list = 0; list < 2; list++) {
      for (int c = 0; c < CRATES; c++) {
        b = b.instance(link(list, c), 0x1480, c + 1 < CRATES ? link(list, c + 1) : 0, crate(c));
      }
    }
    Holding holding = search(b);
    assertThat(holding.places())
        .as(holding.toString())
        .extracting(Holding.Place::text)
        .containsExactlyInAnyOrder("harbour.Office.waiting", "harbour.Office.known");
    assertThat(holding.places()).extracting(Holding.Place::freed).containsOnly(0L);
    assertThat(holding.freed()).isEqualTo(CRATES);
  }

  /** Links are asked about themselves; nine other lists of the same sort have one link each. */
  @Test
  void theListThatHasMostOfTheLinksIsNamed() throws Exception {
    HprofBuilder b =
        types()
            .type(0x1400, "harbour.Port", 0x1000, Map.of("OFFICE", 0x2000L))
            .type(0x1440, "harbour.Office", 0x1000, Map.of(), "waiting:2")
            .type(0x1480, "java.util.Link", 0x1000, Map.of(), "next:2", "before:2")
            .type(0x14c0, "java.util.Chain", 0x1000, Map.of(), "first:2", "last:2")
            // whoever else knows the list, so that nothing dominates its links
            .type(0x1500, "harbour.Clerk", 0x1000, Map.of("QUEUE", 0x2100L))
            .root(STICKY, 0x1400)
            .root(STICKY, 0x1500)
            .instance(0x2000, 0x1440, 0x2100L)
            .instance(0x2100, 0x14c0, link(0, 0), link(0, CRATES - 1));
    for (int c = 0; c < CRATES; c++) {
      long next = c + 1 < CRATES ? link(0, c + 1) : 0;
      b = b.instance(link(0, c), 0x1480, next, c > 0 ? link(0, c - 1) : 0);
    }
    int others = 9;
    for (int o = 0; o < others; o++) {
      long type = 0x1800L + o * 0x40;
      long chain = 0x3000L + o * 0x20;
      b =
          b.type(type, "harbour.Berth" + o, 0x1000, Map.of("QUEUE", chain))
              .root(STICKY, type)
              .instance(chain, 0x14c0, link(1, o), link(1, o))
              .instance(link(1, o), 0x1480, 0L, 0L);
    }
    Path file = Files.write(folder.resolve("lists.hprof"), b.build());
    try (Snapshot s =
        Snapshots.open(file, new Snapshots.Options(null, folder, true, 1L << 30), Progress.NONE)) {
      IntList asked = new IntList();
      for (int c = 0; c < CRATES; c++) {
        asked.add(s.nodeOf(link(0, c)));
      }
      for (int o = 0; o < others; o++) {
        asked.add(s.nodeOf(link(1, o)));
      }
      Holding holding =
          new HolderSearch(s, new Ownership(s, TypeFilter.ALL))
              .search(asked, asked.size(), CRATES / (double) (CRATES + others));
      assertThat(holding.text()).as(holding.toString()).isEqualTo("static harbour.Clerk.QUEUE");
      assertThat(holding.freed()).isEqualTo(CRATES);
    }
  }

  /** More tables of the runtime's have all crates than can be told apart. */
  private static HprofBuilder tables(HprofBuilder dump) {
    HprofBuilder b = dump;
    for (int t = 0; t < 6; t++) {
      long type = 0x1800L + t * 0x40;
      long table = 0x50_0000L + t * 0x1000L;
      b =
          b.type(type, "[Ljava.util.Sort" + t + ";", 0x1000, Map.of())
              .type(type + 0x20, "java.util.Table" + t, 0x1000, Map.of("ALL", table))
              .root(STICKY, type + 0x20)
              .array(table, type, allCrates());
    }
    return b;
  }

  /** A static variable has a list of some crates. */
  private static HprofBuilder listed(long... some) {
    return types()
        .type(0x1400, "harbour.Port", 0x1000, Map.of("LIST", 0x2000L))
        .root(STICKY, 0x1400)
        .array(0x2000, 0x1200, some);
  }

  @Test
  void onesOwnListIsNamedWhereTooManyOthersHoldTheSame() throws Exception {
    HprofBuilder own = listed(allCrates());
    Holding holding = search(tables(crates(own)));
    assertThat(holding.text()).isEqualTo("static harbour.Port.LIST and others");
    assertThat(holding.freed()).isZero();
    assertThat(holding.isAmongOthers()).isTrue();
    assertThat(search(tables(crates(types()))).places()).isEmpty();
  }

  @Test
  void aLibrarysListIsNamedWhereThereIsNoneOfOnesOwn() throws Exception {
    HprofBuilder library = listed(allCrates());
    TypeFilter mine = new TypeFilter(null, List.of("merrow"), false);
    Holding holding = search(tables(crates(library)), mine);
    assertThat(holding.text()).isEqualTo("static harbour.Port.LIST and others");
    assertThat(holding.whose()).isEqualTo(Ownership.Whose.LIBRARY);
  }

  @Test
  void aListOfSomeIsNotNamedForAll() throws Exception {
    HprofBuilder own = listed(Arrays.copyOf(allCrates(), CRATES * 3 / 4));
    assertThat(search(tables(crates(own))).places()).isEmpty();
  }

  /** What runs is a root; the list that leads to it is told as well. */
  @Test
  void onesOwnListOfRootsIsNamedAfterThem() throws Exception {
    HprofBuilder b =
        crates(types())
            .type(0x1400, "harbour.Port", 0x1000, Map.of("QUAYS", 0x2000L))
            .root(STICKY, 0x1400);
    long[] quays = new long[CRATES];
    for (int c = 0; c < CRATES; c++) {
      quays[c] = 0x30_0000L + c * 0x20;
      b = b.instance(quays[c], 0x1340, crate(c)).root(STICKY, crate(c));
    }
    Holding holding = search(b.array(0x2000, 0x1200, quays));
    assertThat(holding.roots()).isTrue();
    assertThat(holding.places())
        .extracting(Holding.Place::text)
        .containsExactly("system class", "static harbour.Port.QUAYS");
  }

  private static long link(int list, int number) {
    return 0x40_0000L + list * 0x10_0000L + number * 0x20L;
  }
}
