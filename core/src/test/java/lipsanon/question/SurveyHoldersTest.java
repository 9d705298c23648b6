package lipsanon.question;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lipsanon.array.IntList;
import lipsanon.change.YardJvm;
import lipsanon.format.hprof.HprofBuilder;
import lipsanon.format.hprof.LiveJvm;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.select.Selections;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/**
 * One snapshot of a running program that leaks: the first finding says what piles up, how many, and
 * what holds it.
 */
class SurveyHoldersTest {
  private static final int STICKY = 0x05;
  private static final int JNI_LOCAL = 0x02;
  private static final int MONITOR = 0x07;

  @TempDir Path folder;

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      quoteCharacter = '"',
      value = {
        "ScheduledTasks | 6000 | leakyard.ScheduledTasks$Reminder | 6000"
            + " | static leakyard.ScheduledTasks.REMINDERS",
        "ManySmallLists | 9000 | leakyard.ManySmallLists$Entry | 9000"
            + " | leakyard.ManySmallLists$Office.log",
        "LinkedLedger | 1500 | leakyard.LinkedLedger$Line | 12000"
            + " | leakyard.LinkedLedger$Ledger.last",
        "WrappedValues | 8000 | leakyard.WrappedValues$Tide | 8000"
            + " | static leakyard.WrappedValues.TIDES",
        "ThreadsOwnMap | 9000 | leakyard.ThreadsOwnMap$Gust | 9000"
            + " | local variable in leakyard.ThreadsOwnMap.write",
        "ValueHoldsKey | 4000 | leakyard.ValueHoldsKey$Papers | 4000"
            + " | leakyard.ValueHoldsKey.papers",
        "CancelledTimers | 4000 | leakyard.CancelledTimers$Reminder | 4000"
            + " | static leakyard.CancelledTimers.TIMER",
        "Listener | 3000 | leakyard.Listener$Watch | 6000 | leakyard.Listener$Beacon.watchers",
        "Interned | 800 | java.lang.String | 20000 | static leakyard.Interned.NAMES",
        "DeletedOnExit | 15000 | java.lang.String | 15000"
            + " | static java.io.DeleteOnExitHook.files",
        "KeptLoggers | 6000 | java.util.logging.Logger | 6000"
            + " | static leakyard.KeptLoggers.LOGGERS",
        "PlatformBeans | 4000 | leakyard.PlatformBeans$Buoy | 4000"
            + " | static java.lang.management.ManagementFactory.platformMBeanServer",
        "GrownBuffer | 60000 | byte[] | 1 | leakyard.GrownBuffer$Log.text",
        "SortedNames | 6000 | java.lang.String | 6000 | static leakyard.SortedNames.NAMES",
        "TreeAndPlace | 6000 | leakyard.TreeAndPlace$Branch | 121"
            + " | static variables of class leakyard.TreeAndPlace",
        "ThreadPerAction | 150 | leakyard.ThreadPerAction$Watch | 150"
            + " | running threads in leakyard.ThreadPerAction$Watch.run",
        "LinkedLedger | 375 | leakyard.LinkedLedger$Line | 3000"
            + " | leakyard.LinkedLedger$Ledger.last",
        "library.Crates | 6000 | leakyard.library.Crates$Crate | 6000"
            + " | leakyard.library.Crates$Yard.byName",
        "library.Register | 6000 | org.h2.result.DefaultRow | 6003"
            + " | leakyard.library.Register$Desk.entry",
        "library.Made | 2000 | class leakyard.library.Mould… | 2000"
            + " | leakyard.library.Made$Foundry.moulds",
        "library.Berthing | 2000 | leakyard.library.Berthing$Request | 6000"
            + " | leakyard.library.Berthing$Pilots.waiting",
        "library.Backlog | 2000 | leakyard.library.Backlog$Signal | 6000"
            + " | leakyard.library.Backlog$Mast.signals",
        "TwoBells | 6000 | leakyard.TwoBells$Ring | 6000 | static leakyard.TwoBells.BELLS",
        "TwoOffices | 4000 | leakyard.TwoOffices$Letter | 4000" + " | static leakyard.TwoOffices$",
        "TailChain | 3000 | leakyard.TailChain$Entry | 12000 | leakyard.TailChain$Journal.first"
      })
  void theFirstFindingNamesWhatHolds(
      String program, int actions, String what, long count, String holder) throws Exception {
    Finding first = first(program, actions);
    assertThat(first.heldBy()).as(first.toString()).startsWith(holder);
    // a database has three rows of its own;
    // the next task of a timer is its thread's as well, and the last link of a chain its tail's
    assertThat(first.what()).as(first.sentence()).isEqualTo(what);
    assertThat(first.counts()).as(first.sentence()).containsExactly(count);
    String number = count == 1 ? "One" : String.format("%,d", count);
    assertThat(first.sentence()).contains(number).contains(holder);
  }

  /** Nothing of the program's own is in these threads: they are told by their names. */
  @Test
  void threadsOfOnePoolAreToldTogether() throws Exception {
    Finding first = first("PooledBuffers", 1);
    assertThat(first.sentence()).startsWith("60 threads called \"pump-#\" keep ");
    assertThat(first.what()).isEqualTo("java.lang.Thread");
    assertThat(first.counts()).containsExactly(60L);
    assertThat(first.bytes().get(0)).isBetween(60L * 60_000, 60L * 64_000);
    assertThat(first.heldBy())
        .isEqualTo("running threads called \"pump-#\" and leakyard.PooledBuffers.pumps");
  }

  /** What many of them wait with is told by what they run: mostly they have no name. */
  @Test
  void virtualThreadsAreToldByWhatTheyRun() throws Exception {
    Path home = LiveJvm.installed(25);
    assumeTrue(home != null, "no JDK 25 here");
    Path file = folder.resolve("moorings.hprof");
    try (YardJvm jvm = new YardJvm(home, "Moorings")) {
      jvm.act(2_000);
      jvm.dump(file);
    }
    Finding first = findings(file, new TypeFilter(null, List.of("leakyard"), false)).get(0);
    assertThat(first.sentence()).startsWith("2,000 leakyard.Moorings$").doesNotContain("\"\"");
    assertThat(first.heldBy()).startsWith("running virtual threads in leakyard.Moorings");
    assertThat(first.counts()).containsExactly(2_000L);
  }

  /** What a runtime brings along is nothing to look into, however small the heap. */
  @Test
  void aProgramThatKeepsNothingHasNoFinding() throws Exception {
    assertThat(findings("Churn", 200)).isEmpty();
  }

  /** What waits is not held by anybody's field: the thread that should let go is told. */
  @ParameterizedTest
  @CsvSource("StuckFinalizer, 7000")
  void aStuckFinalizerIsNamedWithItsLine(String program, int actions) throws Exception {
    Finding first = first(program, actions);
    assertThat(first.what()).isEqualTo("leakyard.StuckFinalizer$Lease");
    assertThat(first.counts().get(0)).isBetween((long) actions - 2, (long) actions);
    assertThat(first.sentence())
        .contains("only wait for their finalizers")
        .contains("leakyard.StuckFinalizer$Lease.finalize (StuckFinalizer.java:");
  }

  /** A third of the heap in lists of three each is as much of a finding as one long list. */
  @Test
  void manySmallListsBelowHalfOfTheHeap() throws Exception {
    Finding first = first("ManySmallLists", 500);
    assertThat(first.what()).isEqualTo("leakyard.ManySmallLists$Entry");
    assertThat(first.counts()).containsExactly(500L);
    assertThat(first.heldBy()).isEqualTo("leakyard.ManySmallLists$Office.log");
    assertThat(Integer.parseInt(first.sentence().replaceAll(".*\\((\\d+) % of the heap.*", "$1")))
        .as(first.sentence())
        .isBetween(10, 49);
  }

  /** A quay, whose variable of all crates is at a known place, and crates; none of them yet. */
  private static HprofBuilder quay() {
    return new HprofBuilder(8)
        .type(0x1000, "java.lang.Object", 0, Map.of())
        .type(0x1100, "java.lang.Class", 0x1000, Map.of())
        .type(0x1200, "[Ljava.lang.Object;", 0x1000, Map.of())
        .type(0x1300, "harbour.Quay", 0x1000, Map.of("CRATES", 0x20_0000L))
        .type(0x1400, "harbour.Crate", 0x1000, Map.of(), "number:11")
        .root(STICKY, 0x1300);
  }

  /** A table in segments, each of which is large enough for a finding of its own. */
  @Test
  void theSegmentsOfATableAreOneFinding() throws Exception {
    HprofBuilder b = quay().array(0x20_0000, 0x1200, 0x30_0000, 0x38_0000, 0x40_0000, 0x48_0000);
    for (int segment = 0; segment < 4; segment++) {
      long[] crates = new long[500];
      for (int i = 0; i < crates.length; i++) {
        crates[i] = 0x50_0000 + (segment * 500 + i) * 0x20L;
        b.instance(crates[i], 0x1400, i);
      }
      b.array(0x30_0000 + segment * 0x8_0000L, 0x1200, crates);
    }
    Path file = folder.resolve("segments.hprof");
    Files.write(file, b.build());
    List<Finding> findings = findings(file, TypeFilter.ALL);
    assertThat(findings).as(findings.toString()).hasSize(1);
    assertThat(findings.get(0).counts()).containsExactly(2000L);
    assertThat(findings.get(0).heldBy()).isEqualTo("static harbour.Quay.CRATES");
  }

  /** Of very many boxes one has nearly all: that one is told, not the boxes. */
  @Test
  void oneLargeObjectAmongSmallOnesIsNoPile() throws Exception {
    HprofBuilder b =
        quay()
            .type(0x1500, "harbour.Box", 0x1000, Map.of(), "content:2")
            .bytes(0x70_0000, new byte[400_000]);
    long[] boxes = new long[300];
    for (int i = 0; i < boxes.length; i++) {
      boxes[i] = 0x40_0000 + i * 0x20L;
      b.instance(boxes[i], 0x1500, i == 7 ? 0x70_0000L : 0L);
    }
    b.array(0x20_0000, 0x1200, boxes);
    Path file = folder.resolve("boxes.hprof");
    Files.write(file, b.build());
    List<Finding> findings = findings(file, TypeFilter.ALL);
    assertThat(findings).as(findings.toString()).hasSize(1);
    assertThat(findings.get(0).sentence()).startsWith("One byte[] alone takes 400.0 kB");
    assertThat(findings.get(0).heldBy()).isEqualTo("harbour.Box.content");
  }

  /**
   * Native code has the list's array in hand at the moment, or a thread waits for it: what keeps it
   * is another matter.
   */
  @ParameterizedTest
  @ValueSource(ints = {JNI_LOCAL, MONITOR})
  void whatHasAnObjectInHandIsNoHolder(int kind) throws Exception {
    HprofBuilder b =
        quay()
            .type(0x1500, "java.util.ArrayList", 0x1000, Map.of(), "elementData:2")
            .root(kind, 0x30_0000, kind == JNI_LOCAL ? new int[] {99, 0} : new int[0])
            .instance(0x20_0000, 0x1500, 0x30_0000);
    long[] crates = new long[2000];
    for (int i = 0; i < crates.length; i++) {
      crates[i] = 0x40_0000 + i * 0x20L;
      b.instance(crates[i], 0x1400, i);
    }
    b.array(0x30_0000, 0x1200, crates);
    Path file = folder.resolve("handle.hprof");
    Files.write(file, b.build());
    Finding first = findings(file, TypeFilter.ALL).get(0);
    assertThat(first.what()).isEqualTo("harbour.Crate");
    assertThat(first.counts()).containsExactly(2000L);
    assertThat(first.heldBy()).isEqualTo("static harbour.Quay.CRATES");
    assertThat(first.steps().get(0).via()).as(first.toString()).isNotEmpty();
  }

  /** Classes are no objects of a type of the user's own. */
  @Test
  void veryManyClassesOfAFamilyAreTold() throws Exception {
    Finding first = first("Patched", 1_200);
    assertThat(first.what()).isEqualTo("class leakyard.Patched$Rule…");
    // a few others are in the same list
    assertThat(first.counts().get(0)).isBetween(1_201L, 1_210L);
    assertThat(first.heldBy())
        .isEqualTo("class loader jdk.internal.loader.ClassLoaders$AppClassLoader");
  }

  /** Each has a loader of its own, and one shell lists all. */
  @Test
  void manyClassesThatTakeMuchOfTheHeapAreTold() throws Exception {
    Finding first = first("library.Tariffs", 400);
    assertThat(first.what()).isEqualTo("class Script…");
    assertThat(first.counts()).containsExactly(400L);
    assertThat(first.heldBy()).isEqualTo("static leakyard.library.Tariffs.shell");
    assertThat(first.steps().get(0).via()).isEqualTo("static leakyard.library.Tariffs.shell");
  }

  /** What soft references alone keep goes before memory runs out. */
  @Test
  void copiesOfCodeThatAreKeptSoftlyAreNoReload() throws Exception {
    assertThat(findings("Described", 40)).isEmpty();
  }

  private Finding first(String program, int actions) throws Exception {
    List<Finding> findings = findings(program, actions);
    assertThat(findings).as(program).isNotEmpty();
    return findings.get(0);
  }

  private List<Finding> findings(String program, int actions) throws Exception {
    Path file = folder.resolve(program + ".hprof");
    try (YardJvm jvm = new YardJvm(program)) {
      jvm.act(actions);
      jvm.dump(file);
    }
    return findings(file, new TypeFilter(null, List.of("leakyard"), false));
  }

  private List<Finding> findings(Path file, TypeFilter mine) throws Exception {
    Snapshots.Options options = new Snapshots.Options(null, folder, false, 1L << 30);
    try (Snapshot snapshot = Snapshots.open(file, options, Progress.NONE)) {
      List<Finding> findings = SurveyQuestion.ask(snapshot, mine, 10).findings();
      for (Finding finding : findings) {
        // the yard's program is a variable of its main thread: what is in it is found already
        boolean again = finding.bytes().get(0) < 2 * findings.get(0).bytes().get(0);
        assertThat(again && finding.sentence().startsWith("Thread \"main\"")).isFalse();
        // answers suggest to ask on by that name
        IntList named = Selections.named(snapshot, finding.what());
        assertThat(named).as(finding.what()).isNotNull();
        assertThat((long) named.size())
            .as(finding.what())
            .isGreaterThanOrEqualTo(finding.counts().get(0) / 2);
      }
      return findings;
    }
  }
}
