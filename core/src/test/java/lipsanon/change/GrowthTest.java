package lipsanon.change;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import lipsanon.format.hprof.LiveJvm;
import lipsanon.holder.Finding;
import lipsanon.index.Snapshot;
import lipsanon.io.Progress;
import lipsanon.label.TypeFilter;
import lipsanon.snapshot.Snapshots;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;

/** Small live programs with a known culprit, or with none. */
class GrowthTest {
  private static final int TIMES = 7;
  private static final int ROUNDS = 3;
  private static final int LONG = 3 * ROUNDS * TIMES;

  @TempDir Path folder;

  @ParameterizedTest
  @CsvSource({
    "StaticList, static leakyard.StaticList.LIT, leakyard.StaticList$Lantern",
    "Listener, leakyard.Listener$Beacon.watchers, leakyard.Listener$Watch",
    "PooledThreadLocal, static leakyard.PooledThreadLocal.NOTES, byte[]",
    "Reload, static leakyard.Reload.REGISTRY, leakyard.Reload$Plugin",
    "UnboundedCache, static leakyard.UnboundedCache.CACHE, java.lang.String",
    "KeyWithoutEquals, leakyard.KeyWithoutEquals.occupied, leakyard.KeyWithoutEquals$Berth",
    "CancelledTimers, static leakyard.CancelledTimers.TIMER, leakyard.CancelledTimers$Reminder",
    "Capture, static leakyard.Capture.HOOKS, leakyard.Capture$Voyage$$Lambda",
    "Remembered, static leakyard.Remembered.CREW, leakyard.Remembered$Sailor",
    "Lent, leakyard.Lent$$Lambda.arg$1, leakyard.Lent$Toll",
    "CommonPool, static java.util.concurrent.ForkJoinPool.common, leakyard.CommonPool$$Lambda",
    "KeptByClass, static leakyard.KeptByClass.NOTES, leakyard.KeptByClass$Note",
    "ValueHoldsKey, leakyard.ValueHoldsKey.papers, leakyard.ValueHoldsKey$Papers",
    "SlowConsumer, leakyard.SlowConsumer.quay, leakyard.SlowConsumer$Crate",
    "TailChain, leakyard.TailChain$Journal.first, leakyard.TailChain$Entry",
    "TwoSides, static leakyard.TwoSides.ARRIVALS and static leakyard.TwoSides.BY_NUMBER, leakyard.TwoSides$Cargo",
    "Interned, static leakyard.Interned.NAMES, java.lang.String",
    "HugeArray, static leakyard.HugeArray.ledger, byte[]",
    "OffHeapBuffers, static leakyard.OffHeapBuffers.BUFFERS, java.nio.DirectByteBuffer",
    "ShrinkNever, leakyard.ShrinkNever$LaunchPool.all, leakyard.ShrinkNever$Launch",
    "Counters, leakyard.Counters$Office.services and leakyard.Counters$Guard.services, leakyard.Counters$Manifest",
    "Drafts, leakyard.Drafts.draft, leakyard.Drafts$Draft",
    "LocalOfCopies, static leakyard.LocalOfCopies$Tide.LEVELS, leakyard.LocalOfCopies$Tide",
    "Workers, running threads called \"pool-#-thread-#\" and static leakyard.Workers.DESKS, java.lang.Thread",
    "Reminders, static leakyard.Reminders.TIMERS and others, leakyard.Reminders$Reminder",
    "Patched, class loader jdk.internal.loader.ClassLoaders$AppClassLoader, class leakyard.Patched$Rule"
  })
  void namesTheHolder(String program, String holder, String what) throws Exception {
    GrowthAnswer answer = grow(program);
    assertThat(answer.verdict()).as(answer.toString()).isEqualTo("growth");
    Finding first = answer.findings().get(0);
    assertThat(first.heldBy()).as(answer.toString()).isEqualTo(holder);
    assertThat(first.what()).as(answer.toString()).startsWith(what);
    assertThat(first.confidence()).isGreaterThan(0.6);
    assertThat(first.steps()).isNotEmpty();
  }

  /** Such classes are in no list, and in no dominator tree. */
  @Test
  void hiddenClassesAreToldByTheirLoader() throws Exception {
    GrowthAnswer answer = grow("Hidden");
    assertThat(answer.verdict()).as(answer.toString()).isEqualTo("growth");
    Finding first = answer.findings().get(0);
    assertThat(first.what()).isEqualTo("class leakyard.Hidden$Rule…");
    assertThat(first.heldBy())
        .isEqualTo("class loader jdk.internal.loader.ClassLoaders$AppClassLoader");
    assertThat(first.counts()).containsExactly(14L, 21L, 28L, 35L, 98L);
    assertThat(first.countPerAction()).isEqualTo(1);
  }

  /** What is in the runtime's tables for such classes follows from them. */
  @Test
  void whatIsKeptSoftlyIsNoFinding() throws Exception {
    GrowthAnswer answer = grow("Described");
    assertThat(answer.findings()).as(answer.toString()).isEmpty();
    assertThat(answer.setAside())
        .as(answer.toString())
        .anyMatch(aside -> aside.why().equals(SelfClearing.SOFT));
    assertThat(answer.setAside())
        .as(answer.toString())
        .anyMatch(aside -> aside.why().equals(SelfClearing.KEYED));
  }

  /** Entries that are called by what is in them are counted by it. */
  @Test
  void whatListsHoldIsCountedNotTheLists() throws Exception {
    Finding first = grow("NewSmallLists").findings().get(0);
    assertThat(first.what()).isEqualTo("leakyard.NewSmallLists$Call");
    assertThat(first.heldBy()).isEqualTo("leakyard.NewSmallLists.byVessel");
    List<Long> expected = new ArrayList<>();
    for (int actions : new int[] {2, 3, 4, 5, 5 + LONG / TIMES}) {
      expected.add(5L * actions * TIMES);
    }
    assertThat(first.counts()).isEqualTo(expected);
    assertThat(first.countPerAction()).isEqualTo(5);
    assertThat(first.sentence()).contains("exactly 5 with every action");
  }

  /** What threads keep is no root: the threads are. */
  @Test
  void threadsThatNobodyEndsHoldWhatTheyWorkOn() throws Exception {
    Finding first = grow("ThreadPerAction").findings().get(0);
    assertThat(first.what()).isEqualTo("leakyard.ThreadPerAction$Watch");
    assertThat(first.countPerAction()).isEqualTo(1);
    assertThat(first.sentence())
        .contains(", held by running threads in leakyard.ThreadPerAction$Watch.run (")
        .doesNotContain("is a root itself");
  }

  /** Each of a table's sorts of things has a number of its own. */
  @Test
  void whatPilesUpAmongOtherThingsIsCountedAlone() throws Exception {
    GrowthAnswer answer = grow("Counters");
    assertThat(answer.findings().get(0).counts()).containsExactly(14L, 21L, 28L, 35L, 98L);
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
  }

  /** There is no more of what only changed hands, though there is of its type. */
  @Test
  void whatChangesHandsDoesNotGrow() throws Exception {
    GrowthAnswer answer = grow("Moved");
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
    assertThat(answer.findings().get(0).heldBy()).isEqualTo("static leakyard.Moved.CALLS");
    assertThat(answer.setAside())
        .as(answer.toString())
        .anyMatch(aside -> aside.why().startsWith("only moved here"));
  }

  @Test
  void aPoolThatFillsIsNoLeak() throws Exception {
    GrowthAnswer answer = grow("FillingPool");
    assertThat(answer.findings()).as(answer.toString()).isEmpty();
    assertThat(answer.setAside())
        .anyMatch(
            aside ->
                aside
                    .why()
                    .equals(
                        "threads of a pool that fills: 98 of at most 300 so far, and they wait for"
                            + " work"));
  }

  @Test
  void threadsThatAPoolHasLostAreALeak() throws Exception {
    Finding first = grow("StuckInPool").findings().get(0);
    assertThat(first.heldBy()).startsWith("running threads in leakyard.StuckInPool.");
    assertThat(first.countPerAction()).isEqualTo(1);
  }

  /** There an entry of a class's values is no weak reference any more, but has one. */
  @Test
  void valuesThatClassesKeepAreToldOnJdk25Too() throws Exception {
    Path home = LiveJvm.installed(25);
    assumeTrue(home != null, "no JDK 25 here");
    Finding first = grow(home, "KeptByClass").findings().get(0);
    assertThat(first.what()).isEqualTo("leakyard.KeptByClass$Note");
    assertThat(first.heldBy()).isEqualTo("static leakyard.KeptByClass.NOTES");
  }

  @Test
  void whatSeveralEntriesShareIsCountedOnce() throws Exception {
    GrowthAnswer answer = grow("Carbons");
    assertThat(answer.findings()).as(answer.toString()).hasSize(1);
    Finding first = answer.findings().get(0);
    assertThat(first.what()).isEqualTo("leakyard.Carbons$Letter");
    assertThat(first.heldBy()).isEqualTo("static leakyard.Carbons.FILED");
    assertThat(first.countPerAction()).as(first.sentence()).isEqualTo(1);
  }

  /** The runtime has a table of virtual threads, which lets go of each when it ends. */
  @Test
  void aTableOfVirtualThreadsIsNoSecondFinding() throws Exception {
    Path home = LiveJvm.installed(25);
    assumeTrue(home != null, "no JDK 25 here");
    GrowthAnswer answer = grow(home, "Moorings");
    Finding first = answer.findings().get(0);
    assertThat(first.heldBy()).startsWith("running virtual threads in leakyard.Moorings.");
    assertThat(first.countPerAction()).isEqualTo(1);
    assertThat(answer.findings())
        .as(answer.toString())
        .noneMatch(finding -> finding.heldBy().contains("VTHREADS"));
    assertThat(answer.setAside())
        .anyMatch(
            aside ->
                aside.heldBy().contains("VTHREADS")
                    && aside.why().equals("only lists what a finding is about"));
  }

  @ParameterizedTest
  @ValueSource(strings = {"BoundedCache", "Churn", "WarmUp", "Sawtooth", "HitCache"})
  void findsNothingInHealthyPrograms(String program) throws Exception {
    GrowthAnswer answer = grow(program);
    assertThat(answer.findings()).as(answer.toString()).isEmpty();
    assertThat(answer.verdict()).isEqualTo("none");
  }

  private GrowthAnswer grow(String program) throws Exception {
    return grow(Path.of(System.getProperty("java.home")), program);
  }

  private GrowthAnswer grow(Path home, String program) throws Exception {
    List<Snapshot> series = new ArrayList<>();
    try (YardJvm jvm = new YardJvm(home, program)) {
      jvm.act(2 * TIMES);
      for (int round = 0; round <= ROUNDS + 1; round++) {
        // the last round is a test of what the others showed
        jvm.act(round == 0 ? 0 : round <= ROUNDS ? TIMES : LONG);
        Path file = folder.resolve(round + ".hprof");
        jvm.dump(file);
        Snapshots.Options options = new Snapshots.Options(null, folder, true, 1L << 30);
        series.add(Snapshots.open(file, options, Progress.NONE));
      }
      return GrowthQuestion.ask(
          series, new GrowthQuestion.Options(TypeFilter.ALL, List.of(TIMES, TIMES, TIMES, LONG)));
    } finally {
      for (Snapshot snapshot : series) {
        snapshot.close();
      }
    }
  }
}
